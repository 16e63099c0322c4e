"""Geometry of pots against closed forms, facts of the trade, and the cue line turned in small steps."""

import math
import random
import unittest

import numpy as np

from ripasso.core.geometry import OBSTACLES, chances, pots, visible_fractions
from ripasso.core.geometry.layouts import PotBook
from ripasso.core.table import POCKETS, table_spec
from ripasso.core.table.pockets import nose_points

SPEC = table_spec({"preset": "pool_9ft"})
RADIUS = SPEC.ball_radius
INCH = 0.0254


def one(cue, ball, pocket, *others, spec=SPEC):
    """The pot of one ball, as a mapping of plain numbers."""
    extra = np.array([others], dtype=float).reshape(1, -1, 2)
    return pots(spec, np.array([cue]), np.array([ball]), np.array([POCKETS.index(pocket)]), extra)


def obstacle(*args, **more):
    return OBSTACLES[int(one(*args, **more).obstacle[0])]


def cue_for(ball, pocket, cut_deg, distance, spec=SPEC):
    """A cue ball so far from the ghost ball that the pot has this cut."""
    found = one((0.1, 0.1), ball, pocket, spec=spec)
    ghost, target = found.ghost[0], found.target[0]
    line = math.atan2(target[1] - ball[1], target[0] - ball[0]) - math.radians(cut_deg)
    return (ghost[0] - distance * math.cos(line), ghost[1] - distance * math.sin(line))


class FactsOfTheTrade(unittest.TestCase):
    def test_fullness_of_the_named_hits(self):  # definition 1 - sin(cut); the names are the trade's
        for cut, fullness in ((0, 1.0), (14.4775, 0.75), (30, 0.5), (48.5904, 0.25)):
            cue = cue_for((1.8, 0.6), "foot_left", cut, 0.5)
            found = one(cue, (1.8, 0.6), "foot_left")
            self.assertAlmostEqual(math.degrees(found.cut[0]), cut, places=6)
            self.assertAlmostEqual(found.fullness[0], fullness, places=5)

    def test_natural_roll_bends_by_a_third_of_a_right_angle_and_a_little(self):
        # Rolling ball deflection atan(sin c cos c / (sin^2 c + 2/5)): 33.67 degrees at half-ball, at most
        # 33.75 (near 28 degrees). Alciatore, technical proof TP 3.3, from memory.
        bends = []
        for cut in np.arange(1.0, 80.0, 0.05):
            cue = cue_for((1.8, 0.6), "foot_left", cut, 0.5)
            found = one(cue, (1.8, 0.6), "foot_left")
            ghost = found.ghost[0]
            aim = math.degrees(math.atan2(ghost[1] - cue[1], ghost[0] - cue[0]))
            bends.append(abs(math.remainder(aim - math.degrees(found.natural_roll[0]), 360)))
        half_ball = bends[round((30 - 1) / 0.05)]
        self.assertAlmostEqual(half_ball, 33.67, places=2)
        self.assertAlmostEqual(max(bends), 33.75, places=2)

    def test_four_and_a_half_inches(self):  # arithmetic; WPA equipment specification for the corner mouth
        self.assertAlmostEqual(SPEC.corner_mouth, 0.1143, places=6)
        (x0, y0), (x1, y1) = nose_points(SPEC, "foot_left")
        self.assertAlmostEqual(math.hypot(x1 - x0, y1 - y0), 0.1143, places=6)

    def test_a_tight_mouth_leaves_five_sixths_of_the_opening(self):
        # A 4 1/8 in mouth leaves 83 % of the room beside the ball of 4 1/2 in (arithmetic).
        tight = table_spec({"preset": "pool_9ft", "corner_mouth": 4.125 * INCH})
        far = (2.54 - 0.9, 1.27 - 0.9)  # on the axis of the pocket
        wide = one((0.2, 0.2), far, "foot_left").window[0]
        narrow = one((0.2, 0.2), far, "foot_left", spec=tight).window[0]
        self.assertAlmostEqual((4.125 - 2.25) / (4.5 - 2.25), 0.833, places=3)
        self.assertAlmostEqual(narrow / wide, 0.833, delta=0.01)

    def test_the_longest_straight_pot_on_a_full_size_table(self):  # fact of the trade: under 13.1 ft
        spec = table_spec({"preset": "snooker_12ft"})
        corner, r = (spec.ball_radius, spec.ball_radius), spec.ball_radius
        found = one(corner, (corner[0] + 2.2 * r, corner[1] + 1.1 * r), "foot_left", spec=spec)
        feet = (found.cue_travel[0] + found.object_travel[0] + 2 * r) / 0.3048
        self.assertLess(feet, 13.1)
        self.assertGreater(feet, 12.5)

    def test_chance_is_the_normal_share_between_the_edges(self):
        # Normal table: 1, 2 and 1/2 standard deviations on both sides: 0.6827, 0.9545, 0.3829.
        found = one(cue_for((1.8, 0.6), "foot_left", 0.0, 0.5), (1.8, 0.6), "foot_left")
        tolerance = float(found.tolerance[0])
        self.assertAlmostEqual(found.tolerance_left[0], found.tolerance_right[0], places=12)
        for share, chance in ((1, 0.6827), (2, 0.9545), (0.5, 0.3829)):
            self.assertAlmostEqual(float(chances(found, tolerance / share)[0]), chance, places=4)


