"""How a camera's exposure and white balance swing, told by the cloth, and taken out again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.reading.detection.picture import BLACK, GREY, Bytes, Floats, median, medians

#: As many places on the cloth are looked at.
PLACES = 3000
#: Light and colours of the cloth that are off by less than this are the same.
SAME_LIGHT, SAME_COLOUR = 0.012, 0.8
#: The most that an exposure is made up for; beyond it the picture is another one.
LEAST, MOST = 0.5, 2.0
#: A cloth darker than this says nothing about the light.
DARK = 12.0
#: Red, green and blue of a step in blue and red difference (BT.601, studio range).
FROM_BLUE, FROM_RED = np.array([0.0, -0.392, 2.017]), np.array([1.596, -0.813, 0.0])


@dataclass(frozen=True)
class Light:
    """The exposure of a picture beside the usual one, and how far the cloth's two colours are off."""

    gain: float = 1.0
    blue: float = 0.0
    red: float = 0.0

    @property
    def is_usual(self) -> bool:
        """Whether there is nothing to take out."""
        return self == Light()

    def out_of_small(self, picture: Bytes) -> Bytes:
        """A small picture (light, two colours) as it is in the usual light."""
        if self.is_usual:
            return picture
        value = np.arange(256, dtype=np.float64)
        tables = (
            (value - BLACK) / self.gain + BLACK,
            (value - GREY - self.blue) / self.gain + GREY,
            (value - GREY - self.red) / self.gain + GREY,
        )
        return _through(tables, picture)

    def out_of_large(self, picture: Bytes) -> Bytes:
        """A large picture (red, green, blue) as it is in the usual light."""
        if self.is_usual:
            return picture
        off = FROM_BLUE * self.blue + FROM_RED * self.red
        value = np.arange(256, dtype=np.float64)
        return _through(tuple((value - channel) / self.gain for channel in off), picture)


def _through(tables: Sequence[npt.NDArray[np.float64]], picture: Bytes) -> Bytes:
    table = np.clip(np.stack(tables, axis=-1) + 0.5, 0, 255).astype(np.uint8)
    return np.asarray(cv2.LUT(picture, table[None]), dtype=np.uint8)


class Exposure:
    """The light of each picture beside that of the others; `cloth` is where the table's surface is seen."""

    def __init__(self, still: Floats, cloth: npt.NDArray[np.bool_]) -> None:
        """`still` (height, width, 3) is the usual picture, `cloth` (height, width) a mask."""
        places = np.flatnonzero(cloth & (still[..., 0] > BLACK + DARK))
        self._places = places[:: max(1, len(places) // PLACES)]
        usual = still.reshape(-1, 3)[self._places].astype(np.float64)
        self._light, self._colours = usual[:, 0] - BLACK, usual[:, 1:] - GREY

    def of(self, picture: Bytes) -> Light:
        """The light of a small picture."""
        if not len(self._places):
            return Light()
        seen = picture.reshape(-1, 3)[self._places]
        gain = median((seen[:, 0] - BLACK) / self._light)
        if not LEAST < gain < MOST:
            return Light()
        blue, red = medians(seen[:, 1:] - GREY - gain * self._colours)
        return Light(
            gain if abs(gain - 1) > SAME_LIGHT else 1.0,
            blue if abs(blue) > SAME_COLOUR else 0.0,
            red if abs(red) > SAME_COLOUR else 0.0,
        )


def lit_alike(samples: Sequence[Bytes], cloth: npt.NDArray[np.bool_]) -> list[Bytes]:
    """Pictures (n, height, width, 3) of one table, all as in their usual light."""
    lit = list(samples)
    for _ in range(2):
        exposure = Exposure(np.median(np.stack(lit), axis=0).astype(np.float32), cloth)
        lit = [exposure.of(sample).out_of_small(sample) for sample in samples]
    return lit
