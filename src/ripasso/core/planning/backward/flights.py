"""One ball at a time, compiled: the way to a contact, and the way of a lone ball until it lies still.

Balls that are not played lie still here: they are obstacles, and what is kept is whether a way meets one.
"""

from __future__ import annotations

import math

import numpy as np

from ripasso.core.physics.compiling import compile_
from ripasso.core.physics.contacts import POCKET, meeting, next_contact
from ripasso.core.physics.flight import RADIUS, REST, ROLLING, SLIDING, SPINNING, course, fly, settle
from ripasso.core.physics.impacts import rebound
from ripasso.core.physics.strokes import MISCUE

#: More pieces than the way of one ball ever has; fates of a way that has more, and of a second contact.
MOST_PIECES, STUCK, KISSED = 400, -2, -3
#: Squirt and the cue's share, length and width of the bed stand behind the constants of `Physics.as_array`.
SQUIRT, CUE_SHARE, LENGTH, WIDTH = 13, 14, 15, 16
#: The side that a ball usually gets from a cut, as a share of its rolling spin (two balls' friction).
THROWN_SIDE = 0.12
#: The slowest that a stroke gets by an error, as a share of what was wanted (as in `repeating`).
SLOWEST = 0.1


@compile_
def start(state, phi, speed, a, b, elevation, errors, constants):  # type: ignore[no-untyped-def]
    """Set the cue ball's speed and spin for a stroke with errors: aim (rad), speed (share), tip (radii).

    The same as `repeating.played` for one stroke.
    """
    way = phi + errors[0]
    speed = speed * max(SLOWEST, 1.0 + errors[1])
    across, up = a + errors[2], b + errors[3]
    out = max(1.0, math.hypot(across, up) / max(MISCUE, math.hypot(a, b)))
    across, up = across / out, up / out
    wanted = constants[CUE_SHARE] + 2.5 * (a * a + b * b)
    speed = speed * wanted / (constants[CUE_SHARE] + 2.5 * (across * across + up * up))
    sine, cosine = math.sin(elevation), math.cos(elevation)
    turn = 2.5 * speed / (cosine * constants[RADIUS])
    run = way + constants[SQUIRT] * across
    state[2], state[3] = speed * math.cos(run), speed * math.sin(run)
    state[4] = turn * (across * sine * math.cos(way) - up * math.sin(way))
    state[5] = turn * (across * sine * math.sin(way) + up * math.cos(way))
    state[6] = turn * across * cosine


@compile_
def meets(state, ax, ay, end, obstacles):  # type: ignore[no-untyped-def]
    """Which obstacles (m, 4: place, reach and bit) a piece of a way meets: their bits, together."""
    met = 0
    for i in range(obstacles.shape[0]):
        dx, dy = state[0] - obstacles[i, 0], state[1] - obstacles[i, 1]
        if meeting(dx, dy, state[2], state[3], ax, ay, obstacles[i, 2], end) < math.inf:
            met |= int(obstacles[i, 3])
    return met


@compile_
def _on_bed(state, constants):  # type: ignore[no-untyped-def]
    """The ball's centre is where rubber lets it be."""
    radius = constants[RADIUS] - 1e-6
    inside_x = radius <= state[0] <= constants[LENGTH] - radius
    return inside_x and radius <= state[1] <= constants[WIDTH] - radius


@compile_
def to_contact(state, ball, constants, out):  # type: ignore[no-untyped-def]
    """Let the cue ball run without a cushion until it meets a ball at rest; whether it does."""
    reach = 2.0 * constants[RADIUS]
    kind = settle(state, constants)
    for _ in range(3):
        if kind != SLIDING and kind != ROLLING:  # noqa: PLR1714  (compiled: a set would be built)
            return False
        course(state, kind, constants, out)
        dx, dy = state[0] - ball[0], state[1] - ball[1]
        t = meeting(dx, dy, state[2], state[3], out[0], out[1], reach, out[2])
        if t < math.inf:
            fly(state, out[0], out[1], kind, t, constants)
            return _on_bed(state, constants)
        fly(state, out[0], out[1], kind, out[2], constants)
        if kind == SLIDING:
            state[4], state[5] = -state[3] / constants[RADIUS], state[2] / constants[RADIUS]
            kind = settle(state, constants)
        else:
            return False
    return False


