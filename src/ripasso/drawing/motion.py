"""What a stroke does, drawn: the ways of balls, where they stop, and how far the cue ball scatters."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ripasso.drawing.primitives import Circle, Line, Point, Primitive

#: Dots of a cloud that are drawn; more say nothing more.
MOST_DOTS = 150
DOT_M = 0.006
#: Radii of an ellipse, in standard deviations, that hold a half and nine tenths (Rayleigh distribution).
HALF_OF, NINE_TENTHS_OF = 1.177, 2.146
ROUND = 48


def ways(paths: Mapping[str, Sequence[Point]], ball_radius: float, *, kept: bool = False) -> list[Primitive]:
    """The ways of balls that move: the cue ball's solid, others' dashed; a `kept` stroke's are faint."""
    drawn: list[Primitive] = []
    for ball, path in paths.items():
        if len(path) < 2 or max(math.dist(path[0], point) for point in path) < 1e-4:
            continue
        role = "mark.plan" if kept else "mark.played"
        drawn.append(Line(tuple(path), role, "hair" if kept else "thin", dashed=ball != "cue"))
        drawn.append(Circle(path[-1], ball_radius, None, role, "hair" if kept else "thin"))
    return drawn


def scatter(cloud: Sequence[Point]) -> list[Primitive]:
    """Where the cue ball stops when it is played again and again: dots, and where half and 90 % stop."""
    if len(cloud) < 3:
        return []
    step = max(1, len(cloud) // MOST_DOTS)
    drawn: list[Primitive] = [Circle(point, DOT_M, "mark.plan", soft=True) for point in cloud[::step]]
    for radii, weight in ((HALF_OF, "thin"), (NINE_TENTHS_OF, "hair")):
        drawn.append(Line(_ellipse(cloud, radii), "mark.plan", weight, dashed=True))  # type: ignore[arg-type]
    return drawn


def _ellipse(cloud: Sequence[Point], radii: float) -> tuple[Point, ...]:
    """The ellipse of a cloud's mean and covariance, so many standard deviations large."""
    count = len(cloud)
    x, y = sum(p[0] for p in cloud) / count, sum(p[1] for p in cloud) / count
    xx = sum((p[0] - x) ** 2 for p in cloud) / (count - 1)
    yy = sum((p[1] - y) ** 2 for p in cloud) / (count - 1)
    xy = sum((p[0] - x) * (p[1] - y) for p in cloud) / (count - 1)
    turn = 0.5 * math.atan2(2 * xy, xx - yy)
    root = math.hypot((xx - yy) / 2, xy)
    long, short = math.sqrt((xx + yy) / 2 + root), math.sqrt(max(0.0, (xx + yy) / 2 - root))
    points = []
    for i in range(ROUND + 1):
        along, across = long * math.cos(2 * math.pi * i / ROUND), short * math.sin(2 * math.pi * i / ROUND)
        points.append(
            (
                x + radii * (along * math.cos(turn) - across * math.sin(turn)),
                y + radii * (along * math.sin(turn) + across * math.cos(turn)),
            )
        )
    return tuple(points)
