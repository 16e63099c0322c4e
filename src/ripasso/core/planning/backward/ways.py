"""The ways of a ball into a pocket from many places with every stroke: how likely, where the cue ball stops.

Other balls do not move here: of each way is kept which of them it meets, so that one table of ways serves
every state of the rack.

A stroke's errors are told by points. For maps they are eight, two for each of aim, speed, tip across and tip
up, at two standard deviations: their mean is exact up to the third power (the cubature of degree 3 in four
dimensions; A. H. Stroud, "Approximate Calculation of Multiple Integrals", 1971, from memory). A stroke that
is stated is played with more. Of each error only what still pots the ball scatters the cue ball.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
import numpy.typing as npt

from ripasso.core.geometry.pots import CLOSED, CUSHION, CUT, pots
from ripasso.core.physics.compiling import compile_
from ripasso.core.physics.flight import RADIUS
from ripasso.core.physics.impacts import collide
from ripasso.core.physics.motion import arrays
from ripasso.core.physics.parameters import Array
from ripasso.core.planning.backward.flights import (
    ball_elevation,
    lone,
    normal_share,
    rail_elevation,
    start,
    straying,
    to_contact,
)
from ripasso.core.planning.backward.setting import Setting
from ripasso.core.planning.backward.windows import SPEEDS, Window
from ripasso.core.table.places import Place

Numbers = npt.NDArray[np.int64]

#: Points that tell a stroke's errors in maps, in standard deviations of aim, speed, tip across and up.
FEW: Array = 2.0 * np.concatenate([np.eye(4), -np.eye(4)])
#: So many pairs of points tell them of a stroke that is stated.
PAIRS = 64
#: Steps of an evenly spread sequence in four dimensions: powers of the root of x^5 = x + 1
#: (M. Roberts, "The unreasonable effectiveness of quasirandom sequences", 2018, from memory).
ROOT = 1.1673039782614187
#: A pot that is made less often is not a way.
LEAST = 0.03
#: How near to the middle of its window a ball is aimed, as a share of it, and steps to that.
NEARLY, STEPS = 0.03, 7
NO_BALLS: Array = np.zeros((0, 2))
#: What an error adds to the way's spread with which the ball is missed altogether (rad).
MISSED = 0.25


@dataclass(frozen=True)
class Ways:
    """The ways of one ball into one pocket: n places, s strokes, and p ends of each.

    `weight` (n, s, p) is the chance of the pot at a point over their number, 0 where the cue ball falls;
    their sum is the chance to make it. `rest` (n, s, p, 2) where the cue ball stops (m); `met` (n, s, p)
    which obstacles it meets, as bits; `approach` (n,) which stand in its way to the ball;
    `aim` and `elevation` (n, s) of the stroke (rad), NaN where there is none.
    """

    pocket: int
    weight: Array
    rest: Array
    met: Numbers
    approach: Numbers
    aim: Array
    elevation: Array

    @property
    def chance(self) -> Array:
        """The chance of each way (n, s) where nothing stands in it."""
        found: Array = self.weight.sum(axis=2)
        return found


@cache
def many() -> Array:
    """Points (2 * `PAIRS`, 4) of a normal distribution, evenly spread, each with its mirror image."""
    from scipy.special import ndtri

    steps = 1.0 / ROOT ** np.arange(1, 5)
    even = (0.5 + np.outer(np.arange(1, PAIRS + 1), steps)) % 1.0
    half = ndtri(even)
    both = np.concatenate([half, -half])
    # Made free of correlation, with a variance of one.
    found: Array = np.linalg.solve(np.linalg.cholesky(both.T @ both / len(both)), both.T).T
    return found


def ways_of(
    setting: Setting,
    places: Array,
    ball: Place,
    pocket: int,
    window: Window,
    obstacles: Array,
    *,
    wanted: npt.NDArray[np.bool_] | None = None,
    behind: Array = NO_BALLS,
    points: Array = FEW,
) -> Ways:
    """The ways from places (n, 2); `obstacles` (m, 4) are places, reaches and bits of what may be met.

    `wanted` (n,) are the places that are asked for, all without it; over balls `behind` (k, 2) the cue is
    raised.
    """
    count, strokes, ends = len(places), len(setting.strokes), len(points)
    made = Ways(
        pocket,
        np.zeros((count, strokes, ends), dtype=np.float32),
        np.zeros((count, strokes, ends, 2), dtype=np.float32),
        np.zeros((count, strokes, ends), dtype=np.int32),
        np.zeros(count, dtype=np.int64),
        np.full((count, strokes), np.nan),
        np.zeros((count, strokes)),
    )
    chosen = np.ones(count, dtype=np.bool_) if wanted is None else wanted
    _ways(
        np.ascontiguousarray(places),
        chosen,
        np.array(ball),
        window.base,
        window.far,
        window.edges,
        window.least,
        SPEEDS,
        setting.strokes,
        points,
        setting.errors,
        setting.constants,
        setting.shape,
        behind,
        arrays(setting.bed),
        setting.bed.contact_m,
        obstacles,
        (made.weight, made.rest, made.met, made.approach, made.aim, made.elevation),
    )
    return made


def open_places(
    setting: Setting, places: Array, ball: Place, pockets: Sequence[int]
) -> npt.NDArray[np.bool_]:
    """From which places (n,) a ball can be cut into each of some pockets: (pockets, n)."""
    count = len(places)
    found = pots(
        setting.spec,
        np.tile(places, (len(pockets), 1)),
        np.tile(np.array(ball), (count * len(pockets), 1)),
        np.repeat(np.array(pockets, dtype=np.int64), count),
    )
    shut = np.isin(found.obstacle, (CLOSED, CUSHION, CUT)) | (found.cue_travel < 1e-3)
    near = np.hypot(*(places - np.array(ball)).T) < 2.0 * setting.spec.ball_radius + 1e-4
    return np.asarray(~shut.reshape(len(pockets), count) & ~near[None, :])


@compile_
def _share_of(edges, angle, up, down):  # type: ignore[no-untyped-def]
    """The share of directions about an angle that lies in ranges (k, 2), by their two spreads."""
    share = 0.0
    for k in range(edges.shape[0]):
        if edges[k, 1] <= edges[k, 0]:
            break
        low, high = edges[k, 0] - angle, edges[k, 1] - angle
        share += normal_share(high / (up if high > 0.0 else down))
        share -= normal_share(low / (up if low > 0.0 else down))
    return share


@compile_
def _falling(speed, speeds, edges, angle, up, down):  # type: ignore[no-untyped-def]
    """The chance that a ball falls whose direction spreads about an angle, between two speeds."""
    last = speeds.shape[0] - 1
    if speed <= speeds[0]:
        return _share_of(edges[0], angle, up, down)
    if speed >= speeds[last]:
        return _share_of(edges[last], angle, up, down)
    i = 0
    while speeds[i + 1] < speed:
        i += 1
    share = (speed - speeds[i]) / (speeds[i + 1] - speeds[i])
    slower, faster = _share_of(edges[i], angle, up, down), _share_of(edges[i + 1], angle, up, down)
    return slower + share * (faster - slower)


@compile_
def _edges_at(speed, speeds, edges):  # type: ignore[no-untyped-def]
    """The widest range at a speed, between the speeds at which it was asked for."""
    last = speeds.shape[0] - 1
    if speed <= speeds[0]:
        return edges[0, 0, 0], edges[0, 0, 1]
    if speed >= speeds[last]:
        return edges[last, 0, 0], edges[last, 0, 1]
    i = 0
    while speeds[i + 1] < speed:
        i += 1
    share = (speed - speeds[i]) / (speeds[i + 1] - speeds[i])
    low = edges[i, 0, 0] + share * (edges[i + 1, 0, 0] - edges[i, 0, 0])
    high = edges[i, 0, 1] + share * (edges[i + 1, 0, 1] - edges[i, 0, 1])
    return low, high


@compile_
def _strike(cue, phi, stroke, elevation, error, ball, base, far, constants, one, two, out):  # type: ignore[no-untyped-def]
    """Play one stroke up to the contact and over it: the object ball's angle (NaN: missed) and speed.

    The states after the contact are in `one` and `two`.
    """
    one[:] = 0.0
    one[0], one[1] = cue[0], cue[1]
    start(one, phi, stroke[0], stroke[1], stroke[2], elevation, error, constants)
    if not to_contact(one, ball, constants, out):
        return math.nan, 0.0
    two[:] = 0.0
    two[0], two[1] = ball[0], ball[1]
    collide(one, two, constants)
    speed = math.hypot(two[2], two[3])
    return straying(two.copy(), ball, base, far, constants, out), speed


@compile_
def _aimed(cue, guess, stroke, elevation, ball, base, far, speeds, edges, constants, one, two, out, zero):  # type: ignore[no-untyped-def]
    """The aim at which the object ball runs near the middle of its window, the slope of its way against the
    aim, its speed and angle; NaN where there is none."""
    phi, step, slope = guess, 1e-4, 0.0
    angle, speed = _strike(cue, phi, stroke, elevation, zero, ball, base, far, constants, one, two, out)
    if math.isnan(angle):
        return math.nan, 0.0, 0.0, 0.0
    low, high = _edges_at(speed, speeds, edges)
    here = angle - 0.5 * (low + high)
    for _ in range(STEPS):
        if abs(here) < NEARLY * (high - low) and slope != 0.0:
            break
        angle, speed = _strike(
            cue, phi + step, stroke, elevation, zero, ball, base, far, constants, one, two, out
        )
        if math.isnan(angle):
            # Beside the ball: not so far, or where nothing is known yet on the other side.
            step *= -0.5 if slope == 0.0 else 0.4
            continue
        low, high = _edges_at(speed, speeds, edges)
        there = angle - 0.5 * (low + high)
        if there == here:
            break
        slope = (there - here) / step
        phi, here = phi + step, there
        step = min(0.05, max(-0.05, -here / slope))
    if abs(here) > 0.4 * (high - low) or slope == 0.0:
        return math.nan, slope, speed, 0.0
    return phi, slope, speed, here + 0.5 * (low + high)


@compile_
def _found(  # type: ignore[no-untyped-def]
    cue,
    straight,
    to_centre,
    stroke,
    elevation,
    ball,
    base,
    far,
    speeds,
    edges,
    constants,
    one,
    two,
    out,
    zero,
):
    """The aim as `_aimed` finds it from the straight way, or from a thicker one where swerve leads past."""
    for thicker in (0.0, 0.4):
        guess = straight + thicker * to_centre
        found = _aimed(
            cue, guess, stroke, elevation, ball, base, far, speeds, edges, constants, one, two, out, zero
        )
        if not math.isnan(found[0]):
            break
    return found


@compile_
def _kept(turns, spread, more, left, kept):  # type: ignore[no-untyped-def]
    """What is left of each error's spread where the ball falls, by its part in the way's."""
    turns[0] = math.sqrt(max(0.0, spread * spread - more * more))
    for axis in range(4):
        part = (turns[axis] / spread) ** 2
        kept[axis] = math.sqrt(max(0.0, 1.0 - part * (1.0 - max(0.0, left))))


@compile_
def _ways(  # type: ignore[no-untyped-def]
    places,
    chosen,
    ball,
    base,
    far,
    edges,
    least,
    speeds,
    strokes,
    points,
    errors,
    constants,
    shape,
    behind,
    bed,
    contact,
    obstacles,
    made,
):
    weight, rest, met, approach, aims, elevations = made
    radius = constants[RADIUS]
    one, two, out = np.zeros(7), np.zeros(7), np.zeros(3)
    found, error, zero = np.zeros(2, dtype=np.int64), np.zeros(4), np.zeros(4)
    turns, kept = np.zeros(4), np.zeros(4)
    ghost_x, ghost_y = ball[0] - 2 * radius * math.cos(base), ball[1] - 2 * radius * math.sin(base)
    for i in range(places.shape[0]):
        if not chosen[i]:
            continue
        cue = places[i]
        dx, dy = ghost_x - cue[0], ghost_y - cue[1]
        straight = math.atan2(dy, dx)
        approach[i] = _between(cue, ghost_x, ghost_y, obstacles)
        turn = math.atan2(ball[1] - cue[1], ball[0] - cue[0]) - straight
        to_centre = math.atan2(math.sin(turn), math.cos(turn))
        for k in range(strokes.shape[0]):
            stroke = strokes[k]
            elevation = max(
                rail_elevation(cue[0], cue[1], straight, stroke[2], shape, radius),
                ball_elevation(cue[0], cue[1], straight, stroke[2], behind, shape, radius),
            )
            squirt = constants[13] * stroke[1]
            phi, slope, speed, middle = _found(
                cue,
                straight - squirt,
                to_centre,
                stroke,
                elevation,
                ball,
                base,
                far,
                speeds,
                edges,
                constants,
                one,
                two,
                out,
                zero,
            )
            if math.isnan(phi):
                continue
            low, high = _edges_at(speed, speeds, edges)
            # A thin cut turns faster on its thin side: both sides are asked, and the aim is put in between.
            step = 1.5 * errors[0]
            sides = (cue, stroke, elevation, ball, base, far, constants, one, two, out, error)
            up, down = _turn(phi, -step, middle, slope, sides), _turn(phi, step, middle, slope, sides)
            if high <= low or up <= 0.0 or down <= 0.0:
                continue
            error[0] = 0.5 * ((middle - low) / down - (high - middle) / up)
            angle, speed = _strike(
                cue, phi, stroke, elevation, error, ball, base, far, constants, one, two, out
            )
            if math.isnan(angle):
                continue
            phi += error[0]
            more, slow, fast = _tip_and_pace(phi, errors, speed, turns, sides)
            up, down = math.hypot(up * errors[0], more), math.hypot(down * errors[0], more)
            z = 0.5 * ((high - angle) / up + (angle - low) / down)
            sure = 2.0 * normal_share(z) - 1.0
            whole = 0.5 * _falling(speed, speeds, edges, angle, up, down)
            whole += 0.25 * _falling(slow, speeds, edges, angle, up, down)
            whole += 0.25 * _falling(fast, speeds, edges, angle, up, down)
            # Soft enough a stroke may leave the ball short.
            whole *= normal_share((speed - least) / max(1e-9, errors[1] * speed))
            if whole < 0.03 or sure <= 0.0:
                continue
            aims[i, k], elevations[i, k] = phi, elevation
            left = 1.0 - 2.0 * z * math.exp(-0.5 * z * z) / (math.sqrt(2.0 * math.pi) * sure)
            _kept(turns, 0.5 * (up + down), more, left, kept)
            way = (weight[i, k], rest[i, k], met[i, k])
            table = (ball, base, far, constants, bed, contact, obstacles)
            _points(
                cue, phi, stroke, elevation, points, errors, kept, whole, table, one, two, out, found, way
            )


@compile_
def _tip_and_pace(phi, errors, speed, turns, sides):  # type: ignore[no-untyped-def]
    """What the errors of pace and tip add to the spread of the object ball's way (rad), and its speeds with
    the cue ball slower and faster; `turns` (4,) holds each one's part."""
    cue, stroke, elevation, ball, base, far, constants, one, two, out, error = sides
    total, slow, fast = 0.0, speed, speed
    for axis in range(1, 4):
        error[:] = 0.0
        error[axis] = 2.0 * errors[axis]
        more, faster = _strike(cue, phi, stroke, elevation, error, ball, base, far, constants, one, two, out)
        error[axis] = -2.0 * errors[axis]
        less, slower = _strike(cue, phi, stroke, elevation, error, ball, base, far, constants, one, two, out)
        turns[axis] = MISSED if math.isnan(more) or math.isnan(less) else 0.25 * abs(more - less)
        total += turns[axis] ** 2
        if axis == 1:
            slow, fast = slower, faster
    error[:] = 0.0
    return math.sqrt(total), slow, fast