class TurnedInSmallSteps(unittest.TestCase):
    """The cue line turned until the object ball no longer passes the nose points: an independent way."""

    def test_tolerance_of_both_sides(self):
        chance = random.Random(7)
        tried = 0
        while tried < 60:
            cue = (chance.uniform(0.1, 2.4), chance.uniform(0.1, 1.1))
            ball = (chance.uniform(0.3, 2.2), chance.uniform(0.15, 1.1))
            pocket = chance.choice(POCKETS)
            found = one(cue, ball, pocket)
            if found.obstacle[0] or abs(found.cut[0]) > math.radians(75):
                continue
            tried += 1
            ghost = found.ghost[0]
            aim = math.atan2(ghost[1] - cue[1], ghost[0] - cue[0])
            for tolerance, turn in ((found.tolerance_left[0], 1), (found.tolerance_right[0], -1)):
                inside = self.passes(cue, ball, pocket, aim + turn * (tolerance - 1e-7))
                outside = self.passes(cue, ball, pocket, aim + turn * (tolerance + 1e-7))
                self.assertEqual((inside, outside), (True, False), (cue, ball, pocket, turn))

    def passes(self, cue, ball, pocket, line):
        """Whether the object ball, hit on this cue line, clears both nose points."""
        ux, uy = math.cos(line), math.sin(line)
        dx, dy = ball[0] - cue[0], ball[1] - cue[1]
        along, across = dx * ux + dy * uy, dy * ux - dx * uy
        if abs(across) >= 2 * RADIUS:
            return False
        reach = along - math.sqrt(4 * RADIUS**2 - across**2)
        contact = (cue[0] + reach * ux, cue[1] + reach * uy)
        vx, vy = (ball[0] - contact[0]) / (2 * RADIUS), (ball[1] - contact[1]) / (2 * RADIUS)
        sides = []
        for nose in nose_points(SPEC, pocket):
            nx, ny = nose[0] - ball[0], nose[1] - ball[1]
            if nx * vx + ny * vy < 0:
                return False
            sides.append(ny * vx - nx * vy)
        return min(sides) <= -RADIUS and max(sides) >= RADIUS

    def test_the_first_order_formula_for_hand_checks(self):
        # tolerance = (window / 2) 2R cos(cut) / |CG|: within half a percent up to 75 degrees from 0.6 m on.
        for cut in (0, 20, 45, 60, 75):
            ball = (1.7, 0.62)
            found = one(cue_for(ball, "foot_left", cut, 0.8), ball, "foot_left")
            self.assertGreater(found.object_travel[0], 0.6)
            by_hand = found.window[0] / 2 * 2 * RADIUS * math.cos(found.cut[0]) / found.cue_travel[0]
            self.assertAlmostEqual(found.tolerance[0] / by_hand, 1.0, delta=0.005)

    def test_a_blocked_window_against_rays(self):
        """What is left of a window with two balls in it, by asking 20,000 directions."""
        ball, near, far = (1.6, 0.6), (2.0, 0.86), (2.3, 1.0)
        found = one((0.8, 0.3), ball, "foot_left", near, far)
        full = one((0.8, 0.3), ball, "foot_left")
        noses = nose_points(SPEC, "foot_left")
        angles = np.linspace(0, math.pi / 2, 20001)
        free = []
        for angle in angles:
            vx, vy = math.cos(angle), math.sin(angle)
            across = [(y - ball[1]) * vx - (x - ball[0]) * vy for x, y in noses]
            clear = min(across) <= -RADIUS and max(across) >= RADIUS
            apart = [abs((y - ball[1]) * vx - (x - ball[0]) * vy) for x, y in (near, far)]
            free.append(clear and min(apart) >= 2 * RADIUS)
        runs, run = [], 0
        for is_free in [*free, False]:
            run = run + 1 if is_free else (runs.append(run) or 0)
        widest = max(runs) * (angles[1] - angles[0])
        self.assertLess(found.window[0], full.window[0])
        self.assertAlmostEqual(found.window[0], widest, delta=2 * (angles[1] - angles[0]))
        self.assertEqual(found.object_blockers[0].tolist(), [True, True])


