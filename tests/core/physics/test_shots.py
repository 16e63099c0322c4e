"""Strokes on tables with pockets: what must hold for each, and which way things go."""

import math
import unittest
from dataclasses import replace

import numpy as np

from ripasso.core.geometry.pots import pots
from ripasso.core.physics.aiming import aim_at
from ripasso.core.physics.bed import bed_of
from ripasso.core.physics.motion import Motion, simulate, simulate_states
from ripasso.core.physics.parameters import physics_of
from ripasso.core.physics.players import EXACT, Spreads, spreads_of_level
from ripasso.core.physics.repeating import ON_TABLE, errors_of, played, repeat, strokes_with_errors
from ripasso.core.physics.strokes import Stroke, least_elevation, with_least_elevation
from ripasso.core.table import POCKETS, table_spec
from ripasso.core.table.presets import INCH
from tests.core.physics.random_shots import wrong

SPEC = table_spec({"preset": "pool_9ft"})
PHYSICS, BED = physics_of(SPEC), bed_of(SPEC)
R = SPEC.ball_radius


def rolling(place, towards, speed, physics=PHYSICS):
    """A state of a ball that rolls from a place towards another."""
    phi = math.atan2(towards[1] - place[1], towards[0] - place[0])
    v = (speed * math.cos(phi), speed * math.sin(phi))
    return [*place, *v, -v[1] / physics.radius, v[0] / physics.radius, 0.0]


def falls(place, towards, speed, spec=SPEC, physics=None):
    physics = physics or physics_of(spec)
    motion = simulate_states(("1",), np.array([rolling(place, towards, speed)]), bed_of(spec), physics)
    return "1" in motion.pockets


class EveryShot(unittest.TestCase):
    def test_random_shots(self):
        found = {number: sentences for number in range(300) if (sentences := wrong(number, 21))}
        self.assertEqual(found, {})

    def test_a_mirrored_shot_is_the_mirror_of_it(self):
        layout = {"cue": (0.5, 0.4), "1": (1.7, 0.55), "2": (2.1, 0.9)}
        for number in range(40):
            random = np.random.default_rng(number)
            stroke = Stroke(
                math.atan2(0.15, 1.2) + random.normal(0, 0.02),
                random.uniform(0.5, 4),
                *random.uniform(-0.3, 0.3, 2),
            )
            mirrored = replace(stroke, phi=-stroke.phi, a=-stroke.a)
            here = simulate(layout, stroke, BED, PHYSICS)
            there = simulate({b: (x, SPEC.width - y) for b, (x, y) in layout.items()}, mirrored, BED, PHYSICS)
            self.assertEqual(len(here.events), len(there.events))
            for ball, (x, y) in here.rest().items():
                self.assertLess(math.dist((x, SPEC.width - y), there.rest()[ball]), 1e-6)

    def test_a_cap_is_told(self):
        states = np.array([rolling((0.5, 0.6), (2.0, 0.6), 2.0)])
        motion = simulate_states(("1",), states, BED, PHYSICS, cap=1)
        self.assertTrue(motion.capped)
        self.assertEqual(motion.kinds, ("moving",))

    def test_ways_end_where_balls_lie(self):
        layout = {"cue": (0.5, 0.4), "1": (1.7, 0.55)}
        motion = simulate(layout, Stroke(math.atan2(0.15, 1.2), 2.5, 0.2, 0.2), BED, PHYSICS)
        for ball, place in motion.rest().items():
            self.assertLess(math.dist(motion.at(motion.duration)[ball], place), 1e-9)
            self.assertLess(math.dist(motion.path(ball)[-1], place), 1e-9)
        self.assertLess(math.dist(motion.at(0.0)["cue"], layout["cue"]), 1e-12)
        self.assertIsInstance(motion, Motion)


