"""How far off the cue ball came to rest: the parts of the error, side of the line, crossing."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ripasso.core.geometry.plane import wrapped
from ripasso.core.table.places import Place

Leg = tuple[Place, Place]

#: Within this angle of the shot line a place counts as straight; settings of the user.
STRAIGHT_DEG = 3.0
#: Below this angle between the last leg and the shot line the cue ball travels along it.
ALONG_DEG = 20.0


@dataclass(frozen=True, slots=True)
class Miss:
    """The distance from the aim point, with its parts on the last leg: along (+ long), across (+ left)."""

    distance: float
    along: float | None
    across: float | None


def miss_from(aim: Place, rest: Place, leg: Leg | None) -> Miss:
    """How far off a rest point is; the parts are None without a leg (or with one of no length)."""
    off = (rest[0] - aim[0], rest[1] - aim[1])
    distance = math.hypot(*off)
    reach = math.dist(*leg) if leg is not None else 0.0
    if leg is None or reach == 0:
        return Miss(distance, None, None)
    (x0, y0), (x1, y1) = leg
    ux, uy = (x1 - x0) / reach, (y1 - y0) / reach
    return Miss(distance, off[0] * ux + off[1] * uy, off[1] * ux - off[0] * uy)


def angle_from_line(ball: Place, target: Place, place: Place) -> float:
    """The angle (radians, + left) of a place, seen from the ball, off the line target -> ball produced."""
    line = math.atan2(ball[1] - target[1], ball[0] - target[0])
    return float(wrapped(math.atan2(place[1] - ball[1], place[0] - ball[0]) - line))


def side_of_line(aim: float, rest: float, straight_deg: float = STRAIGHT_DEG) -> str | None:
    """Which side the rest point came to, by the angles of aim and rest point from the shot line.

    None where the aim point itself is straight and the rest point is not: no side was wanted.
    """
    limit = math.radians(straight_deg)
    if abs(rest) <= limit:
        return "straight"
    if abs(aim) <= limit:
        return None
    return "right_side" if (aim > 0) == (rest > 0) else "wrong_side"


def crossing_angle(leg: Leg, ball: Place, target: Place) -> float:
    """The angle (radians, 0 to a quarter turn) between the last leg and the shot line."""
    (x0, y0), (x1, y1) = leg
    line = math.atan2(ball[1] - target[1], ball[0] - target[0])
    turned = abs(float(wrapped(math.atan2(y1 - y0, x1 - x0) - line)))
    return min(turned, math.pi - turned)
