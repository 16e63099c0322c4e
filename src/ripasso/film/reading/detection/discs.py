"""Balls as discs of small pictures: where they lie, drawn into masks, and held against what is seen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from ripasso.core.table.places import Place
from ripasso.film.calibration.camera import Array, Camera
from ripasso.film.reading.detection.picture import HALF, Bytes

MOST_KNOWN = 4096  # discs that are kept


@dataclass(frozen=True)
class Seen:
    """A ball at rest: its place on the table (metres), and how clearly it is one, 0 to 1.

    `guessed`: only its blob says so, no outline.
    """

    place: Place
    clearness: float
    guessed: bool = False


class Discs:
    """Where balls at places lie in small pictures, as discs."""

    def __init__(self, camera: Camera, radius_m: float, share: float = HALF) -> None:
        """`camera` is that of the small pictures, `share` their size beside the film's."""
        self.camera, self.radius_m, self.share = camera, radius_m, share
        self._known: dict[Place, tuple[float, float, float]] = {}

    def disc(self, place: Place) -> tuple[float, float, float]:
        """Column, row and radius in pixels."""
        # Balls at rest are asked for in every frame.
        known = self._known.get(place)
        if known is None:
            if len(self._known) > MOST_KNOWN:
                self._known.clear()
            u, v = self.camera.project([[*place, self.radius_m]])[0]
            known = self._known[place] = (float(u), float(v), self.radius_px(place))
        return known

    def radius_px(self, place: Place) -> float:
        """The radius of a ball's disc in pixels."""
        point = self.camera.rotation @ np.array([*place, self.radius_m]) + self.camera.translation
        return float(self.camera.focal_px * self.radius_m / max(1e-6, point[2]))

    def place(self, u: float, v: float) -> Place:
        """The place of a ball whose centre is seen at a pixel."""
        x, y = self.camera.places([[u, v]], self.radius_m)[0]
        return float(x), float(y)

    def places(self, pixels: Array) -> Array:
        """The places (n, 2) of balls whose centres are seen at pixels (n, 2)."""
        return self.camera.places(pixels, self.radius_m)

    def take_out(self, mask: Bytes, place: Place, origin: tuple[int, int], value: int = 0) -> None:
        """Paint over a ball and the shadow at its foot."""
        u, v, radius = self.disc(place)
        self.fill(mask, place, origin, value=value, grow=1.2)
        foot = (round((u - origin[0]) * 16), round((v - origin[1] + 0.7 * radius) * 16))
        axes = (round((1.25 * radius + 1) * 16), round((0.6 * radius + 1) * 16))
        cv2.ellipse(mask, foot, axes, 0, 0, 360, value, -1, cv2.LINE_8, 4)

    def fill(
        self, mask: Bytes, place: Place, origin: tuple[int, int], *, value: int, grow: float = 0.0
    ) -> None:
        """Paint a ball's disc into a mask whose first pixel is `origin` (column, row)."""
        u, v, radius = self.disc(place)
        centre = (round((u - origin[0]) * 16), round((v - origin[1]) * 16))
        cv2.circle(mask, centre, round((radius + grow) * 16), value, -1, cv2.LINE_8, 4)


def drawn(shape: tuple[int, ...], discs: Discs, origin: tuple[int, int], places: Sequence[Place]) -> Bytes:
    """A mask (height, width) of balls; its first pixel is `origin` (column, row)."""
    mask = np.zeros(shape, dtype=np.uint8)
    for place in places:
        discs.fill(mask, place, origin, value=255, grow=0.5)
    return mask


def likeness_of(seen: Bytes, discs: Discs, origin: tuple[int, int], places: Sequence[Place]) -> float:
    """How alike balls and a mask of what is seen are, 0 to 1: the area of both by that of either.

    What is seen of their shadows counts neither way.
    """
    balls, with_shadows = drawn(seen.shape, discs, origin, places), np.zeros_like(seen)
    for place in places:
        discs.take_out(with_shadows, place, origin, 255)
    both = cv2.countNonZero(np.minimum(balls, seen))
    either = cv2.countNonZero(balls) + cv2.countNonZero(np.where(with_shadows > 0, 0, seen))
    return float(both) / max(1, either)
