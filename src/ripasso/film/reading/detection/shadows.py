"""The shadow at a ball's foot, where the ball's flank has the cloth's own shade.

Of such a ball its lit top and its shadow are seen, with what looks like cloth between: two pieces of one.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.reading.detection.ground import OTHER, difference
from ripasso.film.reading.detection.picture import Bytes, Floats

Ints = npt.NDArray[np.int32]
Labels = npt.NDArray[np.integer[Any]]

SPECK = 6  # pixels: less is noise
#: The light of cloth in such a shadow (shares of its usual), and how much of the piece must be such cloth.
DEEP, SHADOWY = (0.3, 0.9), 0.6
#: How wide a shadow is from and to, and how high at most, in ball radii.
WIDE, FLAT = (0.8, 3.2), 2.3
#: How far above a shadow the middle of the ball's lit top lies, how far aside, and how wide it is (radii).
ABOVE, ASIDE, TOP_WIDE = (0.3, 2.6), 1.4, 3.0


@dataclass(frozen=True)
class Pieces:
    """Connected pieces of a mask: labels (height, width), boxes and areas (n, 5), middles (n, 2), pixels."""

    labels: Labels
    stats: Ints
    middles: npt.NDArray[np.float64]

    def pixels(self, i: int) -> tuple[npt.NDArray[np.intp], npt.NDArray[np.intp]]:
        """The rows and columns of a piece."""
        left, top, width, height = (int(value) for value in self.stats[i][:4])
        rows, columns = np.nonzero(self.labels[top : top + height, left : left + width] == i)
        return rows + top, columns + left

    def join(self, i: int, j: int) -> None:
        """Make piece `i` a part of piece `j`; `i` is empty then."""
        areas = self.stats[[i, j], cv2.CC_STAT_AREA]
        self.labels[self.pixels(i)] = j
        self.middles[j] = (self.middles[i] * areas[0] + self.middles[j] * areas[1]) / areas.sum()
        one, other = self.stats[i], self.stats[j]
        left, top = np.minimum(one[:2], other[:2])
        right, bottom = np.maximum(one[:2] + one[2:4], other[:2] + other[2:4])
        self.stats[j] = (left, top, right - left, bottom - top, areas.sum())
        self.stats[i] = 0


def join_shadows(
    pieces: Pieces, seen: Bytes, cloth: Floats, other: Bytes, radius_at: Callable[[float, float], float]
) -> None:
    """Join each shadow to the lit top of the ball above it; what lies between is marked in `other` as well.

    `seen` is the picture, `cloth` the same without balls, `radius_at` a ball's radius at a pixel.
    """
    sized = (np.flatnonzero(pieces.stats[1:, cv2.CC_STAT_AREA] >= SPECK) + 1).tolist()
    if len(sized) < 2:
        return
    for i in sized:
        width, height = (int(value) for value in pieces.stats[i][2:4])
        if not _anything_above(pieces, sized, i, max(width, height)):
            continue
        radius = radius_at(*pieces.middles[i])
        if not (WIDE[0] * radius < width < WIDE[1] * radius and height < FLAT * radius):
            continue
        here = pieces.pixels(i)
        if float((difference(seen[here], cloth[here], DEEP) < OTHER).mean()) < SHADOWY:
            continue
        top = next((j for j in sized if j != i and _stands_above(pieces, j, i, radius)), None)
        if top is not None:
            pieces.join(i, top)
            rows, columns = pieces.pixels(top)
            outline = cv2.convexHull(np.stack((columns, rows), axis=1).astype(np.int32))
            cv2.fillConvexPoly(other, outline, 255)


def _anything_above(pieces: Pieces, sized: list[int], shadow: int, size: int) -> bool:
    """Whether any piece may be the top of a shadow so many pixels wide: most noise is alone."""
    aside, down = (pieces.middles[shadow] - pieces.middles[sized]).T
    reach = size / WIDE[0]
    near = (down > 0) & (down < ABOVE[1] * reach) & (np.abs(aside) < ASIDE * reach)
    return bool(near.any())


def _stands_above(pieces: Pieces, top: int, shadow: int, radius: float) -> bool:
    aside, down = (pieces.middles[shadow] - pieces.middles[top]) / radius
    is_narrow = pieces.stats[top][cv2.CC_STAT_WIDTH] < TOP_WIDE * radius
    return bool(ABOVE[0] < down < ABOVE[1] and abs(aside) < ASIDE and is_narrow and pieces.stats[top].any())
