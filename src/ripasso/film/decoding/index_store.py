"""Indexes of long films, kept in the user's cache folder: a known film of two hours opens at once."""

from __future__ import annotations

import hashlib
import os
import tempfile
from contextlib import suppress
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from zipfile import BadZipFile

import numpy as np

from ripasso.film.decoding.index import FilmIndex, build_index

#: The index of a film with fewer frames is made in a moment; so many indexes are kept; how they are written.
LEAST_FRAMES, KEPT, VERSION = 20_000, 200, 1


def cache_folder() -> Path:
    """Where indexes are kept: the platform's folder for what can be made anew."""
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "ripasso" / "films"


def known_index(path: Path, folder: Path | None = None, least: int = LEAST_FRAMES) -> FilmIndex:
    """The index of a film, from the folder where it was kept, else built and kept; raises `FilmError`.

    A film that was changed since is indexed anew; a folder that cannot be written is no harm.
    """
    place = None
    with suppress(OSError):
        place = (folder or cache_folder()) / _name(path)
        found = _read(place, path)
        if found is not None:
            return found
    index = build_index(path)
    if place is not None and len(index) >= least:
        with suppress(OSError):
            _write(place, index)
    return index


def _name(path: Path) -> str:
    """The file of a film's index: it hangs on where the film is, how large, and when it was written."""
    state = path.stat()
    said = f"{VERSION}|{path.resolve()}|{state.st_size}|{state.st_mtime_ns}"
    return f"{hashlib.blake2b(said.encode(), digest_size=16).hexdigest()}.npz"


def _read(place: Path, path: Path) -> FilmIndex | None:
    """What is kept at a place; None for anything that is no index."""
    if not place.is_file():
        return None
    try:
        # Opened here: what cannot be read would be left open otherwise.
        with place.open("rb") as file, np.load(file, allow_pickle=False) as kept:
            pts, keys = kept["pts"].astype(np.int64), kept["key_frames"].astype(np.int64)
            seeks = kept["seeks"].astype(np.int64)
            width, height, above, below, turns, is_counted = (int(value) for value in kept["numbers"])
            stated_s = float(kept["stated_s"])
    except (ValueError, KeyError, EOFError, OSError, BadZipFile):
        return None
    is_sound = len(pts) > 0 and len(keys) == len(seeks) > 0 and below > 0 and min(width, height) >= 2
    if not is_sound or np.any(np.diff(pts) <= 0) or not 0 <= keys.min() <= keys.max() < len(pts):
        return None
    index = FilmIndex(path, width, height, Fraction(above, below), pts, keys, stated_s, seeks)
    return replace(index, turns=turns % 4, is_counted=bool(is_counted))


def _write(place: Path, index: FilmIndex) -> None:
    """Keep an index; the oldest of too many goes."""
    place.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    seeks = index.seeks if index.seeks is not None else index.pts[index.key_frames]
    base = index.time_base
    numbers = (index.width, index.height, base.numerator, base.denominator, index.turns, index.is_counted)
    # Beside it first: a process that is killed leaves no half an index.
    with tempfile.NamedTemporaryFile(dir=place.parent, suffix=".part", delete=False) as file:
        np.savez(
            file,
            pts=index.pts,
            key_frames=index.key_frames,
            seeks=seeks,
            numbers=np.array(numbers, dtype=np.int64),
            stated_s=np.array(index.stated_s),
        )
    Path(file.name).replace(place)
    kept = sorted(place.parent.glob("*.npz"), key=lambda one: one.stat().st_mtime)
    for old in kept[: max(0, len(kept) - KEPT)]:
        old.unlink(missing_ok=True)
