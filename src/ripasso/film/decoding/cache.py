"""Decoded pictures kept within a budget of memory, the ones farthest from the picture in sight go first."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

BUDGET_BYTES = 256 * 1024 * 1024


@dataclass(frozen=True)
class Picture:
    """A frame ready to be painted: its number, its time, and its pixels (height, width, 4) as B G R A."""

    number: int
    time_s: float
    pixels: npt.NDArray[np.uint8]


class PictureCache:
    """Pictures of one size by number. Not locked: its owner is."""

    def __init__(self, budget_bytes: int = BUDGET_BYTES) -> None:
        self._budget = budget_bytes
        self._pictures: dict[int, Picture] = {}
        self._bytes = 0

    def __contains__(self, number: int) -> bool:
        return number in self._pictures

    def __len__(self) -> int:
        return len(self._pictures)

    @property
    def held_bytes(self) -> int:
        """What the pictures take of the budget."""
        return self._bytes

    def get(self, number: int) -> Picture | None:
        """The picture with this number when it is here."""
        return self._pictures.get(number)

    def capacity(self, picture_bytes: int) -> int:
        """How many pictures of so many bytes fit in."""
        return max(3, self._budget // max(1, picture_bytes))

    def put(self, picture: Picture, centre: int) -> None:
        """Keep a picture; the farthest from `centre` makes room, this one itself when it is that."""
        if picture.number in self._pictures:
            return
        self._pictures[picture.number] = picture
        self._bytes += picture.pixels.nbytes
        while self._bytes > self._budget and len(self._pictures) > 1:
            farthest = max(self._pictures, key=lambda number: abs(number - centre))
            self._bytes -= self._pictures.pop(farthest).pixels.nbytes

    def clear(self) -> None:
        """Forget everything, as when the size changes."""
        self._pictures.clear()
        self._bytes = 0
