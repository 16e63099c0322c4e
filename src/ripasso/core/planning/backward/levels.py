"""Maps as areas: where it is as good as it gets, shaded levels of it, and the zone about a planned rest."""

from __future__ import annotations

from itertools import pairwise

import contourpy
import numpy as np

from ripasso.core.geometry.zones import Polygon
from ripasso.core.physics.parameters import Array
from ripasso.core.planning.backward.deciding import decisions
from ripasso.core.planning.backward.orders import State
from ripasso.core.planning.backward.solving import Rack, interpolated
from ripasso.core.table import pocket_mouth_middle
from ripasso.core.table.places import Place

#: A zone holds the places that are worth this share of the best one near the planned rest.
GOOD = 0.9
#: How far about the planned rest the best place is looked for, and how fine a zone is drawn (metres).
NEAR_M, DRAWN_M = 0.35, 0.025
#: Corners of a zone that are kept at most.
MOST_CORNERS = 48
#: The shares of the best place from which on a map is shaded, each darker than the one before.
SHADES = (0.5, 0.75, 0.9)


def areas(rack: Rack, state: State) -> list[tuple[float, list[tuple[Place, ...]]]]:
    """For each of `SHADES` the areas that are worth so much of the best place and more.

    An area is one closed line; where it goes around a hole the hole's line is joined to it (even-odd).
    """
    xs, ys, values = levels(rack, state)
    best = float(values.max(initial=0.0))
    if best <= 0:
        return []
    frame_x, frame_y, framed = _framed(xs, ys, values)
    contours = contourpy.contour_generator(frame_x, frame_y, framed, fill_type=contourpy.FillType.OuterOffset)
    found = []
    for share in SHADES:
        filled = contours.filled(share * best, np.inf)
        lines = [
            _joined(np.asarray(points), np.asarray(offsets))
            for points, offsets in zip(filled[0], filled[1], strict=True)
        ]
        found.append((share, lines))
    return found


def _joined(points: Array, offsets: Array) -> tuple[Place, ...]:
    """The outer line and those of its holes as one, each closed at its own first point."""
    line: list[Place] = []
    first = (float(points[0][0]), float(points[0][1]))
    for begin, end in pairwise(offsets):
        line += [(float(x), float(y)) for x, y in points[int(begin) : int(end)]]
        line.append(first)
    return tuple(line)


def _framed(xs: Array, ys: Array, values: Array) -> tuple[Array, Array, Array]:
    """A border of nothing closes every line at the rails."""
    step = float(xs[1] - xs[0])
    frame_x = np.concatenate(([xs[0] - step / 2], xs, [xs[-1] + step / 2]))
    frame_y = np.concatenate(([ys[0] - step / 2], ys, [ys[-1] + step / 2]))
    return frame_x, frame_y, np.pad(values, 1)


def levels(rack: Rack, state: State, step_m: float = DRAWN_M) -> tuple[Array, Array, Array]:
    """A map on a finer net for drawing: x (n,), y (m,), values (m, n)."""
    spec = rack.setting.spec
    xs = np.arange(rack.net.xs[0], spec.length - spec.ball_radius + 1e-9, step_m)
    ys = np.arange(rack.net.ys[0], spec.width - spec.ball_radius + 1e-9, step_m)
    grid = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
    values = interpolated(rack.maps[state].value, rack.net.xs, rack.net.ys, grid)
    return xs, ys, values.reshape(len(ys), len(xs))


def zone_about(rack: Rack, state: State, rest: Place) -> Polygon | None:
    """The places about a rest that are nearly as good as the best of them, on its side of the next line."""
    xs, ys, values = levels(rack, state)
    gx, gy = np.meshgrid(xs, ys)
    near = np.hypot(gx - rest[0], gy - rest[1]) <= NEAR_M
    best = float(values[near].max(initial=0.0))
    if best <= 0:
        return None
    values = np.where(_same_side(rack, state, rest, gx, gy), values, 0.0)
    frame_x, frame_y, framed = _framed(xs, ys, values)
    contours = contourpy.contour_generator(frame_x, frame_y, framed)
    lines = [np.asarray(line, dtype=np.float64) for line in contours.lines(GOOD * best)]
    holding = [line for line in lines if _holds(line, rest)]
    chosen = holding or sorted(lines, key=lambda line: float(np.hypot(*(line - rest).T).min()))[:1]
    if not chosen:
        return None
    line = min(chosen, key=len) if holding else chosen[0]
    thin = line[:: max(1, len(line) // MOST_CORNERS)]
    return Polygon(tuple((float(x), float(y)) for x, y in thin))


def _holds(line: Array, place: Place) -> bool:
    """Whether a closed line goes around a place (even-odd)."""
    x, y = place
    inside = False
    for (x1, y1), (x2, y2) in zip(line, np.roll(line, -1, axis=0), strict=True):
        if (y1 > y) != (y2 > y) and x < (x2 - x1) * (y - y1) / (y2 - y1) + x1:
            inside = not inside
    return inside


def _same_side(rack: Rack, state: State, rest: Place, gx: Array, gy: Array) -> np.ndarray:
    """Which places lie on the rest's side of the line of the next pot, or hardly beyond it."""
    found = decisions(rack, state, rest)
    if not found:
        return np.ones(gx.shape, dtype=np.bool_)
    ball = rack.problem.layout[found[0].ball]
    mouth = pocket_mouth_middle(rack.setting.spec, found[0].pocket)
    along = np.array(mouth) - np.array(ball)
    along = along / np.hypot(*along)

    def side(x: Array, y: Array) -> Array:
        result: Array = along[0] * (y - ball[1]) - along[1] * (x - ball[0])
        return result

    own = float(side(np.array(rest[0]), np.array(rest[1])))
    slack = rack.setting.spec.ball_radius
    return np.asarray(side(gx, gy) * np.sign(own or 1.0) >= -slack)