class Pockets(unittest.TestCase):
    def test_a_ball_sent_at_the_middle_falls_everywhere(self):
        for preset in ("pool_9ft", "pool_7ft", "snooker_12ft", "english_7ft"):
            spec = table_spec({"preset": preset})
            for pocket in POCKETS:
                end, side = pocket.split("_")
                x = {"head": 0.0, "side": spec.length / 2, "foot": spec.length}[end]
                y = spec.width if side == "left" else 0.0
                self.assertTrue(falls((spec.length / 2, spec.width / 2), (x, y), 1.5, spec), (preset, pocket))

    def shares(self, speed, off_m=0.015, spec=SPEC, count=160):
        """How often a ball falls that rolls along the cushion, so far off it, with small errors."""
        random = np.random.default_rng(5)
        made = 0
        for _ in range(count):
            start = (spec.length - 0.9, spec.width - spec.ball_radius - off_m)
            to = (spec.length - 0.05, spec.width - spec.ball_radius - off_m + random.normal(0.012, 0.02))
            made += falls(start, to, speed, spec)
        return made / count

    def test_a_slow_ball_along_the_cushion_falls_more_readily(self):
        slow, fast = self.shares(0.6), self.shares(3.5)
        self.assertGreater(slow, fast + 0.1)

    def test_a_tighter_pocket_takes_less(self):
        # By as much as the window of the measures says: shares of directions from one place.
        ball = (1.5, 0.8)
        shares = {}
        for inches in (4.1, 4.5):
            spec = table_spec({"preset": "pool_9ft", "corner_mouth": inches * INCH})
            target = (spec.length, spec.width)
            middle = math.atan2(target[1] - ball[1], target[0] - ball[0])
            angles = np.linspace(-0.08, 0.08, 161)
            made = [
                falls(ball, (ball[0] + math.cos(middle + a), ball[1] + math.sin(middle + a)), 1.2, spec)
                for a in angles
            ]
            found = pots(
                spec,
                np.array([[0.9, 0.5]]),
                np.array([ball]),
                np.array([POCKETS.index("foot_left")]),
                np.zeros((1, 0, 2)),
            )
            shares[inches] = (np.mean(made) * 0.16, float(found.window[0]))
        tight, usual = shares[4.1], shares[4.5]
        self.assertLess(tight[0], usual[0])
        self.assertAlmostEqual(tight[0] / usual[0], tight[1] / usual[1], delta=0.12)
        # A slow ball also falls off a jaw: somewhat more than the clean window falls.
        for simulated, window in shares.values():
            self.assertGreater(simulated, 0.9 * window)
            self.assertLess(simulated, 1.8 * window)


class Aiming(unittest.TestCase):
    def test_an_aimed_ball_runs_to_its_target(self):
        cue, ball, target = (0.9, 0.4), (1.6, 0.75), (SPEC.length - 0.02, SPEC.width - 0.02)
        for speed, a, b in ((1.5, 0, 0), (3.0, 0.3, -0.2), (5.0, -0.3, 0.3), (2.0, 0.0, -0.4)):
            stroke = aim_at(Stroke(0.0, speed, a, b), cue, ball, target, PHYSICS)
            motion = simulate({"cue": cue, "1": ball}, stroke, BED, PHYSICS)
            self.assertEqual(motion.pockets.get("1"), "foot_left", (speed, a, b))

    def test_throw_and_squirt_are_in_it(self):
        cue, ball, target = (1.2, 0.3), (1.6, 0.75), (SPEC.length, SPEC.width)
        away = math.atan2(target[1] - ball[1], target[0] - ball[0])
        ghost = (ball[0] - 2 * R * math.cos(away), ball[1] - 2 * R * math.sin(away))
        plain = math.atan2(ghost[1] - cue[1], ghost[0] - cue[0])
        centre = aim_at(Stroke(0.0, 2.0), cue, ball, target, PHYSICS)
        right = aim_at(Stroke(0.0, 2.0, 0.4), cue, ball, target, PHYSICS)
        self.assertGreater(abs(centre.phi - plain), math.radians(0.05))
        # Right side leaves to the left: the aim is more to the right.
        self.assertLess(right.phi, centre.phi)

    def test_a_cut_that_nobody_plays_has_no_aim(self):
        self.assertIsNone(aim_at(Stroke(0.0, 2.0), (1.0, 0.5), (1.5, 0.5), (0.0, 0.6), PHYSICS))

    def test_rails_and_balls_raise_the_cue(self):
        middle, near = (1.2, 0.6), (R, 0.6)
        self.assertLess(least_elevation(SPEC, {}, middle, 0.0), math.radians(2))
        frozen = least_elevation(SPEC, {}, near, 0.0)
        self.assertGreater(frozen, math.radians(8))
        behind = {"1": (middle[0] - 0.08, middle[1])}
        self.assertGreater(least_elevation(SPEC, behind, middle, 0.0), math.radians(20))
        beside = {"1": (middle[0] - 0.08, middle[1] + 0.08)}
        self.assertLess(least_elevation(SPEC, beside, middle, 0.0), math.radians(2))
        # Low on the ball the cue needs more, and an own elevation that is more is kept.
        self.assertGreater(least_elevation(SPEC, {}, near, 0.0, b=-0.3), frozen)
        self.assertLess(least_elevation(SPEC, {}, near, 0.0, b=0.4), frozen / 2)
        steep = Stroke(0.0, 1.0, elevation=0.9)
        self.assertEqual(with_least_elevation(steep, SPEC, {"cue": near}).elevation, 0.9)


