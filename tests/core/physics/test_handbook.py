"""What handbooks say of balls, beside each its source; and what is not so, though it is often said."""

import math
import unittest
from dataclasses import replace

import numpy as np

from ripasso.core.physics.bed import unbounded_bed, walled_bed
from ripasso.core.physics.motion import simulate_states
from ripasso.core.physics.parameters import CLOTHS, POOL, Physics, physics_of
from ripasso.core.physics.strokes import Stroke, ball_speed
from ripasso.core.table import table_spec

P = Physics()
R = P.radius
#: Two balls without friction that lose nothing.
IDEAL = replace(P, ball_restitution=1.0, ball_friction=(0.0, 0.0, 0.0))


def alone(state, physics=P, bed=None):
    return simulate_states(("cue",), np.array([state], dtype=float), bed or unbounded_bed(), physics)


def pair(start, fullness, physics=P):
    """A cue ball that runs along x into a ball half a metre on, met with a fullness (1: straight)."""
    offset = 2 * R * (1 - fullness)
    states = np.zeros((2, 7))
    states[0] = start
    states[1, :2] = (start[0] + 0.5, start[1] - offset)
    return simulate_states(("cue", "1"), states, unbounded_bed(), physics)


def hit(motion):
    return next(event for event in motion.events if event.kind == "ball_ball")


def way(state):
    return math.degrees(math.atan2(state[3], state[2]))


class Cloth(unittest.TestCase):
    def test_a_ball_struck_in_its_middle_keeps_five_sevenths(self):
        # G.-G. Coriolis (1835), from memory: 5/7 of the speed is left when it rolls.
        motion = alone([0, 0, 3.0, 0, 0, 0, 0])
        self.assertAlmostEqual(motion.events[0].after[0][2], 3.0 * 5 / 7, places=9)
        # It slides over 12 v² / (49 mu g) (the same source).
        self.assertAlmostEqual(motion.events[0].after[0][0], 12 * 9 / (49 * P.sliding * P.gravity), places=9)

    def test_a_spinning_ball_gains_two_sevenths_of_its_rim(self):
        # From rest with the rim at R w: 2/7 of it becomes speed (W. C. Marlow 1995, from memory).
        motion = alone([0, 0, 0, 0, 0, 50.0, 0])
        self.assertAlmostEqual(motion.events[0].after[0][2], 2 / 7 * R * 50, places=9)

    def test_struck_two_fifths_above_the_middle_it_rolls_at_once(self):
        # The height of 7/5 of a radius over the cloth (Coriolis, from memory).
        states = np.zeros((1, 7))
        states[0, 2:] = Stroke(0.0, 2.0, b=0.4).struck(P)
        motion = simulate_states(("cue",), states, unbounded_bed(), P)
        self.assertEqual([event.kind for event in motion.events], ["roll_end"])

    def test_upright_spin_runs_down_by_itself(self):
        motion = alone([0, 0, 0, 0, 0, 0, 60.0])
        decay = 5 * P.spinning * P.gravity / (2 * R)
        self.assertAlmostEqual(motion.duration, 60 / decay, places=9)
        self.assertAlmostEqual(decay, 10.0, delta=0.1)  # Marlow's measured 10 rad/s², from memory

    def test_cloths_are_as_far_apart_as_they_say(self):
        spec = table_spec(None)
        runs = {}
        for cloth in CLOTHS:
            physics = physics_of(spec, cloth)
            runs[cloth] = alone([0, 0, 1.0, 0, 0, 1.0 / R, 0], physics).end[0, 0]
        self.assertAlmostEqual(runs["fast"] / runs["slow"], CLOTHS["slow"] / CLOTHS["fast"], places=6)

    def test_a_masse_ends_along_coriolis_line(self):
        # A raised cue drives the ball at last along the line from where the cue's axis would meet the cloth
        # through the point where the ball rests on it (Coriolis, from memory).
        a, elevation = 0.35, math.radians(25)
        b = 0.1
        stroke = Stroke(0.0, 1.5, a, b, elevation)
        states = np.zeros((1, 7))
        states[0, 2:] = stroke.struck(P)
        motion = simulate_states(("cue",), states, unbounded_bed(), P)
        rolled = motion.events[0].after[0]
        sine, cosine = math.sin(elevation), math.cos(elevation)
        # The point that is hit, and the axis of the cue from there to the cloth; forward is x, right is -y.
        depth = math.sqrt(1 - a * a - b * b)
        x = R * (-depth * cosine + b * sine)
        z = R * (1 + depth * sine + b * cosine)
        at_cloth = (x + z * cosine / sine, -R * a)
        self.assertAlmostEqual(way(rolled), math.degrees(math.atan2(at_cloth[1], at_cloth[0])), delta=0.01)


