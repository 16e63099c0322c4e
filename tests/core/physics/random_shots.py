"""Random strokes on all tables, and what must hold for each; many of them by

python -m tests.core.physics.random_shots 10000 [SEED]
"""

from __future__ import annotations

import math
import sys
from itertools import pairwise

import numpy as np

from ripasso.core.physics.bed import bed_of
from ripasso.core.physics.motion import apart, simulate_states
from ripasso.core.physics.parameters import physics_of
from ripasso.core.table import starting_layout, table_spec

TABLES = (("pool_9ft", "nine_ball"), ("pool_8ft", "eight_ball"), ("snooker_12ft", "snooker"))
#: Every fifth stroke is a break.
BREAKS = 5
OVERLAP_M, ENERGY_J = 1e-9, 1e-12
#: So far beyond the nose line a ball's centre may be: within the jaws.
IN_JAWS_M = 0.12


def layout(number, random, spec, game):
    """Balls of a stroke: a rack and a cue ball behind the line, or a few anywhere, some touching."""
    radius = spec.ball_radius
    if number % BREAKS == 0:
        rack = [place for ball, place in starting_layout(game, spec, 15).items() if ball != "cue"]
        cue = (spec.length * random.uniform(0.1, 0.17), spec.width * random.uniform(0.3, 0.7))
        return [cue, *rack]
    places = []
    while len(places) < random.integers(2, 12):
        place = random.uniform([radius, radius], [spec.length - radius, spec.width - radius])
        if places and random.random() < 0.15:  # beside another one, touching it
            turn = random.uniform(0, 2 * math.pi)
            place = places[-1] + 2 * radius * np.array([math.cos(turn), math.sin(turn)])
        inside = (radius <= place[0] <= spec.length - radius) and (radius <= place[1] <= spec.width - radius)
        if inside and all(math.dist(place, other) > 2 * radius - 1e-9 for other in places):
            places.append(np.asarray(place))
    return [tuple(map(float, place)) for place in places]


def stroke(places, random, radius):
    """A state for the cue ball: aimed at the next ball or anywhere, any speed, any spin."""
    to = np.subtract(places[1], places[0])
    phi = math.atan2(to[1], to[0]) + random.normal(0, 0.03)
    if random.random() < 0.3:
        phi = random.uniform(-math.pi, math.pi)
    speed = random.uniform(0.1, 10.0)
    spin = 2.5 * speed / radius * random.uniform(-0.35, 0.35, 2)
    rolls = (-spin[0] * math.sin(phi), spin[0] * math.cos(phi))
    return [speed * math.cos(phi), speed * math.sin(phi), *rolls, spin[1]]


def energy(state, physics):
    inertia = 0.4 * physics.mass * physics.radius**2
    return 0.5 * physics.mass * float(state[2:4] @ state[2:4]) + 0.5 * inertia * float(state[4:] @ state[4:])


def wrong(number, seed=1):
    """What does not hold for a stroke, as sentences."""
    random = np.random.default_rng((seed, number))
    preset, game = TABLES[number % len(TABLES)]
    spec = table_spec({"preset": preset})
    physics, bed = physics_of(spec), bed_of(spec)
    places = apart(layout(number, random, spec, game), spec.ball_radius)
    states = np.zeros((len(places), 7))
    states[:, :2] = places
    states[0, 2:] = stroke(places, random, spec.ball_radius)
    names = ["cue", *map(str, range(1, len(places)))]
    motion = simulate_states(names, states, bed, physics)
    found = []
    if motion.capped:
        return ["it does not come to an end"]
    times = [event.time for event in motion.events]
    if any(later < earlier for earlier, later in pairwise(times)):
        found.append("time runs back")
    for event in motion.events:
        before = sum(energy(state, physics) for state in event.before)
        if event.kind not in ("pocket",):
            gained = sum(energy(state, physics) for state in event.after) - before
            # Balls that barely meet part with a tenth of a millimetre a second.
            if gained > ENERGY_J + 1e-8 * (event.kind == "ball_ball"):
                found.append(f"{event.kind} at {event.time:.4f} s gives {gained:.1e} J")
        if event.kind == "ball_ball":
            change = sum(event.after)[2:4] - sum(event.before)[2:4]
            if np.abs(change).max() > 1e-12:
                found.append("two balls change their momentum together")
    found += _overlaps(motion, spec, random)
    if not np.isfinite(motion.end).all():
        found.append("something is not finite")
    return found


def _overlaps(motion, spec, random):
    found = []
    for time in random.uniform(0, motion.duration, 12):
        lies = np.array(list(motion.at(float(time)).values())).reshape(-1, 2)
        apart_m = np.hypot(*(lies[:, None] - lies[None]).transpose(2, 0, 1))
        np.fill_diagonal(apart_m, 9.0)
        if len(lies) > 1 and 2 * spec.ball_radius - apart_m.min() > OVERLAP_M:
            found.append(f"balls overlap by {2 * spec.ball_radius - apart_m.min():.1e} m")
        out = np.maximum(-lies, lies - [spec.length, spec.width]).max(initial=-1.0)
        if out > IN_JAWS_M:
            found.append(f"a ball is {out:.3f} m off the bed")
    return found


def main(count, seed):
    bad = 0
    for number in range(count):
        for sentence in wrong(number, seed):
            bad += 1
            print(f"{number}: {sentence}")
    print(f"{count} strokes, {bad} wrong")
    return bad


if __name__ == "__main__":
    given = [int(word) for word in sys.argv[1:]]
    sys.exit(int(main(*given, *(1,) * (2 - len(given))) > 0))