@compile_
def _beside(state, ax, ay, until, rival, left, other, constants, out):  # type: ignore[no-untyped-def]
    """Let another ball run at the same time: until when both do the same, -1 where they meet.

    After `left` metres the other one is gone.
    """
    course(rival, other, constants, out)
    until = min(until, out[2])
    dx, dy = rival[0] - state[0], rival[1] - state[1]
    vx, vy = rival[2] - state[2], rival[3] - state[3]
    there = min(until, left / max(1e-9, math.hypot(rival[2], rival[3])))
    if meeting(dx, dy, vx, vy, out[0] - ax, out[1] - ay, 2.0 * constants[RADIUS], there) < math.inf:
        return -1.0
    ends = until == out[2]
    fly(rival, out[0], out[1], other, until, constants)
    if ends and other == SLIDING:
        rival[4], rival[5] = -rival[3] / constants[RADIUS], rival[2] / constants[RADIUS]
    elif ends:
        rival[2] = rival[3] = rival[4] = rival[5] = 0.0
    return until


@compile_
def _piece_ends(state, kind, met_it, found, bed, constants):  # type: ignore[no-untyped-def]
    """The end of a piece of a way: rubber, the end of the slide, or rest."""
    lines, circles, _falls, _holes, _boxes = bed
    number = found[1]
    if met_it and number < lines.shape[0]:
        rebound(state, -lines[number, 6], -lines[number, 7], constants)
    elif met_it:
        circle = circles[number - lines.shape[0]]
        nx, ny = circle[0] - state[0], circle[1] - state[1]
        size = math.hypot(nx, ny)
        rebound(state, nx / size, ny / size, constants)
    elif kind == SLIDING:
        state[4], state[5] = -state[3] / constants[RADIUS], state[2] / constants[RADIUS]
    else:
        state[2] = state[3] = state[4] = state[5] = 0.0


@compile_
def lone(state, constants, bed, contact, obstacles, rival, far, out, found):  # type: ignore[no-untyped-def]
    """Let a ball run until it rests or falls: its pocket (-1: none, `STUCK`, `KISSED`) and what it met.

    The state is changed to its end. `rival` is a ball that runs at the same time, straight on for `far`
    metres, and is gone then: who meets it again is `KISSED`. Nobody runs with it where `far` is 0.
    """
    kind, met = settle(state, constants), 0
    from_x, from_y = rival[0], rival[1]
    other = settle(rival, constants) if far > 0.0 else REST
    for _ in range(MOST_PIECES):
        if kind == REST or kind == SPINNING:  # noqa: PLR1714, SIM109
            return -1, met
        course(state, kind, constants, out)
        ax, ay, end = out[0], out[1], out[2]
        t = next_contact(state, ax, ay, end, bed, contact, found)
        until = min(t, end)
        if other == SLIDING or other == ROLLING:  # noqa: PLR1714, SIM109
            left = far - math.hypot(rival[0] - from_x, rival[1] - from_y)
            until = _beside(state, ax, ay, until, rival, left, other, constants, out)
            if until < 0.0:
                return KISSED, met
            gone = math.hypot(rival[0] - from_x, rival[1] - from_y) >= far
            other = REST if gone else settle(rival, constants)
        met |= meets(state, ax, ay, until, obstacles)
        fly(state, ax, ay, kind, until, constants)
        if until == t and found[0] == POCKET:
            return found[1], met
        if until == min(t, end):
            _piece_ends(state, kind, until == t, found, bed, constants)
        kind = settle(state, constants)
    return STUCK, met


@compile_
def straying(state, ball, base, far, constants, out):  # type: ignore[no-untyped-def]
    """The angle from `base` under which a ball that was struck passes at a distance `far` from its place.

    It may slide along a bend at first; from where it rolls its way is straight. The state is changed.
    """
    kind = settle(state, constants)
    if kind == SLIDING:
        course(state, kind, constants, out)
        fly(state, out[0], out[1], kind, out[2], constants)
    speed = math.hypot(state[2], state[3])
    if speed < 1e-6:
        return math.nan
    # Where the straight line crosses the circle of that radius about the ball's place.
    ux, uy = state[2] / speed, state[3] / speed
    dx, dy = state[0] - ball[0], state[1] - ball[1]
    along = dx * ux + dy * uy
    inside = along * along - (dx * dx + dy * dy) + far * far
    if inside > 0.0:
        step = -along + math.sqrt(inside)
        if step > 0.0:
            dx, dy = dx + step * ux, dy + step * uy
    angle = math.atan2(dy, dx) - base
    return math.atan2(math.sin(angle), math.cos(angle))


@compile_
def rail_elevation(x, y, phi, b, shape, radius):  # type: ignore[no-untyped-def]
    """The least elevation that the rails behind the cue ball force (as `strokes.least_elevation`).

    `shape`: length and width of the bed, then pairs of how far behind the nose line and how high (m), how
    far from the ball's centre the cue still has its thickness, the steepest elevation (rad), its radius.
    """
    ux, uy = -math.cos(phi), -math.sin(phi)
    nose = math.inf
    if abs(ux) >= 1e-9:
        nose = min(nose, ((shape[0] if ux > 0 else 0.0) - x) / ux)
    if abs(uy) >= 1e-9:
        nose = min(nose, ((shape[1] if uy > 0 else 0.0) - y) / uy)
    raised = 0.0
    for i in range(3):
        away, height = nose + shape[2 + 2 * i], shape[3 + 2 * i]
        if away < shape[8]:
            raised = max(raised, math.atan2(height - radius * (1.0 + b), away))
    return min(raised, shape[9])


