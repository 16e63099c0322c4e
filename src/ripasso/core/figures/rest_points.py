"""Where the cue ball came to rest about the aim point: points, their middle, the region of nine in ten."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ripasso.core.figures.facts import UNKNOWN, YES, Facts

Floats = npt.NDArray[np.float64]
#: The 90 % point of chi-square with two degrees of freedom (tables: 4.605).
NINE_IN_TEN = 4.605170185988092
#: Fewer points than this have no region.
LEAST = 10


@dataclass(frozen=True)
class RestPoints:
    """Points (n, 2): across (+ left) and along (+ long), metres; which hit the zone (1, 0, −1 not known).

    `places` are those of the shots in the facts asked. `region` has the axes (2, 2) of the ellipse that holds
    nine in ten of a normal distribution with the points' covariance, one axis a row; None for too few.
    """

    points: Floats
    hit: npt.NDArray[np.int64]
    places: npt.NDArray[np.int64]
    middle: tuple[float, float]
    region: Floats | None


def rest_points(facts: Facts) -> RestPoints:
    """The rest points of made pots whose aim point is known."""
    along, across = facts.numbers("along"), facts.numbers("across")
    known = facts.flags("made") & ~np.isnan(along) & ~np.isnan(across)
    points = np.column_stack((across[known], along[known]))
    zone = facts.ints("zone")[known]
    hit = np.where(zone == UNKNOWN, -1, np.where(zone == YES, 1, 0)).astype(np.int64)
    if not len(points):
        return RestPoints(points, hit, np.flatnonzero(known), (0.0, 0.0), None)
    x, y = np.median(points, axis=0)
    region = None
    if len(points) >= LEAST:
        sizes, axes = np.linalg.eigh(np.cov(points.T))
        region = (axes * np.sqrt(np.maximum(sizes, 0) * NINE_IN_TEN)).T
    return RestPoints(points, hit, np.flatnonzero(known), (float(x), float(y)), region)


def region_outline(found: RestPoints, steps: int = 72) -> Floats:
    """The outline (steps, 2) of the region, about the mean of the points; empty where there is none."""
    if found.region is None:
        return np.zeros((0, 2))
    turns = 2 * np.pi * np.arange(steps) / steps
    turned = np.outer(np.cos(turns), found.region[0]) + np.outer(np.sin(turns), found.region[1])
    return np.asarray(turned + found.points.mean(axis=0))
