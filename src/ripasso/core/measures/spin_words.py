"""What side spin is, in the trade's words: inside or outside the cut, running or check at the next cushion.

Two axes that are often confused: the first hangs on the object ball, the second on the cushion. Tip offsets
are in ball radii, right of the line of aim positive; a tip right of the middle turns the ball counter-
clockwise seen from above. Angles in degrees, directions counter-clockwise from +x; places in metres.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place

Cut = Literal["inside", "outside", "none"]
Rail = Literal["running", "check", "neither", "none"]

#: Less side than this (of the ball's radius) is none.
NO_SIDE = 0.05
#: A cushion met as squarely as this has no running side, degrees.
SQUARE_DEG = 3.0
#: A route that starts within this of a natural line is natural, degrees.
NATURAL_DEG = 20.0
#: A point of a route nearer to the ghost ball than this is the contact itself.
AT_CONTACT_M = 0.02
#: The direction into each cushion: unit normals of the nose lines.
INTO = {"head": (-1.0, 0.0), "foot": (1.0, 0.0), "left": (0.0, 1.0), "right": (0.0, -1.0)}


@dataclass(frozen=True, slots=True)
class SideSpin:
    """Side spin in both senses; `cushion` is the one that is met next."""

    spin_cut: str
    spin_rail: str
    cushion: str | None


def cue_leaves(
    ghost: Place, followed: Sequence[Place], route: Sequence[Place], natural_roll_deg: float | None
) -> Place | None:
    """In which direction the cue ball leaves the contact: followed, planned, or natural."""
    if len(followed) > 1:
        near = min(range(len(followed)), key=lambda i: math.dist(followed[i], ghost))
        if near + 1 < len(followed):
            return _towards(ghost, followed[near + 1])
    if (way := _route_start(ghost, route)) is not None:
        return way
    if natural_roll_deg is None:
        return None
    angle = math.radians(natural_roll_deg)
    return math.cos(angle), math.sin(angle)


def route_kind(
    ghost: Place, route: Sequence[Place], natural_roll_deg: float | None, tangent_deg: float | None
) -> Literal["natural", "fought"] | None:
    """Whether a planned route starts on a natural line or fights it; None without a route."""
    way = _route_start(ghost, route)
    if way is None:
        return None
    return angle_kind(math.degrees(math.atan2(way[1], way[0])), natural_roll_deg, tangent_deg)


def _route_start(ghost: Place, route: Sequence[Place]) -> Place | None:
    ahead = [point for point in route if math.dist(point, ghost) > AT_CONTACT_M]
    return _towards(ghost, ahead[0]) if ahead else None


def _towards(start: Place, end: Place) -> Place:
    return end[0] - start[0], end[1] - start[1]


def side_spin(
    tip_right: float, cut_deg: float, ghost: Place, leaves: Place | None, spec: TableSpec
) -> SideSpin:
    """Side spin of a stroke whose cue ball leaves `ghost` in the direction `leaves` (None: not known)."""
    cushion, rail = None, "none"
    if leaves is not None:
        radius = spec.ball_radius
        inside = (ghost[0] - radius, ghost[1] - radius)
        cushion = next_cushion(inside, leaves, spec.length - 2 * radius, spec.width - 2 * radius)
        rail = side_at_cushion(tip_right, leaves, cushion) if cushion else "none"
    return SideSpin(side_of_cut(tip_right, cut_deg), rail, cushion)


def side_of_cut(tip_right: float, cut_deg: float) -> Cut:
    """Outside side turns the two balls as gears would; inside side works against that.

    `cut_deg` is signed, + when the object ball leaves to the left: then right side is outside.
    """
    if abs(tip_right) <= NO_SIDE or cut_deg == 0.0:
        return "none"
    return "outside" if tip_right * cut_deg > 0 else "inside"


def side_at_cushion(tip_right: float, direction: tuple[float, float], cushion: str) -> Rail:
    """Running when the spin carries the cue ball on along the cushion, check when it holds it back.

    `direction` (dx, dy) is that of the cue ball into the cushion, of any length.
    """
    if abs(tip_right) <= NO_SIDE:
        return "none"
    normal = INTO[cushion]
    along = (-normal[1], normal[0])  # Z x N
    across = direction[0] * normal[0] + direction[1] * normal[1]
    slide = direction[0] * along[0] + direction[1] * along[1]
    if math.degrees(math.atan2(abs(slide), max(across, 1e-12))) <= SQUARE_DEG:
        return "neither"
    return "check" if tip_right * slide > 0 else "running"


def next_cushion(
    start: tuple[float, float], direction: tuple[float, float], length: float, width: float
) -> str | None:
    """The cushion that a straight way meets first; None for no way at all."""
    best: tuple[float, str] | None = None
    for name, (nx, ny) in INTO.items():
        speed = direction[0] * nx + direction[1] * ny
        if speed <= 1e-12:
            continue
        gap = {"head": start[0], "foot": length - start[0], "right": start[1], "left": width - start[1]}[name]
        if best is None or gap / speed < best[0]:
            best = (gap / speed, name)
    return best[1] if best else None


def angle_kind(
    route_deg: float, natural_roll_deg: float | None, tangent_deg: float | None
) -> Literal["natural", "fought"] | None:
    """Whether a planned route starts on one of the natural lines; None where there is none."""
    lines = [line for line in (natural_roll_deg, tangent_deg) if line is not None]
    if not lines:
        return None
    off = min(abs((route_deg - line + 180) % 360 - 180) for line in lines)
    return "natural" if off <= NATURAL_DEG else "fought"
