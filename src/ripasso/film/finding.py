"""A moved film is found again by its fingerprint: first by size, then by what is in it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import suppress
from pathlib import Path

from ripasso.core.json_data import JsonMapping
from ripasso.film.errors import FilmError
from ripasso.film.fingerprint import fingerprint

#: How many files are looked at, so that a folder of everything does not take for ever.
MOST_FILES = 5000


def find_film(wanted: JsonMapping, folders: Iterable[Path]) -> Path | None:
    """The film with a fingerprint (`size`, `duration`, `hash`) in some folders or the folders in them."""
    size, digest = wanted.get("size"), wanted.get("hash")
    if not size or not digest:
        return None
    for looked_at, path in enumerate(_files(folders)):
        if looked_at >= MOST_FILES:
            return None
        with suppress(OSError, FilmError):
            if path.stat().st_size == size and fingerprint(path, 0.0)["hash"] == digest:
                return path
    return None


def _files(folders: Iterable[Path]) -> Iterator[Path]:
    """The files of each folder, then those one level below; no folder twice."""
    seen: set[Path] = set()
    waiting = [folder for folder in folders if str(folder)]
    for level in (0, 1):
        below: list[Path] = []
        for folder in waiting:
            with suppress(OSError):
                real = folder.resolve()
                if real in seen or not real.is_dir():
                    continue
                seen.add(real)
                for path in sorted(real.iterdir()):
                    if path.is_dir():
                        below.append(path)
                    else:
                        yield path
        waiting = below if level == 0 else []
