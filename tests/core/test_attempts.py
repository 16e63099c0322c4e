"""Attempts at one shot. Expected tries: the mean of the geometric distribution is 1/p (any textbook)."""

import unittest

import numpy as np

from ripasso.core.inference.intervals import rate
from ripasso.core.measures.attempts import attempt_figures, change_effects, first_success, tries_per_success

YES, NO = True, False


class Figures(unittest.TestCase):
    def test_until_the_first_success_counting_it(self):
        self.assertEqual(first_success([NO, NO, YES, NO]), 3)
        self.assertIsNone(first_success([NO, None]))
        self.assertIsNone(first_success([]))

    def test_tries_are_the_rate_turned_round(self):
        found = rate(5, 20)
        tries = tries_per_success(found)
        self.assertEqual(tries.value, 4.0)
        self.assertAlmostEqual(tries.low, 1 / found.high)
        self.assertAlmostEqual(tries.high, 1 / found.low)
        self.assertIsNone(tries_per_success(rate(0, 5)).value)

    def test_the_mean_number_of_tries_is_one_over_the_rate(self):
        """Drawn, not computed: numpy's own geometric draws, seed 4."""
        drawn = np.random.default_rng(4).geometric(0.2, 20000)
        outcomes = [bool(last) for n in drawn for last in [0] * (n - 1) + [1]]
        self.assertAlmostEqual(attempt_figures(outcomes).tries.value, drawn.mean(), places=9)

    def test_what_is_not_judged_counts_for_nothing_but_its_place(self):
        figures = attempt_figures(
            [None, NO, YES], [{}, {"pot": YES}, {"pot": YES, "area": YES}], ["pot", "area"]
        )
        self.assertEqual((figures.rate.made, figures.rate.of), (1, 2))
        self.assertEqual(figures.until_first_success, 3)
        self.assertEqual(figures.first_met, {"pot": 2, "area": 3})

    def test_what_followed_a_change(self):
        outcomes = [NO, NO, YES, NO, YES, YES]
        first, second = change_effects(outcomes, ["", "", "aim 2 mm", "", "pace 10 %", ""])
        self.assertEqual((first.what, first.at), ("aim 2 mm", 3))
        self.assertEqual((first.before.made, first.before.of, first.after.made, first.after.of), (0, 2, 1, 2))
        self.assertEqual((second.before.made, second.before.of, second.after.made), (1, 2, 2))
