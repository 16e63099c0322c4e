"""One frame of a film at its full size, decoded by itself."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.reader import FilmReader


def whole_frame(index: FilmIndex, number: int) -> npt.NDArray[np.uint8]:
    """The picture (height, width, 4) of a frame, blue, green, red and one unused; raises `FilmError`."""
    reader = FilmReader(index)
    try:
        return reader.frame(number).pixels("bgra")
    finally:
        reader.close()
