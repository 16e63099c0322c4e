"""One stroke, simulated: what happens until all lies still, and where every ball is meanwhile."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ripasso.core.physics.bed import Bed
from ripasso.core.physics.contacts import BALL_BALL, CUSHION, JAW, POCKET, ROLL_END, SLIDE_END, SPIN_END
from ripasso.core.physics.flight import POCKETED, REST, ROLLING, SLIDING, SPINNING, course, fly, settle
from ripasso.core.physics.parameters import Array, Physics
from ripasso.core.physics.search import run
from ripasso.core.physics.strokes import Stroke
from ripasso.core.table.places import Place

KINDS = {
    SLIDE_END: "slide_end",
    ROLL_END: "roll_end",
    SPIN_END: "spin_end",
    BALL_BALL: "ball_ball",
    CUSHION: "cushion",
    JAW: "jaw",
    POCKET: "pocket",
}
STATES = {REST: "rest", SPINNING: "spinning", ROLLING: "rolling", SLIDING: "sliding", POCKETED: "pocketed"}
#: More events than any break of twenty-two balls has.
CAP, USUAL = 20_000, 500
#: Balls that touch, or nearly do, are moved apart to this (metres): impacts follow one by one.
FROZEN_GAP_M = 1e-5


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happens at a time (s): its kind, the balls, what was met, states before and after.

    States are (x, y, vx, vy, wx, wy, wz) of each ball; `met` names a cushion, a jaw or a pocket.
    """

    time: float
    kind: str
    balls: tuple[str, ...]
    met: str
    before: tuple[Array, ...]
    after: tuple[Array, ...]


@dataclass(frozen=True)
class Motion:
    """What a stroke does. `capped` where it did not come to an end within the most events."""

    balls: tuple[str, ...]
    start: Array
    end: Array
    kinds: tuple[str, ...]
    pockets: Mapping[str, str]
    events: tuple[Event, ...]
    capped: bool
    physics: Physics

    @property
    def duration(self) -> float:
        """When all lies still, seconds."""
        return self.events[-1].time if self.events else 0.0

    def rest(self) -> dict[str, Place]:
        """Where the balls on the table lie at the end."""
        return {
            ball: (float(self.end[i, 0]), float(self.end[i, 1]))
            for i, ball in enumerate(self.balls)
            if ball not in self.pockets
        }

    @cached_property
    def _pieces(self) -> dict[str, list[tuple[float, Array, Array, int]]]:
        """For each ball when each piece of its way begins, its state there, acceleration and kind."""
        constants, out = self.physics.as_array(), np.zeros(3)
        found: dict[str, list[tuple[float, Array, Array, int]]] = {}

        def add(ball: str, time: float, state: Array, *, pocketed: bool) -> None:
            own = state.copy()
            kind = POCKETED if pocketed else settle(own, constants)
            course(own, kind, constants, out)
            found.setdefault(ball, []).append((time, own, out[:2].copy(), kind))

        for i, ball in enumerate(self.balls):
            add(ball, 0.0, self.start[i], pocketed=False)
        for event in self.events:
            for ball, state in zip(event.balls, event.after, strict=True):
                add(ball, event.time, state, pocketed=event.kind == "pocket")
        return found

    def at(self, time: float) -> dict[str, Place]:
        """Where the balls on the table are at a time."""
        places = {}
        for ball, pieces in self._pieces.items():
            begun, state, push, kind = next(piece for piece in reversed(pieces) if piece[0] <= max(time, 0.0))
            if kind == POCKETED:
                continue
            own = state.copy()
            fly(own, push[0], push[1], kind, time - begun, self.physics.as_array())
            places[ball] = (float(own[0]), float(own[1]))
        return places

    def places(self, ball: str, times: Array) -> Array:
        """Where a ball's centre is at times (n,): (n, 2); once pocketed where it fell."""
        pieces = self._pieces[ball]
        which = np.searchsorted([piece[0] for piece in pieces], times, side="right") - 1
        which = np.maximum(which, 0)
        begun = np.array([piece[0] for piece in pieces])[which]
        states = np.array([piece[1][:4] for piece in pieces])[which]
        pushes = np.array([piece[2] for piece in pieces])[which]
        moves = np.array([piece[3] in (SLIDING, ROLLING) for piece in pieces])[which]
        dt = np.where(moves, np.maximum(times - begun, 0.0), 0.0)[:, None]
        return np.asarray(states[:, :2] + (states[:, 2:] + 0.5 * pushes * dt) * dt)

    def path(self, ball: str, step_m: float = 0.02) -> list[Place]:
        """The way of a ball's centre as points (metres), bent pieces in steps of about `step_m`."""
        pieces, points = self._pieces[ball], []
        for place, (begun, state, push, kind) in enumerate(pieces):
            points.append((float(state[0]), float(state[1])))
            if kind != SLIDING:
                continue
            end = pieces[place + 1][0] if place + 1 < len(pieces) else self.duration
            long = math.hypot(state[2], state[3]) * (end - begun)
            for share in np.linspace(0, 1, 2 + int(long / step_m))[1:-1]:
                t = float(share) * (end - begun)
                points.append(
                    (
                        float(state[0] + (state[2] + 0.5 * push[0] * t) * t),
                        float(state[1] + (state[3] + 0.5 * push[1] * t) * t),
                    )
                )
        return points


