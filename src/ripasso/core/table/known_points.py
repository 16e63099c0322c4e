"""Points of a table that can be found again in a picture of it, in the order in which they are asked for."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ripasso.core.table.layouts import foot_spot, snooker_spots
from ripasso.core.table.pockets import POCKETS, pocket_centre
from ripasso.core.table.presets import INCH, TableSpec

#: Sights lie 3 11/16 in behind the nose line (WPA equipment specification, from memory), on the rail's top,
#: which stands higher than the cloth, as do the rims of the pockets (common practice, no source).
SIGHT_BACK_M, RAIL_TOP_M, POCKET_RIM_M = 3.6875 * INCH, 0.042, 0.038
#: The nose of a cushion stands at 63.5 % of a ball's diameter (WPA equipment specification, from memory).
NOSE_SHARE = 0.635


#: Where a pocket's centre is said to be is a convention of drawing: so far off it is clicked in a picture
#: (standard deviation, metres; measured on clicks at pockets of rendered films).
POCKET_EXACT_M = 0.015


@dataclass(frozen=True, slots=True)
class KnownPoint:
    """A point with its name in words and its place in metres."""

    name: str
    place: tuple[float, float, float]
    kind: str


def known_points(spec: TableSpec) -> tuple[KnownPoint, ...]:
    """Corners of the nose lines, spots, sights, pockets; each at the height at which the eye sees it.

    Those that are clicked most exactly stand first.
    """
    nose = nose_height(spec)
    points = []
    for end, x in (("head", 0.0), ("foot", spec.length)):
        for side, y in (("left", spec.width), ("right", 0.0)):
            points.append(KnownPoint(f"{end} {side}, where the noses meet", (x, y, nose), "corner"))
    if spec.snooker:
        points += [KnownPoint(f"{b} spot", (*p, 0.0), "spot") for b, p in snooker_spots(spec).items()]
    else:
        points.append(KnownPoint("foot spot", (*foot_spot(spec), 0.0), "spot"))
        points.append(KnownPoint("middle of the head string", (spec.length / 4, spec.width / 2, 0.0), "spot"))
    for side, y in (("left", spec.width + SIGHT_BACK_M), ("right", -SIGHT_BACK_M)):
        points += [
            KnownPoint(f"sight {i} on the {side}", (i * spec.length / 8, y, RAIL_TOP_M), "sight")
            for i in (1, 2, 3, 5, 6, 7)
        ]
    points += [
        KnownPoint(f"{pocket.replace('_', ' ')} pocket", _rim(spec, pocket), "pocket")
        for pocket in ("head_left", "foot_left", "foot_right", "head_right", "side_left", "side_right")
    ]
    return tuple(points)


def exactness_m(spec: TableSpec, places: Sequence[Sequence[float]]) -> list[float]:
    """How exactly known points (x, y, z) can be clicked on the table (standard deviation, metres)."""
    rims = [_rim(spec, pocket) for pocket in POCKETS]
    return [
        POCKET_EXACT_M if any(math.dist(place, rim) < POCKET_EXACT_M for rim in rims) else 0.0
        for place in places
    ]


def _rim(spec: TableSpec, pocket: str) -> tuple[float, float, float]:
    return (*pocket_centre(spec, pocket), POCKET_RIM_M)


def nose_height(spec: TableSpec) -> float:
    """How high the noses of the cushions stand over the cloth, metres."""
    return NOSE_SHARE * 2 * spec.ball_radius


def nose_outline(spec: TableSpec) -> tuple[tuple[float, float], ...]:
    """The rectangle of the noses."""
    length, width = spec.length, spec.width
    return ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width), (0.0, 0.0))


def string_line(spec: TableSpec) -> tuple[tuple[float, float], ...]:
    """The head string, or the baulk line, on the cloth."""
    x = snooker_spots(spec)["brown"][0] if spec.snooker else spec.length / 4
    return ((x, 0.0), (x, spec.width))
