"""The search for events: the earliest is found exactly and happens, then the next, until all lies still.

Source, from memory: W. Leckie and M. Greenspan, "An event-based pool physics simulator", LNCS 4250 (2006).
"""

from __future__ import annotations

import math

import numpy as np

from ripasso.core.physics.compiling import compile_
from ripasso.core.physics.contacts import (
    BALL_BALL,
    CUSHION,
    JAW,
    POCKET,
    ROLL_END,
    SLIDE_END,
    SPIN_END,
    meeting,
    next_contact,
)
from ripasso.core.physics.flight import (
    POCKETED,
    RADIUS,
    REST,
    ROLLING,
    SLIDING,
    SPIN_DOWN,
    course,
    fly,
    settle,
)
from ripasso.core.physics.impacts import collide, rebound


@compile_
def run(states, kinds, constants, bed, contact, cap, events, logged):  # type: ignore[no-untyped-def]
    """Let balls move until all lie still; the number of events, negative where the cap was reached.

    `states` (n, 7) and `kinds` (n,) are changed to the end. Each event is a row of `events`: time, kind, a
    ball, the other ball or what it met (-1: nothing). Rows of `logged`, where it has any, hold the states of
    both balls before (columns 0 to 13) and after (14 to 27); then spins that end while a ball moves are
    events as well.
    """
    count = states.shape[0]
    now = 0.0
    since = np.zeros(count)  # when each state was true
    push = np.zeros((count, 3))  # acceleration, and when what it does ends
    walls = np.full(count, math.inf)
    what = np.zeros((count, 2), dtype=np.int64)
    pairs = np.full((count, count), math.inf)
    spins = np.full(count, math.inf)
    touched = np.ones(count, dtype=np.bool_)
    out, found = np.zeros(3), np.zeros(2, dtype=np.int64)
    is_logging = logged.shape[0] > 0
    for i in range(count):
        if kinds[i] != POCKETED:
            kinds[i] = settle(states[i], constants)
    done = 0
    while True:
        _renew(states, kinds, constants, bed, contact, touched, push, walls, what, now, out, found)
        if is_logging:
            _spins_of(states, kinds, constants, touched, spins, now)
        _meet(states, kinds, constants, since, push, pairs, touched, now)
        time, kind, one, two = _earliest(kinds, push, walls, spins, pairs, what)
        if kind < 0:
            return done
        if done >= cap:
            return -done - 1
        now = time
        touched[:] = False
        last = two if kind == BALL_BALL else one
        for i in (one, last):
            fly(states[i], push[i, 0], push[i, 1], kinds[i], now - since[i], constants)
            since[i] = now
            touched[i] = True
        events[done, 0], events[done, 1], events[done, 2], events[done, 3] = now, kind, one, two
        if is_logging:
            logged[done, 0:7], logged[done, 7:14] = states[one], states[last]
        _happen(states, kinds, constants, bed, kind, one, two)
        if is_logging:
            logged[done, 14:21], logged[done, 21:28] = states[one], states[last]
        done += 1


@compile_
def _renew(states, kinds, constants, bed, contact, touched, push, walls, what, now, out, found):  # type: ignore[no-untyped-def]
    """What touched balls do from now on, until when, and what they meet first besides balls."""
    for i in range(states.shape[0]):
        if not touched[i]:
            continue
        course(states[i], kinds[i], constants, out)
        push[i, 0], push[i, 1], push[i, 2] = out[0], out[1], now + out[2]
        walls[i] = math.inf
        if kinds[i] == ROLLING or kinds[i] == SLIDING:
            walls[i] = now + next_contact(states[i], out[0], out[1], out[2], bed, contact, found)
            what[i, 0], what[i, 1] = found[0], found[1]


@compile_
def _spins_of(states, kinds, constants, touched, spins, now):  # type: ignore[no-untyped-def]
    """When the upright spin of touched balls that move will have run down."""
    for i in range(states.shape[0]):
        if touched[i]:
            moves = kinds[i] == ROLLING or kinds[i] == SLIDING
            spins[i] = math.inf
            if moves and states[i, 6] != 0.0:
                spins[i] = now + abs(states[i, 6]) / constants[SPIN_DOWN]