@compile_
def _turn(phi, step, middle, slope, sides):  # type: ignore[no-untyped-def]
    """How fast the object ball's way turns with the aim to one side (rad per rad); steep where it misses."""
    cue, stroke, elevation, ball, base, far, constants, one, two, out, error = sides
    error[:] = 0.0
    error[0] = step
    angle, _ = _strike(cue, phi, stroke, elevation, error, ball, base, far, constants, one, two, out)
    error[0] = 0.0
    if math.isnan(angle):
        return 2.0 * abs(slope)
    return abs(angle - middle) / abs(step)


@compile_
def _points(cue, phi, stroke, elevation, points, errors, kept, whole, table, one, two, out, found, way):  # type: ignore[no-untyped-def]
    """Play one stroke with the errors of every point, as far as they leave the pot; what comes is written."""
    ball, base, far, constants, bed, contact, obstacles = table
    weight, rest, met = way
    error, count = np.zeros(4), points.shape[0]
    for p in range(count):
        for axis in range(4):
            error[axis] = points[p, axis] * errors[axis] * kept[axis]
        angle, _ = _strike(cue, phi, stroke, elevation, error, ball, base, far, constants, one, two, out)
        if math.isnan(angle):
            continue
        fate, touched = lone(one, constants, bed, contact, obstacles, two, far, out, found)
        rest[p, 0], rest[p, 1] = one[0], one[1]
        met[p] = touched
        if fate == -1:
            weight[p] = whole / count


@compile_
def _between(cue, x, y, obstacles):  # type: ignore[no-untyped-def]
    """Which obstacles stand in the cue ball's way to a place, as bits."""
    found = 0
    lx, ly = x - cue[0], y - cue[1]
    length2 = lx * lx + ly * ly
    for i in range(obstacles.shape[0]):
        wx, wy = obstacles[i, 0] - cue[0], obstacles[i, 1] - cue[1]
        share = 0.0
        if length2 > 0.0:
            share = min(1.0, max(0.0, (wx * lx + wy * ly) / length2))
        dx, dy = wx - share * lx, wy - share * ly
        if dx * dx + dy * dy < obstacles[i, 2] * obstacles[i, 2]:
            found |= int(obstacles[i, 3])
    return found
