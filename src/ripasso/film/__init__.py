"""Recordings: exact frames by number and time, read ahead by a worker; no window."""

from ripasso.film.decoding.index import FilmIndex, build_index
from ripasso.film.decoding.index_store import known_index
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.decoding.worker import FilmWorker, Picture
from ripasso.film.errors import FilmError
from ripasso.film.fingerprint import fingerprint

__all__ = [
    "FilmError",
    "FilmIndex",
    "FilmReader",
    "FilmWorker",
    "Picture",
    "build_index",
    "fingerprint",
    "known_index",
]
