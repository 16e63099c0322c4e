"""Pictures of a film made alike, as a camera that stands still in even light would show them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.frame import Frame
from ripasso.film.reading.detection.picture import BLACK, WHITE, Bytes, large
from ripasso.film.reading.normalising.exposure import Exposure, Light
from ripasso.film.reading.normalising.stabiliser import Stabiliser


class Normaliser:
    """Takes the small picture of each frame in order; makes the large one alike when asked."""

    def __init__(
        self, stabiliser: Stabiliser, samples: Sequence[Bytes], cloth: npt.NDArray[np.bool_]
    ) -> None:
        """`samples` are small pictures in even light; `cloth` (height, width) is where the table is seen."""
        self._stabiliser, self._width = stabiliser, samples[0].shape[1]
        self._exposure = Exposure(np.median(np.stack(samples), axis=0).astype(np.float32), cloth)
        self._light = Light()

    @property
    def is_elsewhere(self) -> bool:
        """Whether another camera took the last picture."""
        return self._stabiliser.is_elsewhere

    @property
    def is_lost(self) -> bool:
        """Whether the last picture could not be told to be this camera's."""
        return self._stabiliser.is_lost

    @property
    def motion(self) -> npt.NDArray[np.float64]:
        """What the camera did (4,) beside its reference, as `moving` states it; the last that was seen."""
        return self._stabiliser.motion

    def finds(self, picture: Bytes) -> bool:
        """Whether a small picture is this camera's, wherever it looks now."""
        return self._stabiliser.find(picture[..., 0])

    @property
    def ceiling(self) -> float:
        """The most light that the last picture could show, after it was lit as the others."""
        return (WHITE - BLACK) / self._light.gain + BLACK

    def take(self, picture: Bytes) -> Bytes:
        """The next small picture, made alike."""
        self._stabiliser.follow(picture[..., 0])
        picture = self._stabiliser.back(picture)
        self._light = self._exposure.of(picture)
        return self._light.out_of_small(picture)

    def large(self, frame: Frame) -> Bytes:
        """The large picture of the frame whose small one was taken last."""
        picture = large(frame)
        return self._light.out_of_large(self._stabiliser.back(picture, picture.shape[1] / self._width))
