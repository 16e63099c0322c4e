"""Direct pots: window, ghost ball, cut, tolerance of the aim, chance, and what stands in the way.

Every definition is exact plane geometry of hard circles, written down in docs/measures.md; a plain pot only
(no bank, kick, combination). All pots of a batch are computed at once.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ripasso.core.geometry.mouths import Mouths, mouths_of
from ripasso.core.geometry.plane import (
    Array,
    direction,
    dot,
    half_angle,
    length,
    segment_distance,
    unit,
    wrapped,
)
from ripasso.core.table import TableSpec

#: What makes a pot impossible; the first that holds is named. 0 stands for none.
OBSTACLES = (None, "touching", "closed", "object_blocked", "cut", "cushion", "cue_blocked")
TOUCHING, CLOSED, OBJECT_BLOCKED, CUT, CUSHION, CUE_BLOCKED = range(1, 7)

TOUCHING_GAP_M = 0.5e-3
STEEPEST_CUT = np.radians(85.0)
QUARTER = np.pi / 2

Flags = npt.NDArray[np.bool_]
Codes = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Pots:
    """n pots; angles in radians, lengths in metres, NaN where not defined.

    `target`, `ghost` (n, 2); `object_blockers`, `cue_blockers` (n, m) say which of the other balls cut into
    the window and stand in the cue ball's way; the rest (n,).
    """

    target: Array
    ghost: Array
    cut: Array
    fullness: Array
    cue_travel: Array
    object_travel: Array
    window_full: Array
    window: Array
    tolerance_left: Array
    tolerance_right: Array
    obstacle: Codes
    object_blockers: Flags
    cue_blockers: Flags
    tangent: Array
    natural_roll: Array

    @property
    def tolerance(self) -> Array:
        """The mean of both sides."""
        mean: Array = (self.tolerance_left + self.tolerance_right) / 2
        return mean


def pots(
    spec: TableSpec, cue: Array, ball: Array, pocket: npt.NDArray[np.int64], others: Array | None = None
) -> Pots:
    """The geometry of n pots: cue and object ball (n, 2), pocket (n,) by its place in the order of pockets.

    `others` (n, m, 2) holds the balls besides these two, NaN where there are fewer.
    """
    cue, ball = np.asarray(cue, dtype=np.float64), np.asarray(ball, dtype=np.float64)
    if others is None:
        others = np.empty((len(cue), 0, 2))
    radius = spec.ball_radius
    with np.errstate(invalid="ignore", divide="ignore"):
        window = _window(mouths_of(spec), pocket, ball, others, radius)
        target = window.target
        to_target = direction(target - ball)
        ghost = ball - 2 * radius * unit(to_target)
        aim = direction(ghost - cue)
        cut = wrapped(to_target - aim)
        cue_travel = length(ghost - cue)
        in_way = segment_distance(cue[:, None], ghost[:, None], others) < 2 * radius
        left, right = _tolerances(cue, ball, aim, window, radius)
        obstacle = _obstacles(spec, cue, ball, ghost, cut, window, in_way)
        unknown = np.isin(obstacle, (TOUCHING, CLOSED, OBJECT_BLOCKED, CUT))
        side = np.sign(cut)
        steepness = np.abs(cut)
        lineless = (steepness > QUARTER) | (obstacle == TOUCHING)
        tangent = np.where((steepness < 1e-9) | lineless, np.nan, wrapped(to_target - side * QUARTER))
        bend = np.arctan2(np.sin(steepness) * np.cos(steepness), np.sin(steepness) ** 2 + 0.4)
        return Pots(
            target=target,
            ghost=ghost,
            cut=cut,
            fullness=np.where(steepness > QUARTER, np.nan, 1 - np.sin(steepness)),
            cue_travel=cue_travel,
            object_travel=length(target - ball),
            window_full=window.full,
            window=window.width,
            tolerance_left=np.where(unknown, np.nan, left),
            tolerance_right=np.where(unknown, np.nan, right),
            obstacle=obstacle,
            object_blockers=window.blockers,
            cue_blockers=in_way,
            tangent=tangent,
            natural_roll=np.where(lineless, np.nan, wrapped(aim - side * bend)),
        )


def _normal_share(value: Array) -> Array:
    """The share of a normal distribution below a value in standard deviations; NaN stays NaN.

    By the library function of C: SciPy's takes a fifth of a second to load, which a first paint has not got.
    """
    shares = (0.5 * math.erfc(-v * math.sqrt(0.5)) for v in value.tolist())
    return np.fromiter(shares, np.float64, len(value))


def chances(found: Pots, spread: float) -> Array:
    """The chance of each pot for an aim spread (standard deviation, radians); 0 with an obstacle.

    NaN where the balls touch.

    max(0, Phi(t_right / s) + Phi(t_left / s) - 1): the share of a normal spread of the aim that falls between
    the two edges.
    """
    free = _normal_share(found.tolerance_right / spread) + _normal_share(found.tolerance_left / spread) - 1
    chance = np.where(found.obstacle == 0, np.maximum(0.0, free), 0.0)
    return np.where(found.obstacle == TOUCHING, np.nan, chance)


@dataclass(frozen=True)
class _Window:
    """The directions from the object ball that pot it: from `right`, `width` to the left."""

    right: Array
    width: Array
    full: Array
    target: Array
    closed: Flags
    blocked: Flags
    blockers: Flags


def _window(
    mouths: Mouths, pocket: npt.NDArray[np.int64], ball: Array, others: Array, radius: float
) -> _Window:
    middle, axis = mouths.middle[pocket], mouths.axis[pocket]
    to_left, to_right = mouths.left[pocket] - ball, mouths.right[pocket] - ball
    right_jaw = direction(to_right)
    span = wrapped(direction(to_left) - right_jaw)
    clear_left = half_angle(radius, length(to_left))
    clear_right = half_angle(radius, length(to_right))
    # On the mouth line or beyond it every direction of the half circle about the axis pots the ball.
    beyond = dot(ball - middle, axis) >= 0
    right = np.where(beyond, direction(axis) - QUARTER, right_jaw + clear_right)
    full = np.where(beyond, np.pi, span - clear_left - clear_right)
    closed = full <= 0
    bisector = right + full / 2
    depth = dot(middle - ball, axis)
    reach = np.where(beyond, radius, depth / dot(unit(bisector), axis))
    lower, upper, blockers = _blocked_parts(ball, others, bisector, full, reach, radius)
    blockers = blockers & ~closed[:, None]
    start, width = _widest_piece(lower, upper, full)
    blocked = ~closed & (width <= 1e-12)
    start, width = np.where(closed, -full / 2, start), np.where(closed, full, np.where(blocked, 0.0, width))
    edge = bisector + start
    heading = unit(edge + width / 2)
    crossing = ball + (depth / dot(heading, axis))[:, None] * heading
    target = np.where((closed | blocked)[:, None], middle, crossing)
    target = np.where(beyond[:, None], ball + radius * axis, target)
    return _Window(edge, width, full, target, closed, blocked, blockers)


def _blocked_parts(
    ball: Array, others: Array, bisector: Array, full: Array, reach: Array, radius: float
) -> tuple[Array, Array, Flags]:
    """The parts (n, m) of the window that other balls cover, from the bisector, clipped to the window."""
    away = others - ball[:, None]
    foot = dot(away, unit(bisector)[:, None])
    near = (foot > 0) & (foot < reach[:, None] + radius)
    offset = wrapped(direction(away) - bisector[:, None])
    half = half_angle(2 * radius, length(away))
    edge = full[:, None] / 2
    lower, upper = offset - half, offset + half
    meets = near & (lower < edge) & (upper > -edge)
    # A ball that covers nothing is put at the left edge, where it changes no piece.
    lower = np.where(meets, np.clip(lower, -edge, edge), edge)
    upper = np.where(meets, np.clip(upper, -edge, edge), edge)
    return lower, upper, meets


def _widest_piece(lower: Array, upper: Array, full: Array) -> tuple[Array, Array]:
    """Start (from the bisector) and width of the widest piece left free; the first of equal ones."""
    edge = full[:, None] / 2
    order = np.argsort(lower, axis=1)
    begins = np.concatenate((np.take_along_axis(lower, order, axis=1), edge), axis=1)
    ends = np.concatenate((-edge, np.take_along_axis(upper, order, axis=1)), axis=1)
    covered = np.maximum.accumulate(ends, axis=1)
    gaps = begins - covered
    widest = np.argmax(gaps, axis=1)[:, None]
    start = np.take_along_axis(covered, widest, axis=1)[:, 0]
    return start, np.take_along_axis(gaps, widest, axis=1)[:, 0]


def _tolerances(cue: Array, ball: Array, aim: Array, window: _Window, radius: float) -> tuple[Array, Array]:
    """How far the cue line may turn left and right until the object ball leaves along an edge of the window.

    A turn to the left sends the object ball to the right. An edge that needs a cut of 90 degrees or more is
    replaced by the line that grazes the object ball.
    """
    to_ball = direction(ball - cue)
    graze = half_angle(2 * radius, length(ball - cue))

    def line_to(edge: Array, grazing: Array) -> Array:
        line = direction(ball - 2 * radius * unit(edge) - cue)
        return np.where(np.abs(wrapped(edge - line)) >= QUARTER, grazing, line)

    leftmost = line_to(window.right, to_ball + graze)
    rightmost = line_to(window.right + window.width, to_ball - graze)
    return wrapped(leftmost - aim), wrapped(aim - rightmost)


def _obstacles(
    spec: TableSpec, cue: Array, ball: Array, ghost: Array, cut: Array, window: _Window, in_way: Flags
) -> Codes:
    radius = spec.ball_radius
    edge = radius - radius / 4
    inside = (
        (ghost[:, 0] >= edge)
        & (ghost[:, 0] <= spec.length - edge)
        & (ghost[:, 1] >= edge)
        & (ghost[:, 1] <= spec.width - edge)
    )
    reasons = (
        length(ball - cue) <= 2 * radius + TOUCHING_GAP_M,
        window.closed,
        window.blocked,
        np.abs(cut) > STEEPEST_CUT,
        ~inside,
        in_way.any(axis=1),
    )
    found: Codes = np.select(reasons, range(1, 7), 0).astype(np.int64)
    return found
