"""When a ball on its way meets something: another ball, a cushion, a jaw, the fall into a pocket.

Between events a ball's centre runs along a parabola, so that two balls are as far apart as a quartic in time
says; a line is met where a quadratic is 0.
"""

from __future__ import annotations

import math

import numpy as np

from ripasso.core.physics.compiling import compile_

#: Kinds of events.
SLIDE_END, ROLL_END, SPIN_END, BALL_BALL, CUSHION, JAW, POCKET = 0, 1, 2, 3, 4, 5, 6

#: Balls nearer to each other than this touch (square metres of the squared distance).
TOUCHING = 1e-13
#: An acceleration smaller than this is none (m/s2).
NO_PUSH = 1e-9
STEPS = 60


@compile_
def _span(d, v, a, end):  # type: ignore[no-untyped-def]
    """The least distance from 0 of d + v t + a t²/2 for t from 0 to an end."""
    last = d + (v + 0.5 * a * end) * end
    low, high = min(d, last), max(d, last)
    if a != 0.0:
        turn = -v / a
        if 0.0 < turn < end:
            there = d + 0.5 * v * turn
            low, high = min(low, there), max(high, there)
    if low <= 0.0 <= high:
        return 0.0
    return min(abs(low), abs(high))


@compile_
def _gap(dx, dy, vx, vy, ax, ay, reach, t):  # type: ignore[no-untyped-def]
    """Squared distance less the squared reach, and half its derivative, at a time."""
    x, y = dx + (vx + 0.5 * ax * t) * t, dy + (vy + 0.5 * ay * t) * t
    return x * x + y * y - reach * reach, x * (vx + ax * t) + y * (vy + ay * t)


@compile_
def _falling_root(dx, dy, vx, vy, ax, ay, reach, low, high):  # type: ignore[no-untyped-def]
    """Where the gap passes 0 downward between a time where it is above and one where it is below."""
    t = low
    for _ in range(STEPS):
        gap, half = _gap(dx, dy, vx, vy, ax, ay, reach, t)
        if gap > 0.0:
            low = max(low, t)
        else:
            high = min(high, t)
        following = t - gap / (2.0 * half) if half != 0.0 else math.inf
        if not low <= following <= high:
            following = 0.5 * (low + high)
        if abs(following - t) <= 1e-16 * (1.0 + abs(t)) or following == low == high:
            return following
        t = following
    return t


@compile_
def _turning(dx, dy, vx, vy, ax, ay, reach, low, high):  # type: ignore[no-untyped-def]
    """Where the gap's derivative, of different signs at both ends and monotone between, is 0."""
    rises = _gap(dx, dy, vx, vy, ax, ay, reach, high)[1] > 0.0
    t = 0.5 * (low + high)
    for _ in range(STEPS):
        x, y = dx + (vx + 0.5 * ax * t) * t, dy + (vy + 0.5 * ay * t) * t
        wx, wy = vx + ax * t, vy + ay * t
        half = x * wx + y * wy
        if (half > 0.0) == rises:
            high = t
        else:
            low = t
        bend = wx * wx + wy * wy + x * ax + y * ay
        following = t - half / bend if bend != 0.0 else math.inf
        if not low <= following <= high:
            following = 0.5 * (low + high)
        if abs(following - t) <= 1e-15 * (1.0 + abs(t)):
            return following
        t = following
    return t


@compile_
def meeting(dx, dy, vx, vy, ax, ay, reach, end):  # type: ignore[no-untyped-def]
    """The first time from 0 to `end` at which a relative place comes as near as `reach`; else infinite.

    The place is d + v t + a t²/2. Its squared distance is a quartic: split where its second derivative is 0
    each piece is bent one way only, so that its root is bracketed and none is overlooked.
    """
    if end <= 0.0:
        return math.inf
    near_x, near_y = _span(dx, vx, ax, end), _span(dy, vy, ay, end)
    if near_x * near_x + near_y * near_y > reach * reach:
        return math.inf
    gap, half = _gap(dx, dy, vx, vy, ax, ay, reach, 0.0)
    if gap <= TOUCHING:
        # Touching: together at once where they approach, or are pushed together.
        bend = vx * vx + vy * vy + dx * ax + dy * ay
        if half < 0.0 or (half == 0.0 and bend < 0.0):
            return 0.0
    if ax == 0.0 and ay == 0.0:
        return _straight_meeting(gap, half, vx * vx + vy * vy, end)
    # The second derivative, halved: c + 3 b t + 1.5 a² t².
    c, b, q = vx * vx + vy * vy + dx * ax + dy * ay, vx * ax + vy * ay, ax * ax + ay * ay
    cuts = (end, end, end)
    spread = 9.0 * b * b - 6.0 * q * c
    if spread > 0.0:
        root = math.sqrt(spread)
        first, second = (-3.0 * b - root) / (3.0 * q), (-3.0 * b + root) / (3.0 * q)
        first, second = min(max(first, 0.0), end), min(max(second, 0.0), end)
        cuts = (first, second, end)
    low = 0.0
    for cut in cuts:
        if cut > low:
            found = _in_piece(dx, dy, vx, vy, ax, ay, reach, low, cut)
            if found < math.inf:
                return found
            low = cut
    return math.inf


@compile_
def _straight_meeting(gap, half, speed2, end):  # type: ignore[no-untyped-def]
    if half >= 0.0 or speed2 == 0.0:
        return math.inf
    inside = half * half - speed2 * gap
    if inside <= 0.0:
        return math.inf
    # The smaller root in the form that loses nothing.
    t = gap / (-half + math.sqrt(inside))
    return max(t, 0.0) if t <= end else math.inf


