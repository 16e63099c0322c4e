"""Trends and changes against planted ones, weak spots against planted habits, checks of a table."""

import math
import unittest
from dataclasses import replace

import numpy as np

from ripasso.core.practice.progress import attempts_to_see, change, trend
from ripasso.core.practice.projecting import homography, projected
from ripasso.core.practice.setting_up import setting_of
from ripasso.core.practice.table_checks import (
    Roll,
    cloth_word,
    drift_of,
    level_check,
    mean_drift,
    rolling_constant,
)
from ripasso.core.practice.weak_spots import weak_spots
from ripasso.core.table import table_spec
from ripasso.demo.matches.planted import PLANTED, Habits, planted_facts

SPEC = table_spec({"preset": "pool_9ft"})


class Trends(unittest.TestCase):
    def test_a_planted_trend_lies_in_its_interval(self):
        """Odds that double in 30 days: the 95 % interval holds it in nearly all of 200 draws."""
        held = 0
        for seed in range(200):
            draw = np.random.default_rng(seed)
            days = np.repeat(np.arange(0, 60, 3), 10)
            chance = 1 / (1 + np.exp(-(math.log(2) * (days - 30) / 30)))
            found = trend(days, draw.random(len(days)) < chance)
            held += found.low <= 2 <= found.high
        self.assertGreaterEqual(held, 182)  # 190 are expected; 182 or fewer are 1 in 5,000

    def test_where_nothing_can_be_told(self):
        for days, made in (
            ([0, 1], [True, False]),
            (range(20), [True] * 20),
            ([3] * 20, [True, False] * 10),
            (range(20), [False] * 10 + [True] * 10),
        ):
            self.assertIsNone(trend(list(days), made).ratio)

    def test_a_rise_is_seen_from_its_ends(self):
        found = trend(list(range(40)), [n % 4 == 0 for n in range(20)] + [n % 4 != 0 for n in range(20)])
        self.assertLess(found.start, 0.3)
        self.assertGreater(found.end, 0.7)
        self.assertGreater(found.low, 1)


class Changes(unittest.TestCase):
    def drawn(self, before, after, seed, of=150):
        draw = np.random.default_rng(seed)
        return change((int(draw.binomial(of, before)), of), (int(draw.binomial(of, after)), of)).verdict

    def test_better_is_said_without_a_change_in_at_most_5_of_100(self):
        said = sum(self.drawn(0.6, 0.6, seed) == "better" for seed in range(2000))
        self.assertLessEqual(said / 2000, 0.05)

    def test_15_points_over_150_attempts_are_seen_in_80_of_100(self):
        for share in (0.35, 0.5, 0.6, 0.7):
            seen = sum(self.drawn(share, share + 0.15, seed) == "better" for seed in range(1000))
            self.assertGreaterEqual(seen / 1000, 0.8, share)

    def test_words_of_the_verdict(self):
        self.assertEqual(change((90, 100), (60, 100)).verdict, "worse")
        self.assertEqual(change((6, 10), (7, 10)).verdict, "none")
        self.assertEqual(change((0, 0), (7, 10)).verdict, "none")

    def test_how_many_attempts_it_takes(self):
        """Fleiss' formula by hand at 0.5 and 0.6: (1.6449 + 0.8416)^2 * (0.25 + 0.24) / 0.01 = 302.9."""
        self.assertEqual(attempts_to_see(0.5), 303)
        self.assertEqual(attempts_to_see(0.95), attempts_to_see(0.85), "from above, where there is no room")


class WeakSpots(unittest.TestCase):
    def first(self, habits, seed, count=5000):
        found = weak_spots(planted_facts(count, habits, seed), "p")
        return found[0] if found else None

    def test_planted_weaknesses_come_first(self):
        """36 of 40 libraries of each kind (the study of `make habits` is wider)."""
        thin, inside = replace(Habits(), thin_cuts=-0.12), replace(Habits(), inside=-0.12)
        for habits, named in ((thin, ("45-60", "60+")), (inside, ("inside",))):
            right = 0
            for seed in range(40):
                found = self.first(habits, seed)
                right += found is not None and any(group in named for _, group in found.slices)
            self.assertGreaterEqual(right, 36, named)

    def test_counts_and_places_fit(self):
        facts = planted_facts(3000, PLANTED["thin_cuts"], 3)
        for one in weak_spots(facts, "p"):
            self.assertEqual(len(one.shots), one.of)
            self.assertTrue(set(one.failed) <= set(one.shots))
            self.assertGreater(one.cost, 0)
            if one.kind == "pot":
                self.assertEqual(one.of - len(one.failed), one.made)
                self.assertGreater(one.expected, one.made)
        self.assertEqual(weak_spots(facts, "nobody"), [])


