"""Zones in which the cue ball should stop: whether a place is inside, and how far outside it is.

The edge belongs to the zone. Lengths in metres, angles in radians.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ripasso.core.table.places import Place


@dataclass(frozen=True, slots=True)
class Circle:
    """All places within a radius."""

    centre: Place
    radius: float


@dataclass(frozen=True, slots=True)
class Polygon:
    """The inside of a closed line (even-odd where it crosses itself)."""

    corners: tuple[Place, ...]


@dataclass(frozen=True, slots=True)
class Wedge:
    """Seen from an apex, directions from `start` on through `span` counter-clockwise."""

    apex: Place
    start: float
    span: float


@dataclass(frozen=True, slots=True)
class AnyOf:
    """One of several zones is enough."""

    zones: tuple[Zone, ...]


Zone = Circle | Polygon | Wedge | AnyOf


def strip(start: Place, end: Place, width: float) -> Polygon:
    """The rectangle about a line, `width` across in all."""
    leg = math.dist(start, end) or 1.0
    across = (-(end[1] - start[1]) / leg * width / 2, (end[0] - start[0]) / leg * width / 2)
    return Polygon(
        (
            (start[0] + across[0], start[1] + across[1]),
            (end[0] + across[0], end[1] + across[1]),
            (end[0] - across[0], end[1] - across[1]),
            (start[0] - across[0], start[1] - across[1]),
        )
    )


def distance_outside(zone: Zone, place: Place) -> float:
    """Metres from a place to the zone, 0 inside and on its edge."""
    if isinstance(zone, Circle):
        return max(0.0, math.dist(zone.centre, place) - zone.radius)
    if isinstance(zone, AnyOf):
        return min((distance_outside(part, place) for part in zone.zones), default=math.inf)
    if isinstance(zone, Wedge):
        return _outside_wedge(zone, place)
    if _inside_polygon(zone.corners, place):
        return 0.0
    corners = zone.corners
    return min(_to_segment(corners[i], corners[(i + 1) % len(corners)], place) for i in range(len(corners)))


def _inside_polygon(corners: tuple[Place, ...], place: Place) -> bool:
    x, y = place
    inside = False
    for i, (x1, y1) in enumerate(corners):
        x2, y2 = corners[(i + 1) % len(corners)]
        if (y1 > y) != (y2 > y) and x < x1 + (y - y1) / (y2 - y1) * (x2 - x1):
            inside = not inside
    return inside


def _to_segment(start: Place, end: Place, place: Place) -> float:
    leg = (end[0] - start[0], end[1] - start[1])
    squared = leg[0] ** 2 + leg[1] ** 2
    way = (place[0] - start[0], place[1] - start[1])
    share = (way[0] * leg[0] + way[1] * leg[1]) / squared if squared else 0.0
    share = min(1.0, max(0.0, share))
    return math.dist(place, (start[0] + share * leg[0], start[1] + share * leg[1]))


def _outside_wedge(zone: Wedge, place: Place) -> float:
    away = math.dist(zone.apex, place)
    turned = (math.atan2(place[1] - zone.apex[1], place[0] - zone.apex[0]) - zone.start) % (2 * math.pi)
    if away == 0 or turned <= zone.span:
        return 0.0
    gap = min(turned - zone.span, 2 * math.pi - turned)
    return away * math.sin(gap) if gap < math.pi / 2 else away
