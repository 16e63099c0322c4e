"""One decoded picture, upright and with square pixels, of one moment, whatever way the camera was held."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.deinterlacing import progressive

Bytes = npt.NDArray[np.uint8]


class Frame:
    """A picture of a film; `turns` quarter turns counter-clockwise stand it upright."""

    def __init__(self, raw: Any, turns: int, size: tuple[int, int]) -> None:
        self.raw, self.turns, self.size = progressive(raw), turns, size

    def pixels(self, form: str, size: tuple[int, int] | None = None) -> Bytes:
        """The picture as rows of pixels, (height, width, channels), scaled to `size` (width, height).

        `form` is a name of the decoding library, such as "rgb24" or "bgra".
        """
        width, height = self.lying(size or self.size)
        scaled = self.raw.reformat(width=width, height=height, format=form)
        # Rows of an odd width come with a gap at their end; nobody wants to see it.
        return self.upright(scaled.to_ndarray())

    def upright(self, picture: Bytes) -> Bytes:
        """A picture as it was stored, stood upright."""
        return np.ascontiguousarray(np.rot90(picture, self.turns))

    def lying(self, size: tuple[int, int]) -> tuple[int, int]:
        """Width and height before a picture of `size` was stood upright."""
        return (size[1], size[0]) if self.turns % 2 else size


def turns_of(raw: Any) -> int:
    """Quarter turns counter-clockwise that the film asks for, 0 to 3; a slant is no turn."""
    return round((raw.rotation or 0) / 90) % 4