class WhatStandsInTheWay(unittest.TestCase):
    def test_every_obstacle_has_its_name(self):
        cases = {
            None: ((1.0, 0.6), (1.8, 0.9), "foot_left"),
            "touching": ((1.8, 0.9 - 2 * RADIUS), (1.8, 0.9), "foot_left"),
            "closed": ((1.0, 0.6), (0.4, RADIUS), "side_right"),
            "object_blocked": ((1.0, 0.6), (2.2, 0.95), "foot_left", (2.2 + 2 * RADIUS, 0.95 + 0.02)),
            "cut": ((2.4, 1.2), (1.8, 0.9), "foot_left"),
            "cushion": ((0.3, 0.1), (1.0, RADIUS), "foot_left"),
            "cue_blocked": ((1.0, 0.6), (1.8, 0.9), "foot_left", (1.4, 0.74)),
        }
        for name, (cue, ball, pocket, *others) in cases.items():
            with self.subTest(name):
                self.assertEqual(obstacle(cue, ball, pocket, *others), name)

    def test_the_steepest_cut(self):  # docs/measures.md: 85 degrees
        ball = (1.8, 0.6)
        for cut, name in ((84.9, None), (85.1, "cut")):
            self.assertEqual(obstacle(cue_for(ball, "foot_left", cut, 0.5), ball, "foot_left"), name)

    def test_a_ball_beside_the_cue_balls_way(self):
        """It is in the way as soon as it is nearer than two radii."""
        cue, ball = (0.6, 0.5), (1.8, 0.5)
        ghost = one(cue, ball, "foot_left").ghost[0]
        way = math.atan2(ghost[1] - cue[1], ghost[0] - cue[0])
        for radii, name in ((1.95, "cue_blocked"), (2.05, None)):
            middle = (cue[0] + 0.5 * math.cos(way), cue[1] + 0.5 * math.sin(way))
            beside = (
                middle[0] - radii * RADIUS * math.sin(way),
                middle[1] + radii * RADIUS * math.cos(way),
            )
            self.assertEqual(obstacle(cue, ball, "foot_left", beside), name, radii)

    def test_the_ghost_ball_may_sink_a_quarter_of_a_radius_into_the_cushion(self):
        for depth, name in ((0.2, None), (0.3, "cushion")):
            low = RADIUS
            for _ in range(60):  # the height of the ball at which its ghost ball lies as deep as wanted
                low += (1 - depth) * RADIUS - one((0.3, 0.3), (1.0, low), "foot_left").ghost[0][1]
            self.assertEqual(obstacle((0.3, 0.3), (1.0, low), "foot_left"), name, depth)

    def test_a_ball_in_the_jaws_still_closes_the_window(self):
        """The window reaches a radius beyond the mouth: a ball that hangs there is in the way."""
        ball = (1.6, 0.6)
        target = one((0.8, 0.3), ball, "foot_left").target[0]
        far = math.dist(ball, target)
        for radii, blocks in ((0.5, True), (1.5, False)):
            share = (far + radii * RADIUS) / far
            hanging = (ball[0] + share * (target[0] - ball[0]), ball[1] + share * (target[1] - ball[1]))
            found = one((0.8, 0.3), ball, "foot_left", hanging)
            self.assertEqual(bool(found.object_blockers[0][0]), blocks, radii)

    def test_no_case_raises_and_only_what_is_undefined_is_missing(self):
        jaws = nose_points(SPEC, "foot_left")[0]
        places = [
            ((0.5, 0.5), (0.5 + 2 * RADIUS, 0.5)),  # frozen
            ((0.5, 0.5), (2.53, 1.26)),  # in the pocket
            ((0.5, 0.5), (jaws[0] - 0.01, jaws[1] - RADIUS)),  # in the jaws
            ((0.5, 0.5), (0.5, 0.5)),  # one on the other
            ((2.5, 1.2), (2.3, 1.1)),  # cut beyond 90 degrees
        ]
        for cue, ball in places:
            for pocket in POCKETS:
                found = one(cue, ball, pocket)
                name = OBSTACLES[int(found.obstacle[0])]
                chance = float(chances(found, 0.0015)[0])
                self.assertEqual(math.isnan(chance), name == "touching")
                if not math.isnan(chance):
                    self.assertTrue(0 <= chance <= 1)
                self.assertTrue(math.isfinite(found.cue_travel[0]) and math.isfinite(found.window[0]))
                unknown = name in ("touching", "closed", "object_blocked", "cut")
                self.assertEqual(math.isnan(found.tolerance[0]), unknown)

    def test_a_batch_says_what_each_alone_says(self):
        chance = random.Random(3)
        layout = {str(n): (chance.uniform(0.1, 2.4), chance.uniform(0.1, 1.1)) for n in range(1, 10)}
        cue = (0.4, 0.5)
        book = PotBook(SPEC)
        question = book.ask(cue, {"cue": cue, **layout}, tuple(layout))
        book.solve(0.0015)
        for pot in question.pots():
            others = [place for ball, place in layout.items() if ball != pot.ball]
            alone = one(cue, layout[pot.ball], pot.pocket, *others)
            self.assertEqual(book.found.obstacle[pot.index], alone.obstacle[0])
            self.assertEqual(float(book.found.window[pot.index]), float(alone.window[0]))
            self.assertAlmostEqual(pot.chance, float(chances(alone, 0.0015)[0]), places=12)


