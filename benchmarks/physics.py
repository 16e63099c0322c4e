"""Strokes simulated: as multiples of 100,000 dependent multiply-adds, beside a plain loop of small steps."""

from __future__ import annotations

import itertools
import math
import time
from collections.abc import Callable, Iterator

import numba
import numpy as np

from ripasso.core.physics.bed import bed_of
from ripasso.core.physics.motion import apart, arrays, simulate
from ripasso.core.physics.parameters import physics_of
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.repeating import repeat, strokes_with_errors
from ripasso.core.physics.search import run
from ripasso.core.physics.strokes import Stroke
from ripasso.core.table import starting_layout, table_spec
from ripasso.drawing.motion import ways

SPEC = table_spec({"preset": "pool_9ft"})
PHYSICS, BED = physics_of(SPEC), bed_of(SPEC)
TIMES, REPEATED, TURNS = 200, 2000, 20
#: The step of the plain loop, seconds.
STEP_S = 2e-4
#: A picture of a usual screen, seconds.
SCREEN_S = 1 / 60


@numba.njit
def yardstick(count: int, more: float) -> float:
    """Multiply-adds that depend on each other."""
    value = 0.5
    for _ in range(count):
        value = value * 0.999999 + more
    return value


@numba.njit
def _slide(state, constants, radius, step):  # type: ignore[no-untyped-def]
    """The cloth over one step; False where the ball lies still."""
    push, drag = constants[3] * constants[2], constants[4] * constants[2]
    speed = math.hypot(state[2], state[3])
    if speed < 1e-4:
        return False
    slip_x, slip_y = state[2] - radius * state[5], state[3] + radius * state[4]
    slip = math.hypot(slip_x, slip_y)
    if slip > 2 * push * step:
        ax, ay = -push * slip_x / slip, -push * slip_y / slip
        state[4] += 2.5 / radius * ay * step
        state[5] -= 2.5 / radius * ax * step
    else:
        ax, ay = -drag * state[2] / speed, -drag * state[3] / speed
        state[4], state[5] = -state[3] / radius, state[2] / radius
    state[2] += ax * step
    state[3] += ay * step
    state[0] += state[2] * step
    state[1] += state[3] * step
    return True


@numba.njit
def _knock(states, i, radius):  # type: ignore[no-untyped-def]
    """Impacts of a ball with all others, without friction."""
    state = states[i]
    for j in range(states.shape[0]):
        dx, dy = states[j, 0] - state[0], states[j, 1] - state[1]
        if j == i or dx * dx + dy * dy >= 4 * radius * radius:
            continue
        away = math.hypot(dx, dy)
        nx, ny = dx / away, dy / away
        along = (state[2] - states[j, 2]) * nx + (state[3] - states[j, 3]) * ny
        if along > 0:
            state[2] -= 0.975 * along * nx
            state[3] -= 0.975 * along * ny
            states[j, 2] += 0.975 * along * nx
            states[j, 3] += 0.975 * along * ny


@numba.njit
def plain_loop(states, constants, radius, length, width, step, most):  # type: ignore[no-untyped-def]
    """Balls in small steps, with the laws of the cloth and bare impacts: the least there could be."""
    for _ in range(most):
        moving = False
        for i in range(states.shape[0]):
            state = states[i]
            if not _slide(state, constants, radius, step):
                continue
            moving = True
            if state[0] < radius or state[0] > length - radius:
                state[2] = -0.85 * state[2]
            if state[1] < radius or state[1] > width - radius:
                state[3] = -0.85 * state[3]
            _knock(states, i, radius)
        if not moving:
            break


def _best(work: Callable[[], object], times: int = TIMES) -> float:
    work()
    best = math.inf
    for _ in range(times):
        start = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - start)
    return best


def _states(layout: dict[str, tuple[float, float]], speed: float) -> np.ndarray:
    states = np.zeros((len(layout), 7))
    balls = ["cue", *(ball for ball in layout if ball != "cue")]
    states[:, :2] = apart([layout[ball] for ball in balls], SPEC.ball_radius)
    phi = math.atan2(states[1, 1] - states[0, 1], states[1, 0] - states[0, 0]) + 0.002
    states[0, 2:4] = speed * math.cos(phi), speed * math.sin(phi)
    return states


def _aiming(layout: dict[str, tuple[float, float]]) -> str:
    """What follows a turn of the aim, up to the lines that are drawn, against a picture of a screen."""
    turned = itertools.cycle(np.linspace(-0.4, 0.4, 41))
    first = math.atan2(layout["1"][1] - 0.5, layout["1"][0] - 0.6)

    def turn() -> None:
        motion = simulate(layout, Stroke(first + float(next(turned)), 3.0), BED, PHYSICS)
        ways({ball: motion.path(ball) for ball in motion.balls}, SPEC.ball_radius)

    for _ in range(41):
        turn()
    start = time.perf_counter()
    for _ in range(10 * 41):
        turn()
    taken = (time.perf_counter() - start) / (10 * 41)
    return f"a turn of the aim among eight balls: {taken / SCREEN_S:.2f} of a screen's picture (aim 1)"


def measure() -> Iterator[str]:
    unit = _best(lambda: yardstick(100_000, 1e-7))
    random = np.random.default_rng(3)
    eight = {str(i): tuple(map(float, random.uniform((0.1, 0.1), (2.4, 1.15)))) for i in range(1, 8)}
    racks = {}
    for game in ("nine_ball", "eight_ball"):
        racks[game] = {**starting_layout(game, SPEC, 15), "cue": (0.5, 0.6)}
    events, logged, constants = np.zeros((4000, 4)), np.zeros((0, 28)), PHYSICS.as_array()
    for name, layout, speed, most in (
        ("a pot of two balls", {"cue": (0.6, 0.5), "1": (1.5, 0.7)}, 2.0, 0.15),
        ("a shot among eight balls", {"cue": (0.6, 0.5), **eight}, 3.0, 0.4),
        ("a break of nine balls", racks["nine_ball"], 8.0, 1.8),
        ("a break of fifteen balls", racks["eight_ball"], 8.0, 3.0),
    ):
        states = _states(layout, speed)

        def exact(states: np.ndarray = states) -> None:
            kinds = np.zeros(len(states), dtype=np.int64)
            run(states.copy(), kinds, constants, arrays(BED), BED.contact_m, 4000, events, logged)

        def steps(states: np.ndarray = states) -> None:
            size = (SPEC.ball_radius, SPEC.length, SPEC.width)
            plain_loop(states.copy(), constants, *size, STEP_S, 200_000)

        taken, plain = _best(exact), _best(steps, 5)
        yield f"{name}: {taken / unit:.2f} x the yardstick (aim {most}), plain steps {plain / unit:.1f} x"
    layout = {"cue": (0.6, 0.5), **eight}
    yield _aiming(layout)
    stroke = Stroke(math.atan2(eight["1"][1] - 0.5, eight["1"][0] - 0.6), 3.0)
    spreads = spreads_of_level("club", snooker=False)
    starts = strokes_with_errors(stroke, spreads, PHYSICS, seed=1, count=REPEATED)
    # In turns, as a machine that is shared is slower now and then: both meet its good moments.
    turns = [
        [_best(lambda n=n: repeat(layout, starts, BED, PHYSICS, n), 1) for n in (1, 2)] for _ in range(TURNS)
    ]
    one, two = map(min, zip(*turns, strict=True))
    yield f"{REPEATED} repetitions among eight balls: two threads {one / two:.2f} x as fast as one (aim 1.7)"