class Repeating(unittest.TestCase):
    LAYOUT = {"cue": (0.7, 0.4), "1": (1.6, 0.7), "2": (2.0, 0.5), "3": (1.1, 1.0)}  # noqa: RUF012

    def test_the_same_seed_is_the_same_with_any_number_of_threads(self):
        stroke = Stroke(math.atan2(0.3, 0.9), 2.5)
        spreads = spreads_of_level("club", snooker=False)
        starts = strokes_with_errors(stroke, spreads, PHYSICS, seed=7, count=300)
        one, two = (repeat(self.LAYOUT, starts, BED, PHYSICS, threads) for threads in (1, 2))
        for name in ("rest", "fate", "first", "cushion", "cushions", "ended"):
            np.testing.assert_array_equal(getattr(one, name), getattr(two, name))
        # Fewer of them are the first ones.
        few = strokes_with_errors(stroke, spreads, PHYSICS, seed=7, count=20)
        np.testing.assert_array_equal(few, starts[:20])
        other = strokes_with_errors(stroke, spreads, PHYSICS, seed=8, count=20)
        self.assertGreater(np.abs(other - few).max(), 0.01)

    def test_without_errors_every_stroke_is_the_one_that_was_meant(self):
        stroke = Stroke(math.atan2(0.3, 0.9), 2.5, 0.2, -0.1)
        starts = strokes_with_errors(stroke, EXACT, PHYSICS, seed=1, count=3)
        np.testing.assert_allclose(starts, np.tile(stroke.struck(PHYSICS), (3, 1)), atol=1e-12)
        outcomes = repeat(self.LAYOUT, starts, BED, PHYSICS)
        motion = simulate(self.LAYOUT, stroke, BED, PHYSICS)
        for ball, place in motion.rest().items():
            self.assertEqual(outcomes.potted(ball)[0], ON_TABLE)
            np.testing.assert_allclose(outcomes.rest[0, outcomes.balls.index(ball)], place, atol=1e-9)
        first = next(event for event in motion.events if event.kind == "ball_ball")
        self.assertIn(outcomes.balls[outcomes.first[0]], first.balls)

    def test_errors_are_as_large_as_the_player_s(self):
        spreads = Spreads(2.0, 0.05, 1.0, 1.0)
        starts = played(Stroke(0.0, 3.0), spreads, errors_of(3, 4000), PHYSICS)
        speeds = np.hypot(starts[:, 0], starts[:, 1])
        self.assertAlmostEqual(float(np.std(speeds)) / 3.0, 0.05, delta=0.006)
        # The tip's error squirts as well: so much more than the aim alone.
        squirt = math.radians(PHYSICS.squirt_deg) * 1e-3 / R
        wanted = math.hypot(0.002, squirt)
        self.assertAlmostEqual(float(np.std(np.arctan2(starts[:, 1], starts[:, 0]))), wanted, delta=1.5e-4)