def simulate(layout: Mapping[str, Place], stroke: Stroke, bed: Bed, physics: Physics) -> Motion:
    """A stroke on the cue ball of a layout; raises `ValueError` without a cue ball."""
    if "cue" not in layout:
        raise ValueError("There is no cue ball on the table.")
    balls = tuple(layout)
    states = np.zeros((len(balls), 7))
    states[:, :2] = apart([layout[ball] for ball in balls], physics.radius)
    states[balls.index("cue"), 2:] = stroke.struck(physics)
    return simulate_states(balls, states, bed, physics)


def simulate_states(
    balls: Sequence[str], states: Array, bed: Bed, physics: Physics, cap: int = CAP
) -> Motion:
    """Balls with states (n, 7) until all lie still."""
    constants = physics.as_array()
    # Hardly any stroke has many events: room for all that are possible is made only for one that needs it.
    for room in (min(USUAL, cap), cap):
        end, kinds = states.copy(), np.zeros(len(balls), dtype=np.int64)
        events, logged = np.zeros((room, 4)), np.zeros((room, 28))
        done = run(end, kinds, constants, arrays(bed), bed.contact_m, room, events, logged)
        if done >= 0:
            break
    count = done if done >= 0 else -done - 1
    listed = tuple(_event(events[i], logged[i], balls, bed) for i in range(count))
    pockets = {event.balls[0]: event.met for event in listed if event.kind == "pocket"}
    names = tuple(
        "moving" if done < 0 and kind in (ROLLING, SLIDING) else STATES[int(kind)] for kind in kinds
    )
    return Motion(tuple(balls), states, end, names, pockets, listed, done < 0, physics)


def arrays(bed: Bed) -> tuple[Array, Array, Array, Array, Array]:
    """The bed as the compiled code takes it."""
    return bed.lines, bed.circles, bed.falls, bed.holes, bed.boxes


def _event(row: Array, logged: Array, balls: Sequence[str], bed: Bed) -> Event:
    kind, one, two = int(row[1]), int(row[2]), int(row[3])
    if kind == BALL_BALL:
        states = (logged[:7], logged[7:14]), (logged[14:21], logged[21:28])
        return Event(float(row[0]), KINDS[kind], (balls[one], balls[two]), "", *states)
    met = ""
    if kind in (CUSHION, JAW):
        met = bed.lines_of[two] if two < len(bed.lines_of) else bed.circles_of[two - len(bed.lines_of)]
    elif kind == POCKET:
        met = bed.pockets[two]
    return Event(float(row[0]), KINDS[kind], (balls[one],), met, (logged[:7],), (logged[14:21],))


def apart(places: Sequence[Place], radius: float) -> Array:
    """Places (n, 2) with balls that touch, or nearly do, moved apart by a hundredth of a millimetre."""
    moved = np.array(places, dtype=np.float64).reshape(-1, 2)
    least = 2 * radius + FROZEN_GAP_M
    for _ in range(200):
        away = moved[:, None, :] - moved[None, :, :]
        far = np.hypot(away[..., 0], away[..., 1])
        close = np.triu(far < least - 1e-12, 1)
        if not close.any():
            break
        for i, j in zip(*np.nonzero(close), strict=True):
            way = moved[j] - moved[i]
            size = float(np.hypot(*way))
            push = 0.5 * (least - size) * (way / size if size > 1e-9 else np.array([1.0, 0.0]))
            moved[i] -= push
            moved[j] += push
    return moved