class Impacts(unittest.TestCase):
    def test_the_thirty_degree_rule(self):
        # D. G. Alciatore, "The 30-degree rule" (from memory): a rolling cue ball leaves a half-ball hit at
        # 33.7 degrees, and between a quarter and three quarters within 27 to 34 degrees, without losses.
        rolling = [0, 0, 1.5, 0, 0, 1.5 / R, 0]
        found = {}
        for fullness in (0.25, 0.5, 0.75):
            motion = pair(rolling, fullness, IDEAL)
            after = next(e for e in motion.events if e.kind == "slide_end" and "cue" in e.balls).after[0]
            found[fullness] = way(after)
        self.assertAlmostEqual(found[0.5], 33.67, delta=0.02)
        # Coriolis' final direction: atan(sin a cos a / (sin² a + 2/5)), a the cut.
        for fullness, degrees in found.items():
            cut = math.asin(1 - fullness)
            wanted = math.atan2(math.sin(cut) * math.cos(cut), math.sin(cut) ** 2 + 0.4)
            self.assertAlmostEqual(degrees, math.degrees(wanted), delta=0.02)
            self.assertTrue(27 < degrees < 34, found)

    def test_a_stun_leaves_at_a_right_angle_only_without_friction(self):
        for physics, exact in ((IDEAL, True), (P, False)):
            fast = [0, 0, 60.0, 0, 0, 0, 0]  # so fast that it does not begin to roll on its way
            motion = pair(fast, 0.6, physics)
            one, two = hit(motion).after
            angle = abs(way(one) - way(two))
            if exact:
                self.assertAlmostEqual(angle, 90, delta=1e-6)
            else:
                self.assertGreater(abs(angle - 90), 0.5)

    def test_gearing_outside_english_throws_nothing(self):
        # R w = v sin(cut): the surfaces do not rub (Alciatore TP A.26, from memory).
        fullness, speed = 0.5, 40.0
        cut = math.asin(1 - fullness)
        for share, still in ((-1, True), (0, False), (1, False)):
            spin = share * speed * math.sin(cut) / R
            motion = pair([0, 0, speed, 0, 0, 0, spin], fullness)
            event = hit(motion)
            away = event.before[1][:2] - event.before[0][:2]
            throw = way(event.after[1]) - math.degrees(math.atan2(away[1], away[0]))
            self.assertEqual(abs(throw) < 0.1, still, throw)

    def test_a_softer_half_ball_throws_more(self):
        throws = []
        for speed in (0.5, 1.5, 4.0):
            event = hit(pair([0, 0, speed, 0, 0, 0, 0], 0.5, replace(P, sliding=1e-4)))
            away = event.before[1][:2] - event.before[0][:2]
            throws.append(abs(way(event.after[1]) - math.degrees(math.atan2(away[1], away[0]))))
        self.assertEqual(throws, sorted(throws, reverse=True))
        self.assertTrue(1 < throws[0] < 7, throws)  # Marlow's measurements: up to about 6 degrees

    def test_inside_english_does_not_always_throw_more(self):
        # It is often taught so. A thin hit slips too fast already: inside makes the friction smaller.
        def throw(spin):
            event = hit(pair([0, 0, 3.0, 0, 0, 0, spin], 0.3, replace(P, sliding=1e-4)))
            away = event.before[1][:2] - event.before[0][:2]
            return abs(way(event.after[1]) - math.degrees(math.atan2(away[1], away[0])))

        inside, plain = throw(60.0), throw(0.0)
        self.assertLess(inside, plain)

    def test_a_rolling_ball_runs_a_fifth_or_so_of_what_it_sends_straight_on(self):
        # Straight and rolling the object ball runs (5/7)² / (2/7)² = 6.25 times as far, without losses.
        motion = pair([0, 0, 2.0, 0, 0, 2.0 / R, 0], 1.0, IDEAL)
        event = hit(motion)
        # Of the ways each rolls: what is slid is not counted.
        speeds = {}
        for e in motion.events:
            if e.kind == "slide_end" and e.time > event.time:
                speeds[e.balls[0]] = float(np.hypot(*e.after[0][2:4]))
        self.assertAlmostEqual((speeds["1"] / speeds["cue"]) ** 2, 6.25, delta=1e-6)

    def test_draw_with_a_rim_one_and_a_quarter_as_fast_trisects(self):
        # R w = -1.25 v at the contact: without losses the cue ball comes back at twice the cut to the line it
        # came on, at three times the cut to the line of centres (Alciatore, "trisect system", from memory):
        # tan of it is sin a cos a / (1/2 - sin² a), which is tan 2a.
        for fullness in (0.6, 0.75, 0.85):
            cut = math.degrees(math.asin(1 - fullness))
            speed = 1.5
            motion = pair([0, 0, speed, 0, 0, -1.25 * speed / R, 0], fullness, replace(IDEAL, sliding=1e-6))
            state = hit(motion).after[0]
            # What it rolls with at last: v - 2/7 of its slip.
            slip = (state[2] - R * state[5], state[3] + R * state[4])
            back = (state[2] - 2 / 7 * slip[0], state[3] - 2 / 7 * slip[1])
            turned = 180 - abs(math.degrees(math.atan2(back[1], back[0])))
            self.assertAlmostEqual(turned, 2 * cut, delta=0.01)


