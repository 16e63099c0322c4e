"""Pictures of a film made alike, as a camera that stands still in even light would show them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.frame import Frame
from ripasso.film.reading.detection.picture import BLACK, WHITE, Bytes, large, small
from ripasso.film.reading.normalising.exposure import Exposure, Light
from ripasso.film.reading.normalising.stabiliser import Stabiliser


class Normaliser:
    """Takes each frame of a film in order; gives its small picture, and its large one when asked."""

    def __init__(
        self, stabiliser: Stabiliser, samples: Sequence[Bytes], cloth: npt.NDArray[np.bool_], share: float
    ) -> None:
        """`samples` are small pictures in even light; `cloth` (height, width) is where the table is seen.

        `share` is the size of small pictures beside the film's.
        """
        self._share = share
        self._stabiliser = stabiliser
        self._exposure = Exposure(np.median(np.stack(samples), axis=0).astype(np.float32), cloth)
        self._light = Light()

    @property
    def is_elsewhere(self) -> bool:
        """Whether another camera took the last picture."""
        return self._stabiliser.is_elsewhere

    @property
    def ceiling(self) -> float:
        """The most light that the last picture could show, after it was lit as the others."""
        return (WHITE - BLACK) / self._light.gain + BLACK

    def small(self, frame: Frame) -> Bytes:
        """The small picture of the next frame."""
        picture = small(frame, self._share)
        self._stabiliser.follow(picture[..., 0])
        picture = self._stabiliser.back(picture)
        self._light = self._exposure.of(picture)
        return self._light.out_of_small(picture)

    def large(self, frame: Frame) -> Bytes:
        """The large picture of the frame whose small one was given last."""
        return self._light.out_of_large(self._stabiliser.back(large(frame), 1 / self._share))
