"""A pack taken apart: balls of it that its outline has no need of are none."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from ripasso.core.table.places import Place
from ripasso.film.reading.detection.discs import Discs, Seen, likeness_of
from ripasso.film.reading.detection.picture import Bytes

#: Only balls that are seen no clearer than this may be none.
FAINT = 0.6
#: By how much less alike the outline may be without one, and how near (radii) balls move into its place.
LOSES, NEAR = 0.012, 3.0
#: In a large pack balls hide one another: what one adds to the outline says nothing.
FEWEST, MOST = 2, 7
#: How far balls are moved in search of it, in turn, and how close two may come, ball radii.
STEPS, CLOSEST = (0.4, 0.2, 0.1), 1.8
ROUNDS = 3
#: Pixels about a pack.
MARGIN = 6


def without_superfluous(
    seen: Bytes, found: Sequence[Seen], discs: Discs, origin: tuple[int, int]
) -> list[Seen]:
    """The balls of a pack without those whose neighbours, moved a little, cover what is seen as well.

    `seen` is the mask of the pack (height, width), `origin` its first pixel (column, row).
    """
    balls = list(found)
    if not FEWEST <= len(balls) <= MOST:
        return balls
    rows, columns = np.nonzero(seen)
    top, left = max(0, int(rows.min()) - MARGIN), max(0, int(columns.min()) - MARGIN)
    cut = seen[top : int(rows.max()) + MARGIN, left : int(columns.max()) + MARGIN]
    corner = (origin[0] + left, origin[1] + top)

    def alike(places: Sequence[Place]) -> float:
        return likeness_of(cut, discs, corner, places)

    before = alike([ball.place for ball in balls])
    for faint in sorted(balls, key=lambda ball: ball.clearness):
        if faint.clearness > FAINT or len(balls) < FEWEST:
            break
        rest = [ball for ball in balls if ball is not faint]
        near = [i for i, ball in enumerate(rest) if _apart(ball.place, faint.place) < NEAR * discs.radius_m]
        places, without = _moved([ball.place for ball in rest], near, discs.radius_m, alike)
        if without > before - LOSES:
            balls = [replace(ball, place=place) for ball, place in zip(rest, places, strict=True)]
            before = without
    return balls


def _moved(
    places: Sequence[Place], near: Sequence[int], radius_m: float, alike: Callable[[Sequence[Place]], float]
) -> tuple[list[Place], float]:
    """Places of which those with the numbers `near` were moved so that all are most alike, and how alike."""
    best, now = alike(places), list(places)
    for step in STEPS:
        for _ in range(ROUNDS):
            start = best
            for i in near:
                others = [*now[:i], *now[i + 1 :]]
                for there in _about(now[i], step * radius_m):
                    if any(_apart(there, other) < CLOSEST * radius_m for other in others):
                        continue
                    tried = [*now[:i], there, *now[i + 1 :]]
                    value = alike(tried)
                    if value > best:
                        best, now = value, tried
            if best == start:
                break
    return now, best


def _about(place: Place, away_m: float) -> list[Place]:
    """Eight places around one."""
    turns = np.arange(8) * np.pi / 4
    return [(place[0] + away_m * float(np.cos(t)), place[1] + away_m * float(np.sin(t))) for t in turns]


def _apart(one: Place, other: Place) -> float:
    return float(np.hypot(one[0] - other[0], one[1] - other[1]))
