"""The stroke that best explains what was seen of a shot: by least squares on places of balls at times.

What cannot be told apart is told as such: each number comes with its standard deviation, from the noise of
the places and from how much they hang on it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import least_squares, minimize

from ripasso.core.physics.motion import Motion, simulate
from ripasso.core.physics.parameters import Array
from ripasso.core.physics.strokes import MISCUE, Stroke, with_least_elevation
from ripasso.core.planning.problem import Problem

#: The noise of a place on film, metres, where nothing better is known.
NOISE_M = 0.003
#: Tips that the search begins from, and what is known of a tip before (standard deviation, radii): strokes
#: far from the middle are rarer (from memory).
BEGINNINGS = tuple((a, b) for b in (0.0, -0.3, 0.3) for a in (0.0, -0.25, 0.25))
TIP_SD = 0.4
#: A place that is farther off than this counts less and less (metres): another ball, a kick.
OUTLIER_M = 0.02
NEAR_TIPS = ((0.12, 0.0), (-0.12, 0.0), (0.0, 0.12), (0.0, -0.12))
#: Ends of the pieces that are explained one after the other, seconds after the strike.
PIECES_S = (0.25, 0.4, 0.8, 1.5, 2.5)
#: Sides that are tried when more than the noise is left over (in the plane 1.4 of it).
SIDES, MORE_THAN_NOISE = tuple(np.linspace(-0.45, 0.45, 13)), 1.6
#: Where few places are known of the first metre, the ball was quicker by such a share at its start.
QUICKER = (1.0, 1.15, 1.3)
#: Places of the first leg differ by less in their direction, radians (a place of the noise at 80 mm: 2°).
STRAIGHT = 0.05
#: So many best beginnings are followed to their end.
FOLLOWED = 3
LEAST_POINTS, OF_A_PIECE = 6, 3
#: Places of side and height among way (rad), speed (m/s), side and height (radii), and how these are scaled.
SIDE, HEIGHT = 2, 3
SCALES, STEPS, HELD_TRIES = [0.01, 0.1, 0.1, 0.1], [1e-5, 1e-4, 1e-3, 1e-3], 15
#: The 95 % point of chi-square with one degree of freedom, and of the normal distribution on both sides.
CHI_SQUARE, Z = 3.841, 1.960
#: More left over than this (times the noise) is polished; the first simplex of that and its most tries.
POLISHED, SIMPLEX, POLISH_TRIES = 1.55, [0.004, 0.03, 0.08, 0.03], 400
#: Steps of the profile: the first one at least, and how far off it goes, radii.
LEAST_STEP, FARTHEST_OFF = 2e-3, 0.8


@dataclass(frozen=True)
class Sighting:
    """A ball at a place at a time after the strike (seconds, metres)."""

    time_s: float
    ball: str
    x: float
    y: float


@dataclass(frozen=True)
class Explained:
    """The stroke, standard deviations of the ball's way (rad), speed (m/s), a, b (radii), the residual.

    `residual_m` is the root mean square of how far places are off what the stroke does.
    """

    stroke: Stroke
    sd_way: float
    sd_speed: float
    sd_a: float
    sd_b: float
    residual_m: float
    motion: Motion


class CannotExplain(ValueError):
    """Too little was seen; the message is one sentence."""


def explain(problem: Problem, seen: Sequence[Sighting], noise_m: float = NOISE_M) -> Explained:
    """The stroke on a layout behind sightings; raises `CannotExplain` for too few of the cue ball."""
    cue = [one for one in seen if one.ball == "cue"]
    if "cue" not in problem.layout or len(cue) < LEAST_POINTS:
        raise CannotExplain(f"At least {LEAST_POINTS} places of the cue ball on its way are needed.")
    phi, speed = _first(problem, cue)
    best = None
    values = np.array([phi, speed, 0.0, 0.0])
    last = max(one.time_s for one in seen)
    # Longer and longer pieces of the shot: what comes late hangs on everything before it.
    for until in (*(time for time in PIECES_S if time < last), last):
        part = [one for one in seen if one.time_s <= until]
        if sum(one.ball == "cue" for one in part) >= OF_A_PIECE:
            best = _followed(_begins(values), problem, part, noise_m)
            values = best.x
    begins = [one for share in QUICKER for one in _begins(np.array([phi, share * speed, 0.0, 0.0]))]
    afresh = _followed(begins, problem, seen, noise_m)
    if best is None or afresh.cost < best.cost:
        best = afresh
    # More than the noise is left over: another side may explain it, the rest as it is.
    if _residual(best.x, problem, seen) > MORE_THAN_NOISE * noise_m:
        sides = [np.array([*best.x[:2], a, best.x[3] + b]) for a in SIDES for b in (-0.06, 0.0, 0.06)]
        other = _followed([best.x, *sides], problem, seen, noise_m)
        if other.cost < best.cost:
            best = other
    best = _best_side(best, problem, seen, noise_m)
    if _residual(best.x, problem, seen) > POLISHED * noise_m:
        best = _polished(best, problem, seen, noise_m)
    stroke = _stroke(best.x, problem)
    motion = simulate(problem.layout, stroke, problem.bed, problem.physics)
    residual = _residual(best.x, problem, seen)
    # Where the places are off by more than their noise the model is: its numbers are less sure by that.
    larger = max(1.0, residual / (noise_m * math.sqrt(2)))
    covariance = np.linalg.pinv(best.jac.T @ best.jac, rcond=1e-12) * larger**2
    way, speed, a, b = (float(value) for value in np.sqrt(np.maximum(0.0, np.diag(covariance))))
    allowed = CHI_SQUARE * larger**2
    a = max(a, _reach(best, SIDE, a, allowed, problem, seen, noise_m))
    b = max(b, _reach(best, HEIGHT, b, allowed, problem, seen, noise_m))
    return Explained(stroke, way, speed, a, b, residual, motion)


def _best_side(best: Any, problem: Problem, seen: Sequence[Sighting], noise_m: float) -> Any:
    """The best of what is found with each side held: valleys lie side by side, each with its own floor."""
    tried = [_held(best.x, SIDE, float(side), problem, seen, noise_m) for side in SIDES]
    lowest = min(tried, key=lambda one: one.cost)
    if lowest.cost >= best.cost:
        return best
    freed = _least(lowest.x, problem, seen, noise_m)
    return freed if freed.cost < best.cost else best


def _polished(best: Any, problem: Problem, seen: Sequence[Sighting], noise_m: float) -> Any:
    """Still more than the noise is left over: steps without slopes leave a valley with rough sides."""
    simplex = best.x + np.vstack((np.zeros(4), np.diag(SIMPLEX)))
    found = minimize(
        _cost,
        best.x,
        args=(problem, seen, noise_m),
        method="Nelder-Mead",
        options={"initial_simplex": simplex, "maxfev": POLISH_TRIES, "xatol": 1e-5, "fatol": 1e-4},
    )
    freed = _least(found.x, problem, seen, noise_m)
    return freed if freed.cost < best.cost else best


def _reach(
    best: Any,
    place: int,
    step: float,
    allowed: float,
    problem: Problem,
    seen: Sequence[Sighting],
    noise_m: float,
) -> float:
    """How far a value may be off its best, as a standard deviation: to where the rest cannot make up for it.

    The profile of the likelihood: the value is held farther and farther away, the others find their best.
    """
    farthest = 0.0
    # The cost of `least_squares` is half the sum of squares.
    most = best.cost + 0.5 * allowed
    for way in (-1.0, 1.0):
        now, off, inside = best.x, max(step, LEAST_STEP), 0.0
        while off < FARTHEST_OFF:
            found = _held(now, place, float(best.x[place] + way * off), problem, seen, noise_m)
            if found.cost > most:
                break
            now, inside, off = found.x, off, 2 * off
        # The end lies between the last step inside and the first outside.
        farthest = max(farthest, math.sqrt(inside * off))
    return farthest / Z


def _held(
    values: Array, place: int, value: float, problem: Problem, seen: Sequence[Sighting], noise_m: float
) -> Any:
    """The least squares with one value held; `x` are all four values."""
    free = [i for i in range(len(values)) if i != place]

    def off(part: Array) -> Array:
        whole = np.array(values)
        whole[place], whole[free] = value, part
        return stroke_off(whole, problem, seen, noise_m)

    found = least_squares(
        off,
        np.array(values)[free],
        x_scale=np.array(SCALES)[free],
        diff_step=np.array(STEPS)[free],
        loss="soft_l1",
        f_scale=OUTLIER_M / noise_m,
        max_nfev=HELD_TRIES,
    )
    whole = np.array(values)
    whole[place], whole[free] = value, found.x
    found.x = whole
    return found


def _begins(values: Array) -> list[Array]:
    """What was found so far, with the tip there, near it and elsewhere."""
    begins = [values, *(np.array([values[0], values[1], a, b]) for a, b in BEGINNINGS)]
    return begins + [values + np.array([0.0, 0.0, a, b]) for a, b in NEAR_TIPS]


def _residual(values: Array, problem: Problem, seen: Sequence[Sighting]) -> float:
    """The root mean square distance (metres) of places from what a stroke does."""
    off = stroke_off(values, problem, seen, 1.0)[:-2]
    return float(np.sqrt(np.mean(off**2) * 2))


def _followed(begins: list[Array], problem: Problem, seen: Sequence[Sighting], noise_m: float) -> Any:
    """Least squares from the best of some beginnings."""
    ordered = sorted(begins, key=lambda begin: _cost(begin, problem, seen, noise_m))
    found = [_least(begin, problem, seen, noise_m) for begin in ordered[:FOLLOWED]]
    return min(found, key=lambda one: one.cost)


def _least(begin: Array, problem: Problem, seen: Sequence[Sighting], noise_m: float) -> Any:
    return least_squares(
        stroke_off,
        begin,
        args=(problem, seen, noise_m),
        x_scale=SCALES,
        diff_step=STEPS,
        loss="soft_l1",
        f_scale=OUTLIER_M / noise_m,
        max_nfev=40,
    )


def _cost(values: Array, problem: Problem, seen: Sequence[Sighting], noise_m: float) -> float:
    off = stroke_off(values, problem, seen, noise_m) * noise_m / OUTLIER_M
    return float((np.sqrt(1 + off**2) - 1).sum())


def _first(problem: Problem, cue: Sequence[Sighting]) -> tuple[float, float]:
    """Azimuth and speed from the first places on the way."""
    start = problem.layout["cue"]
    far = [one for one in cue if math.dist((one.x, one.y), start) > 0.08][:4] or cue[-1:]
    ways = [math.atan2(one.y - start[1], one.x - start[0]) for one in far]
    # What lies behind the first contact has another direction.
    turned = (i for i, way in enumerate(ways) if abs(math.remainder(way - ways[0], 2 * math.pi)) > STRAIGHT)
    far = far[: next(turned, len(far))]
    phi = math.atan2(sum(o.y - start[1] for o in far), sum(o.x - start[0] for o in far))
    # Cloth and contacts only slow it down: the quickest of the first places is nearest to the start.
    speeds = [math.dist((o.x, o.y), start) / max(o.time_s, 1e-3) for o in far]
    return phi, max(0.1, *speeds)


def _stroke(values: Array, problem: Problem) -> Stroke:
    way, speed, a, b = (float(value) for value in values)
    size = math.hypot(a, b)
    share = min(1.0, MISCUE / size) if size else 1.0
    # What is seen is the ball's way: the aim is that less the squirt, so that side and aim are told apart.
    phi = way - math.radians(problem.physics.squirt_deg) * a * share
    wanted = Stroke(phi, max(0.05, speed), a * share, b * share)
    return with_least_elevation(wanted, problem.spec, problem.layout)


def stroke_off(values: Array, problem: Problem, seen: Sequence[Sighting], noise_m: float) -> Array:
    """How far places are off, and the tip off the middle, each in its standard deviations."""
    motion = simulate(problem.layout, _stroke(values, problem), problem.bed, problem.physics)
    off = []
    for ball in dict.fromkeys(one.ball for one in seen):
        own = [one for one in seen if one.ball == ball]
        places = motion.places(ball, np.array([one.time_s for one in own]))
        off.append((places - [[one.x, one.y] for one in own]).ravel())
    return np.concatenate((np.concatenate(off) / noise_m, values[2:] / TIP_SD))