class Sight(unittest.TestCase):
    def test_half_a_ball(self):
        # A ball whose edge reaches the middle of the line of sight hides half of a ball behind it.
        seen = visible_fractions(
            np.array([0.5, 0.6]), np.array([[1.5, 0.6]]), np.array([[1.0, 0.6 - 2 * RADIUS]]), RADIUS
        )
        self.assertAlmostEqual(float(seen[0]), 0.5, delta=0.001)

    def test_against_sampled_directions(self):
        chance = random.Random(11)
        for _ in range(25):
            cue = np.array([0.3, 0.6])
            target = np.array([chance.uniform(0.8, 2.0), chance.uniform(0.3, 0.9)])
            away = [(chance.uniform(0.4, 2.1), chance.uniform(0.4, 0.8)) for _ in range(chance.randint(0, 5))]
            blockers = np.array([b for b in away if math.dist(b, target) > 2 * RADIUS]).reshape(-1, 2)
            found = float(visible_fractions(cue, target[None], blockers, RADIUS)[0])
            self.assertAlmostEqual(found, self.sampled(cue, target, blockers), delta=5e-4)

    def sampled(self, cue, target, blockers):
        away = target - cue
        middle, half = math.atan2(away[1], away[0]), math.asin(2 * RADIUS / math.hypot(*away))
        angles = middle + half * (2 * (np.arange(20000) + 0.5) / 20000 - 1)
        ux, uy = np.cos(angles), np.sin(angles)

        def reach(place):
            dx, dy = place - cue
            along, across = dx * ux + dy * uy, dy * ux - dx * uy
            hit = (np.abs(across) < 2 * RADIUS) & (along > 0)
            depth = np.sqrt(np.maximum(0.0, 4 * RADIUS**2 - across**2))
            return np.where(hit, along - depth, np.inf)

        first = np.min([reach(b) for b in blockers], axis=0) if len(blockers) else np.inf
        return float(np.mean(reach(target) <= first))

    def test_behind_a_wall_it_is_snookered(self):
        wall = np.array([[1.0, 0.6 + 1.9 * RADIUS * k] for k in (-2, -1, 0, 1, 2)])
        seen = visible_fractions(np.array([0.5, 0.6]), np.array([[1.5, 0.6]]), wall, RADIUS)
        self.assertEqual(float(seen[0]), 0.0)


if __name__ == "__main__":
    unittest.main()