@compile_
def _in_piece(dx, dy, vx, vy, ax, ay, reach, low, high):  # type: ignore[no-untyped-def]
    """The first downward passing of a piece that is bent one way only; infinite where there is none."""
    gap_low, half_low = _gap(dx, dy, vx, vy, ax, ay, reach, low)
    gap_high, half_high = _gap(dx, dy, vx, vy, ax, ay, reach, high)
    bottom, top = high, low
    if half_low * half_high < 0.0:
        turn = _turning(dx, dy, vx, vy, ax, ay, reach, low, high)
        gap_turn = _gap(dx, dy, vx, vy, ax, ay, reach, turn)[0]
        if half_low < 0.0:
            bottom, gap_high = turn, gap_turn  # a dip: as far as its bottom
        else:
            top, gap_low = turn, gap_turn  # a hump: from its top downward
    if gap_high >= -TOUCHING or gap_high > gap_low:
        return math.inf
    if gap_low <= 0.0:
        return top  # they touched there already, and are pushed together
    return _falling_root(dx, dy, vx, vy, ax, ay, reach, top, bottom)


@compile_
def line_meeting(s, v, a, end):  # type: ignore[no-untyped-def]
    """The first time from 0 to `end` at which s + v t + a t²/2 comes down to 0; else infinite."""
    if s <= 1e-12 and (v < 0.0 or (v == 0.0 and a < -NO_PUSH)):
        return 0.0
    if abs(a) < 1e-300:
        if v >= 0.0:
            return math.inf
        t = -s / v
        return t if 0.0 <= t <= end else math.inf
    inside = v * v - 2.0 * a * s
    if inside <= 0.0:
        return math.inf
    root = math.sqrt(inside)
    # Coming down the derivative is negative: v + a t = -root.
    t = 2.0 * s / (-v + root) if v <= 0.0 else (-v - root) / a
    return t if 0.0 <= t <= end else math.inf


@compile_
def _line_contact(state, ax, ay, end, line, contact):  # type: ignore[no-untyped-def]
    """When a ball meets a line between its ends; infinite where it does not."""
    nx, ny = line[6], line[7]
    px, py = state[0] - line[0], state[1] - line[1]
    s = px * nx + py * ny - contact
    v, a = state[2] * nx + state[3] * ny, ax * nx + ay * ny
    t = line_meeting(s, v, a, end)
    if t == math.inf:
        return t
    at = px * line[2] + py * line[3]
    at += (state[2] * line[2] + state[3] * line[3] + 0.5 * (ax * line[2] + ay * line[3]) * t) * t
    return t if line[4] <= at <= line[5] else math.inf


@compile_
def next_contact(state, ax, ay, end, bed, contact, found):  # type: ignore[no-untyped-def]
    """The first cushion, jaw or pocket that a ball meets: its time; found holds kind and number."""
    lines, circles, falls, holes, boxes = bed
    near = np.zeros(boxes.shape[0], dtype=np.bool_)
    for i in range(boxes.shape[0]):
        box = boxes[i]
        x, y = 0.5 * (box[0] + box[2]), 0.5 * (box[1] + box[3])
        half = 0.5 * (box[2] - box[0])
        near[i] = (
            _span(state[0] - x, state[2], ax, end) <= half and _span(state[1] - y, state[3], ay, end) <= half
        )
    best = math.inf
    for i in range(lines.shape[0]):
        pocket = int(lines[i, 8])
        if pocket >= 0 and not near[pocket]:
            continue
        t = _line_contact(state, ax, ay, end, lines[i], contact)
        if t < best:
            best, found[0], found[1] = t, CUSHION if pocket < 0 else JAW, i
    for i in range(circles.shape[0]):
        if near[int(circles[i, 3])]:
            dx, dy = state[0] - circles[i, 0], state[1] - circles[i, 1]
            t = meeting(dx, dy, state[2], state[3], ax, ay, circles[i, 2] + contact, end)
            if t < best:
                best, found[0], found[1] = t, JAW, lines.shape[0] + i
    return _next_fall(state, ax, ay, end, falls, holes, near, best, found)


@compile_
def _next_fall(state, ax, ay, end, falls, holes, near, best, found):  # type: ignore[no-untyped-def]
    """The time at which a ball falls where that is before `best`, else `best`."""
    for i in range(falls.shape[0]):
        if near[i]:
            s = (falls[i, 0] - state[0]) * falls[i, 2] + (falls[i, 1] - state[1]) * falls[i, 3]
            v = -(state[2] * falls[i, 2] + state[3] * falls[i, 3])
            t = line_meeting(s, v, -(ax * falls[i, 2] + ay * falls[i, 3]), end)
            if t < best:
                x = state[0] + (state[2] + 0.5 * ax * t) * t - falls[i, 0]
                y = state[1] + (state[3] + 0.5 * ay * t) * t - falls[i, 1]
                if abs(-x * falls[i, 3] + y * falls[i, 2]) <= 2.0 * falls[i, 4]:
                    best, found[0], found[1] = t, POCKET, i
    for i in range(holes.shape[0]):
        dx, dy = state[0] - holes[i, 0], state[1] - holes[i, 1]
        t = meeting(dx, dy, state[2], state[3], ax, ay, holes[i, 2], end)
        if t < best:
            best, found[0], found[1] = t, POCKET, i
    return best
