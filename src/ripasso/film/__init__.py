"""Recordings: exact frames by number and time, read ahead by a worker; no window."""

from ripasso.film.errors import FilmError
from ripasso.film.fingerprint import fingerprint
from ripasso.film.index import FilmIndex, build_index
from ripasso.film.reader import FilmReader
from ripasso.film.worker import FilmWorker, Picture

__all__ = [
    "FilmError",
    "FilmIndex",
    "FilmReader",
    "FilmWorker",
    "Picture",
    "build_index",
    "fingerprint",
]