@compile_
def _meet(states, kinds, constants, since, push, pairs, touched, now):  # type: ignore[no-untyped-def]
    """When each pair meets of which a ball was touched."""
    count = states.shape[0]
    reach = 2.0 * constants[RADIUS]
    for i in range(count):
        if not touched[i]:
            continue
        for j in range(count):
            if j == i or (touched[j] and j < i):
                continue
            low, high = min(i, j), max(i, j)
            pairs[low, high] = math.inf
            moves_i = kinds[i] == ROLLING or kinds[i] == SLIDING
            moves_j = kinds[j] == ROLLING or kinds[j] == SLIDING
            if kinds[i] == POCKETED or kinds[j] == POCKETED or not (moves_i or moves_j):
                continue
            dt = now - since[j] if moves_j else 0.0
            ax, ay = push[j, 0] if moves_j else 0.0, push[j, 1] if moves_j else 0.0
            x = states[j, 0] + (states[j, 2] + 0.5 * ax * dt) * dt - states[i, 0]
            y = states[j, 1] + (states[j, 3] + 0.5 * ay * dt) * dt - states[i, 1]
            vx, vy = states[j, 2] + ax * dt - states[i, 2], states[j, 3] + ay * dt - states[i, 3]
            end = math.inf
            if moves_i:
                end = push[i, 2]
                ax, ay = ax - push[i, 0], ay - push[i, 1]
            if moves_j:
                end = min(end, push[j, 2])
            pairs[low, high] = now + meeting(x, y, vx, vy, ax, ay, reach, end - now)


@compile_
def _end_of(kind):  # type: ignore[no-untyped-def]
    """The event that ends what a ball does."""
    if kind == SLIDING:
        return SLIDE_END
    return ROLL_END if kind == ROLLING else SPIN_END


@compile_
def _earliest(kinds, push, walls, spins, pairs, what):  # type: ignore[no-untyped-def]
    """Time, kind, ball and what it meets of the next event; kind -1 where everything lies still."""
    count = kinds.shape[0]
    best, kind, one, two = math.inf, -1, -1, -1
    for i in range(count):
        if kinds[i] == POCKETED or kinds[i] == REST:
            continue
        if push[i, 2] < best:
            best, kind, one, two = push[i, 2], _end_of(kinds[i]), i, -1
        if spins[i] < best:
            best, kind, one, two = spins[i], SPIN_END, i, -1
        if walls[i] < best:
            best, kind, one, two = walls[i], what[i, 0], i, what[i, 1]
    for i in range(count):
        for j in range(i + 1, count):
            if pairs[i, j] < best:
                best, kind, one, two = pairs[i, j], BALL_BALL, i, j
    return best, kind, one, two


@compile_
def _happen(states, kinds, constants, bed, kind, one, two):  # type: ignore[no-untyped-def]
    """The event itself: states and kinds of the balls it is about are changed."""
    state = states[one]
    lines, circles, _falls, _holes, _boxes = bed
    if kind == BALL_BALL:
        collide(state, states[two], constants)
        kinds[two] = settle(states[two], constants)
    elif kind == CUSHION or kind == JAW:  # noqa: PLR1714, SIM109
        if two < lines.shape[0]:
            rebound(state, -lines[two, 6], -lines[two, 7], constants)
        else:
            circle = circles[two - lines.shape[0]]
            nx, ny = circle[0] - state[0], circle[1] - state[1]
            size = math.hypot(nx, ny)
            rebound(state, nx / size, ny / size, constants)
    elif kind == POCKET:
        state[2:] = 0.0
        kinds[one] = POCKETED
        return
    elif kind == SLIDE_END:
        radius = constants[RADIUS]
        state[4], state[5] = -state[3] / radius, state[2] / radius
    elif kind == ROLL_END:
        state[2] = state[3] = state[4] = state[5] = 0.0
    elif kind == SPIN_END:
        state[6] = 0.0
    kinds[one] = settle(state, constants)
