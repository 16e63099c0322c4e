"""Damaged films: every frame that comes is a picture, whatever cannot be shown is a sentence."""

from __future__ import annotations

import random
import tempfile
from functools import cache
from pathlib import Path

from ripasso.film import FilmError, FilmReader, build_index
from ripasso.film.decoding.overview import loudness, overview
from ripasso.film.decoding.sound import blocks
from ripasso.film.reading.detection.picture import small
from tests.film.test_kinds import KINDS, write
from tests.fuzz.mutators import mutated_bytes
from tests.fuzz.outcome import Fault, one_sentence, time_limit

#: Decoding is work: this much of the processor is no hang.
MOST_S = 20.0
USED_KINDS = tuple(kind for kind in KINDS if not kind[0].startswith(("av1", "studio")))


def try_film(seed: int, folder: Path) -> str:
    """Open a damaged film and look about in it; returns "used" or "refused", raises what went wrong."""
    chance = random.Random(f"film {seed}")
    kind = chance.choice(USED_KINDS)
    path = folder / f"{seed}-{kind[0]}"
    path.write_bytes(_damaged(_whole(kind[0]).read_bytes(), chance))
    with time_limit(MOST_S):
        try:
            return _tried(path, chance)
        finally:
            path.unlink()


def _damaged(data: bytes, chance: random.Random) -> bytes:
    kind = chance.randrange(5)
    at = chance.randrange(len(data))
    if kind == 0:
        return data[:at]
    if kind == 1:
        end = min(len(data), at + chance.randint(1, 4000))
        return data[:at] + bytes(end - at) + data[end:]
    if kind == 2:
        head = mutated_bytes(data[:2000], chance, 20)
        return head + data[2000:]
    if kind == 3:
        return data[at:]
    return mutated_bytes(data, chance, 200)


@cache
def _whole(name: str) -> Path:
    path = Path(tempfile.mkdtemp()) / name  # goes with the run's folder
    kind = next(kind for kind in KINDS if kind[0] == name)
    return write(path, *kind[1:])


def _tried(path: Path, chance: random.Random) -> str:
    for _ in blocks(path):
        pass
    loudness(path, 2.0)
    try:
        index = build_index(path)
    except FilmError as error:
        one_sentence(str(error))
        return "refused"
    overview(index)
    reader = FilmReader(index)
    try:
        for number in (0, len(index) - 1, *(chance.randrange(len(index)) for _ in range(4))):
            try:
                frame = reader.frame(number)
                frame.pixels("bgra", (160, 90))
                small(frame)
            except FilmError as error:
                one_sentence(str(error))
        _read_through(reader, len(index))
    finally:
        reader.close()
    return "used"


def _read_through(reader: FilmReader, frames: int) -> None:
    """Decode from the first frame up to the end, or to where it breaks off."""
    came = 0
    try:
        for came, _ in enumerate(reader.frames(0, frames - 1), start=1):
            if came > 2 * frames:
                raise Fault("more frames come than the film has")
    except FilmError as error:
        one_sentence(str(error))