class Cushions(unittest.TestCase):
    def rebound(self, degrees, spin_z=0.0, roll=True, speed=1.5):
        """The angle to the cushion's normal after it, for one before it."""
        v = (speed * math.cos(math.radians(degrees)), speed * math.sin(math.radians(degrees)))
        w = (-v[1] / R, v[0] / R) if roll else (0.0, 0.0)
        bed = walled_bed(2.54, 1.27, R, [], [])
        motion = alone([2.54 - R - 0.001, 0.4, *v, *w, spin_z], P, bed)
        event = next(e for e in motion.events if e.kind == "cushion")
        after = event.after[0]
        return math.degrees(math.atan2(after[3], -after[2])), motion

    def test_check_side_shortens_and_running_side_lengthens(self):
        # For a ball that goes up the table's left, its right side meets the foot cushion: running is left.
        plain, _ = self.rebound(40)
        with_left, _ = self.rebound(40, spin_z=-40.0)
        with_right, _ = self.rebound(40, spin_z=40.0)
        longer, shorter = max(with_left, with_right), min(with_left, with_right)
        self.assertLess(shorter, plain)
        self.assertGreater(longer, plain)
        # Clockwise spin rolls it along the cushion towards the left: that is the running one.
        self.assertEqual(longer, with_left)

    def test_in_is_not_out(self):
        # Often taught. A rolling ball comes off longer or shorter, as its speed and roll are.
        for degrees in (20, 45, 65):
            self.assertGreater(abs(self.rebound(degrees)[0] - degrees), 1.0)

    def test_topspin_works_against_the_rebound(self):
        # What it rolls with after the cushion: v - 2/7 of its slip.
        speeds = []
        for roll in (True, False):
            _, motion = self.rebound(0.0, roll=roll, speed=1.0)
            state = next(e for e in motion.events if e.kind == "cushion").after[0]
            speeds.append(-(state[2] - 2 / 7 * (state[2] - R * state[5])))
        self.assertLess(speeds[0], 0.97 * speeds[1])

    def test_a_livelier_cushion_gives_more_back(self):
        spec, bed = table_spec(None), walled_bed(2.54, 1.27, R, [], [])
        back = []
        for name in ("dull", "medium", "lively"):
            physics = physics_of(spec, cushions=name)
            motion = alone([2.4, 0.6, 2.0, 0, 0, 2.0 / R, 0], physics, bed)
            back.append(-motion.events[0].after[0][2])
        self.assertEqual(back, sorted(back))
        self.assertGreater(back[2], 1.1 * back[0])


class Strokes(unittest.TestCase):
    def test_side_turns_a_ball_by_five_halves_of_its_offset(self):
        # R w = 5/2 a v (Coriolis, from memory).
        struck = Stroke(0.3, 2.0, a=0.4).struck(P)
        self.assertAlmostEqual(R * struck[4], 2.5 * 0.4 * 2.0, places=12)

    def test_speed_of_cue_and_ball(self):
        # A cue of three times the mass and an elastic tip drives a ball in its middle at 2 M/(M + m) of its
        # speed: conservation of momentum and energy.
        elastic = replace(P, tip_restitution=1.0)
        wanted = 2 * P.cue_mass / (P.cue_mass + P.mass)
        self.assertAlmostEqual(ball_speed(1.0, 0.0, 0.0, 0.0, elastic), wanted, places=12)

    def test_right_side_squirts_left(self):
        # R. Shepard (2001), from memory: the ball leaves to the other side of the tip, by a degree or so.
        struck = Stroke(0.0, 2.0, a=0.5).struck(POOL)
        degrees = math.degrees(math.atan2(struck[1], struck[0]))
        self.assertTrue(0.3 < degrees < 3.0, degrees)
