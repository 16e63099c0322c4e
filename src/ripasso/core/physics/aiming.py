"""Where to aim so that the simulated object ball runs to its target, throw and squirt included."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ripasso.core.physics.bed import unbounded_bed
from ripasso.core.physics.compiling import compile_
from ripasso.core.physics.motion import arrays
from ripasso.core.physics.parameters import Physics
from ripasso.core.physics.search import run
from ripasso.core.physics.strokes import Stroke
from ripasso.core.table.places import Place

#: The steepest cut that is looked for; how near a root is, radians.
STEEPEST_CUT = math.radians(88.0)
EXACT_RAD = 1e-7
STEPS = 40
#: Around the ghost ball's azimuth the root lies within this (throw, squirt, swerve), radians.
WITHIN = 0.12


def aim_at(stroke: Stroke, cue: Place, ball: Place, target: Place, physics: Physics) -> Stroke | None:
    """The stroke aimed so that the object ball's centre runs over `target`; None where no cut does that.

    The two balls are alone on an unbounded cloth: what is in the way is for others to ask.
    """
    away = math.dist(ball, target)
    if away < 1e-6 or math.dist(cue, ball) <= 2 * physics.radius:
        return None
    ghost = (
        ball[0] - 2 * physics.radius * (target[0] - ball[0]) / away,
        ball[1] - 2 * physics.radius * (target[1] - ball[1]) / away,
    )
    guess = math.atan2(ghost[1] - cue[1], ghost[0] - cue[0])
    full = math.atan2(target[1] - ball[1], target[0] - ball[0])
    if abs(math.remainder(full - guess, 2 * math.pi)) > STEEPEST_CUT:
        return None
    guess -= math.radians(physics.squirt_deg) * stroke.a
    places = np.array([cue, ball])
    aimed = np.array(target)

    def off(phi: float) -> float:
        start = replace(stroke, phi=phi).struck(physics)
        return float(_off_target(places, start, aimed, physics.as_array(), arrays(unbounded_bed())))

    return _root(off, guess, stroke)


def _root(off, guess: float, stroke: Stroke) -> Stroke | None:  # type: ignore[no-untyped-def]
    """The azimuth at which `off` passes 0, by secants kept between two azimuths of different signs."""
    here = off(guess)
    step = 2e-4
    low = high = guess
    at_low = at_high = here
    # A thin cut misses the ball altogether on one side: the bracket grows only as far as it hits.
    while math.isnan(at_low) or math.isnan(at_high) or at_low * at_high > 0:
        if step > WITHIN:
            return None
        tried_low, tried_high = off(guess - step), off(guess + step)
        if not math.isnan(tried_low):
            low, at_low = guess - step, tried_low
        if not math.isnan(tried_high):
            high, at_high = guess + step, tried_high
        step *= 2
    for _ in range(STEPS):
        slope = (at_high - at_low) / (high - low) if high != low else 0.0
        phi = low - at_low / slope if slope else 0.5 * (low + high)
        if not low < phi < high:
            phi = 0.5 * (low + high)
        there = off(phi)
        if there == 0 or high - low < EXACT_RAD:
            return replace(stroke, phi=phi)
        if math.isnan(there):
            return None
        if there * at_low > 0:
            # The same side again: the other end counts half, or the secant creeps.
            low, at_low, at_high = phi, there, 0.5 * at_high
        else:
            high, at_high, at_low = phi, there, 0.5 * at_low
    return replace(stroke, phi=0.5 * (low + high))


@compile_
def _off_target(places, start, target, constants, bed):  # type: ignore[no-untyped-def]
    """How far left of the target (metres) the object ball's way passes it; NaN where it is not met."""
    states, kinds = np.zeros((2, 7)), np.zeros(2, dtype=np.int64)
    states[:, :2] = places
    states[0, 2:] = start
    events, logged = np.zeros((12, 4)), np.zeros((12, 28))
    done = run(states, kinds, constants, bed, 0.0, 12, events, logged)
    if done < 0:
        done = -done - 1
    wx, wy = target[0] - places[1, 0], target[1] - places[1, 1]
    far = math.hypot(wx, wy)
    wx, wy = wx / far, wy / far
    met = False
    x, y = places[1, 0], places[1, 1]
    vx, vy = 0.0, 0.0
    for i in range(done):
        kind, one, two = int(events[i, 1]), int(events[i, 2]), int(events[i, 3])
        if not met and kind == 3:
            met = True
        elif not (met and one == 1):
            continue
        column = 21 if kind == 3 and two == 1 else 14
        x, y = logged[i, column], logged[i, column + 1]
        if (x - places[1, 0]) * wx + (y - places[1, 1]) * wy >= far:
            break
        if math.hypot(logged[i, column + 2], logged[i, column + 3]) > 1e-9:
            vx, vy = logged[i, column + 2], logged[i, column + 3]
    if not met:
        return math.nan
    speed = vx * wx + vy * wy
    if speed <= 1e-9:
        return math.nan
    # From the last bend on the way is straight enough: along its direction to the target's height.
    along = (target[0] - x) * wx + (target[1] - y) * wy
    x, y = x + vx / speed * along, y + vy / speed * along
    return -(x - target[0]) * wy + (y - target[1]) * wx