class Tables(unittest.TestCase):
    def rolls(self, drift, spin_mm, noise, seed):
        """Twelve rolls along and across a table that falls by `drift` (mm per metre) to the left."""
        draw = np.random.default_rng(seed)
        found = []
        for number in range(12):
            along = number % 3 != 2
            spin = ("none", "none", "left", "right")[number % 4]
            way = 1.8 if along else 0.9
            sign = 1 if number % 2 else -1
            off = drift * way if along else 0.0
            side = {"none": 0.0, "left": spin_mm, "right": -spin_mm}[spin] * way * sign
            if along:
                start, aim = ((0.3, 0.6), (2.1, 0.6)) if sign > 0 else ((2.2, 0.6), (0.4, 0.6))
                stop = (aim[0], aim[1] + (off + side + draw.normal(0, noise)) / 1000)
            else:
                start, aim = ((1.2, 0.2), (1.2, 1.1)) if sign > 0 else ((1.2, 1.1), (1.2, 0.2))
                stop = (aim[0] + (-side + draw.normal(0, noise)) / 1000, aim[1])
            found.append(Roll(start, aim, stop, spin))
        return found

    def test_three_mm_per_metre_are_found_in_twelve_rolls(self):
        held = sided = 0
        for seed in range(1000):
            found = level_check(self.rolls(3.0, 2.0, 1.0, seed))
            held += found.across.low <= 3.0 <= found.across.high
            sided += found.by_spin["left"].low <= 2.0 <= found.by_spin["left"].high
        self.assertGreaterEqual(held, 929)  # 950 are expected, three standard deviations less
        self.assertGreaterEqual(sided, 929)

    def test_a_level_table_and_few_rolls(self):
        found = level_check(self.rolls(0.0, 0.0, 1.0, 5))
        self.assertTrue(found.across.is_level)
        one = level_check([Roll((0.3, 0.6), (2.1, 0.6), (2.1, 0.603))])
        self.assertIsNone(one.across.is_level)
        self.assertIsNone(one.along)
        self.assertEqual(level_check([]).by_spin, {})
        self.assertIsNone(drift_of(Roll((0.3, 0.6), (0.3, 0.6), (1, 1))))
        self.assertIsNone(drift_of(Roll((0.3, 0.6), (2.1, 0.6), (0.4, 0.6))), "too short")
        self.assertIsNone(mean_drift([]))

    def test_the_cloth_from_a_lag(self):
        """A ball that rolls 2.54 m and stops after 7.2 s: 2 s / t² / g = 0.0100."""
        self.assertAlmostEqual(rolling_constant(2.54, 7.2), 0.00999, places=4)
        self.assertEqual([cloth_word(mu) for mu in (0.005, 0.01, 0.02)], ["fast", "medium", "slow"])
        with self.assertRaises(ValueError):
            rolling_constant(0.0, 1.0)


class SettingUp(unittest.TestCase):
    def test_gaps_diamonds_and_sights(self):
        """Pool, 9 ft: diamonds are 317.5 mm along and across; the ball's edge is 28.6 mm from its middle."""
        found = setting_of(SPEC, "5", (0.635, 1.27 - 0.3))
        self.assertEqual((found.length.cushion, found.width.cushion), ("head", "left"))
        self.assertAlmostEqual(found.length.gap, 0.635 - SPEC.ball_radius)
        self.assertAlmostEqual(found.length.diamonds, 2.0)
        self.assertEqual(found.length.sight, 2)
        self.assertAlmostEqual(found.width.gap, 0.3 - SPEC.ball_radius)
        self.assertEqual(found.width.sight, 1)
        self.assertIsNone(setting_of(SPEC, "5", (0.48, 0.6)).length.sight)

    def test_a_projector_s_corners(self):
        """Four dragged corners: the corners are where they were dragged, lines stay lines, the middle of a
        trapezium is where its diagonals cross."""
        table = ((0.0, 0.0), (2.54, 0.0), (2.54, 1.27), (0.0, 1.27))
        picture = ((100.0, 700.0), (1180.0, 650.0), (990.0, 120.0), (260.0, 90.0))
        matrix = homography(table, picture)
        self.assertLess(np.abs(projected(matrix, table) - picture).max(), 1e-6)
        middle = projected(matrix, [(1.27, 0.635)])[0]
        a, b, c, d = (np.array(point) for point in picture)
        cross = np.linalg.solve(np.stack((c - a, b - d), axis=1), b - a)
        self.assertLess(np.abs(a + cross[0] * (c - a) - middle).max(), 1e-6)
        with self.assertRaises(ValueError):
            homography(table, ((0, 0), (1, 1), (2, 2), (5, 0)))


if __name__ == "__main__":
    unittest.main()