@compile_
def ball_elevation(x, y, phi, b, balls, shape, radius):  # type: ignore[no-untyped-def]
    """The least elevation that balls (m, 2) behind the cue ball force (as `strokes.least_elevation`)."""
    ux, uy = -math.cos(phi), -math.sin(phi)
    reach, raised = radius + shape[10], 0.0
    for i in range(balls.shape[0]):
        dx, dy = balls[i, 0] - x, balls[i, 1] - y
        along, across = dx * ux + dy * uy, abs(dx * uy - dy * ux)
        if 0.0 < along < shape[8] and across < reach:
            over = math.sqrt(reach * reach - across * across)
            raised = max(raised, math.atan2(radius + over - radius * (1.0 + b), along))
    return min(raised, shape[9])


@compile_
def normal_share(z):  # type: ignore[no-untyped-def]
    """The share of a normal distribution below a value in standard deviations."""
    return 0.5 * math.erfc(-z * math.sqrt(0.5))


@compile_
def falls(state, place, speed, angle, constants, bed, contact, pocket, out, found):  # type: ignore[no-untyped-def]
    """Whether a ball that is sent off from a place falls into a pocket, with a little side of either kind."""
    nothing = np.zeros((0, 4))
    for side in (-1.0, 1.0):
        state[:] = 0.0
        state[0], state[1] = place[0], place[1]
        state[2], state[3] = speed * math.cos(angle), speed * math.sin(angle)
        state[6] = side * THROWN_SIDE * speed / constants[RADIUS]
        fate, _ = lone(state, constants, bed, contact, nothing, state, 0.0, out, found)
        if fate != pocket:
            return False
    return True


@compile_
def _runs(fell, runs):  # type: ignore[no-untyped-def]
    """The longest runs of what holds, the longest first: first and last of each (k, 2), else -1."""
    runs[:] = -1
    begun, count = -1, fell.shape[0]
    for j in range(count + 1):
        if j < count and fell[j]:
            if begun < 0:
                begun = j
            continue
        if begun < 0:
            continue
        first, last = begun, j - 1
        begun = -1
        for k in range(runs.shape[0]):
            if runs[k, 0] < 0 or last - first > runs[k, 1] - runs[k, 0]:
                kept_first, kept_last = runs[k, 0], runs[k, 1]
                runs[k, 0], runs[k, 1] = first, last
                first, last = kept_first, kept_last
                if first < 0:
                    break


@compile_
def windows(place, base, angles, speeds, constants, bed, contact, pocket, edges):  # type: ignore[no-untyped-def]
    """The widest ranges of directions from which a ball falls, at each speed: edges (n, k, 2) from `base`.

    They are looked for among `angles`, and each edge halved down between two of them.
    """
    state, out, found = np.zeros(7), np.zeros(3), np.zeros(2, dtype=np.int64)
    fell = np.zeros(angles.shape[0], dtype=np.bool_)
    runs = np.zeros((edges.shape[1], 2), dtype=np.int64)
    step = angles[1] - angles[0]
    for i in range(speeds.shape[0]):
        for j in range(angles.shape[0]):
            fell[j] = falls(
                state, place, speeds[i], base + angles[j], constants, bed, contact, pocket, out, found
            )
        _runs(fell, runs)
        for k in range(runs.shape[0]):
            if runs[k, 0] < 0:
                break
            for side in range(2):
                inside = angles[runs[k, side]]
                outside = inside + (step if side == 1 else -step)
                for _ in range(6):
                    middle = base + 0.5 * (inside + outside)
                    if falls(state, place, speeds[i], middle, constants, bed, contact, pocket, out, found):
                        inside = middle - base
                    else:
                        outside = middle - base
                edges[i, k, side] = 0.5 * (inside + outside)


@compile_
def least_speed(place, angle, below, above, constants, bed, contact, pocket):  # type: ignore[no-untyped-def]
    """The least speed at which a ball gets there, between one that is too slow and one that is not."""
    state, out, found = np.zeros(7), np.zeros(3), np.zeros(2, dtype=np.int64)
    for _ in range(8):
        tried = 0.5 * (below + above)
        if falls(state, place, tried, angle, constants, bed, contact, pocket, out, found):
            above = tried
        else:
            below = tried
    return above
