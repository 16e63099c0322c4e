"""Intervals and tests of full statistics, against statsmodels, SciPy and published worked examples.

Published: Newcombe, Statistics in Medicine 17 (1998) 873-890, table II (differences of two rates, method 10;
the values below from memory, and equal to what statsmodels gives).
"""

import math
import unittest
import warnings

import numpy as np
import scipy.optimize
import scipy.stats

from ripasso.core.inference.estimates import (
    LARGE,
    aim_spread,
    difference,
    expected,
    mean,
    quantile,
    runs_test,
)
from ripasso.core.inference.intervals import rate

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    from statsmodels.sandbox.stats.runs import runstest_1samp
    from statsmodels.stats.proportion import confint_proportions_2indep, proportion_confint


class Differences(unittest.TestCase):
    PUBLISHED = (
        ((56, 70), (48, 80), (0.2000, 0.0524, 0.3339)),
        ((9, 10), (3, 10), (0.6000, 0.1705, 0.8090)),
        ((6, 7), (2, 7), (0.5714, 0.0582, 0.8062)),
        ((5, 56), (0, 29), (0.0893, -0.0381, 0.1926)),
        ((0, 10), (0, 20), (0.0000, -0.1611, 0.2775)),
        ((10, 10), (0, 10), (1.0000, 0.6075, 1.0000)),
    )

    def test_published_examples(self):
        for first, second, values in self.PUBLISHED:
            found = difference(rate(*first), rate(*second))
            for one, value in zip((found.difference, found.low, found.high), values, strict=True):
                self.assertAlmostEqual(one, value, delta=6e-5)

    def test_statsmodels_gives_the_same(self):
        random = np.random.default_rng(5)
        for _ in range(40):
            of1, of2 = random.integers(3, 90, 2)
            made1, made2 = random.integers(0, of1 + 1), random.integers(0, of2 + 1)
            found = difference(rate(int(made1), int(of1)), rate(int(made2), int(of2)))
            low, high = confint_proportions_2indep(made1, of1, made2, of2, method="newcomb")
            self.assertAlmostEqual(found.low, low, places=9)
            self.assertAlmostEqual(found.high, high, places=9)
            wilson = proportion_confint(made1, of1, method="wilson")
            self.assertAlmostEqual(rate(int(made1), int(of1)).low, wilson[0], places=9)

    def test_many_equal_chances_beside_the_binomial(self):
        """Above the limit of exact sums the counts are those of SciPy's binomial distribution."""
        for of in (LARGE + 1, LARGE + 400, 4 * LARGE):
            for chance in (0.2, 0.5, 0.83):
                found = expected([chance] * of, 0)
                low, high = scipy.stats.binom.ppf((0.025, 0.975), of, chance)
                self.assertEqual((found.low, found.high), (-high, -low), (of, chance))

    def test_an_empty_side_says_nothing(self):
        self.assertIsNone(difference(rate(0, 0), rate(1, 2)).difference)


class Means(unittest.TestCase):
    VALUES = np.random.default_rng(8).gamma(2.0, 0.1, 60)

    def test_bootstrap_beside_scipy(self):
        """Another generator, the same recipe: the ends agree within a tenth of the interval."""
        for found, statistic in (
            (mean(self.VALUES), np.mean),
            (quantile(self.VALUES, 0.5), np.median),
        ):
            other = scipy.stats.bootstrap(
                (self.VALUES,), statistic, n_resamples=4000, method="percentile", rng=3
            ).confidence_interval
            width = other.high - other.low
            self.assertAlmostEqual(found.value, statistic(self.VALUES), places=12)
            self.assertAlmostEqual(found.low, other.low, delta=0.1 * width)
            self.assertAlmostEqual(found.high, other.high, delta=0.1 * width)

    def test_large_samples_take_closed_forms(self):
        values = np.random.default_rng(9).normal(0.2, 0.05, LARGE + 500)
        found = mean(values)
        low, high = scipy.stats.t.interval(0.95, len(values) - 1, values.mean(), scipy.stats.sem(values))
        self.assertAlmostEqual(found.low, low, places=9)
        self.assertAlmostEqual(found.high, high, places=9)
        middle = quantile(values, 0.5)
        test = scipy.stats.quantile_test(values, p=0.5).confidence_interval(0.95)
        self.assertAlmostEqual(middle.low, test.low, delta=4e-4)
        self.assertAlmostEqual(middle.high, test.high, delta=4e-4)

    def test_of_nothing(self):
        self.assertEqual((mean([]).value, mean([]).of), (None, 0))


class Spread(unittest.TestCase):
    def test_equal_tolerances_have_a_closed_form(self):
        """With one tolerance t: s = t / z, z the normal quantile at (1 + made/of) / 2."""
        for t, made, of in ((3.0, 30, 40), (2.0, 17, 20), (1.0, 12, 60)):
            y = np.arange(of) < made
            found = aim_spread(np.full(of, t), np.full(of, t), y)
            self.assertAlmostEqual(found.mrad, t / scipy.stats.norm.ppf((1 + made / of) / 2), places=5)
            self.assertLess(found.low_mrad, found.mrad)
            self.assertLess(found.mrad, found.high_mrad)

    def test_a_slow_search_finds_the_same(self):
        random = np.random.default_rng(11)
        left, right = random.uniform(0.5, 6, 300), random.uniform(0.5, 6, 300)
        chance = scipy.stats.norm.cdf(right / 2.2) + scipy.stats.norm.cdf(left / 2.2) - 1
        y = random.random(300) < chance

        def loss(s):
            p = np.clip(scipy.stats.norm.cdf(right / s) + scipy.stats.norm.cdf(left / s) - 1, 0.005, 0.995)
            return -(np.log(p[y]).sum() + np.log(1 - p[~y]).sum())

        grid = np.arange(0.5, 6, 0.0005)
        best = grid[np.argmin([loss(s) for s in grid])]
        found = aim_spread(left, right, y)
        self.assertAlmostEqual(found.mrad, best, delta=0.001)
        self.assertTrue(found.low_mrad < 2.2 < found.high_mrad)
        self.assertAlmostEqual(2 * (loss(found.low_mrad) - loss(found.mrad)), 3.841, places=3)

    def test_too_few_or_one_sided_is_not_enough(self):
        few = np.full(19, 2.0)
        self.assertIsNone(aim_spread(few, few, np.arange(19) < 10).mrad)
        full = np.full(30, 2.0)
        self.assertIsNone(aim_spread(full, full, np.ones(30, dtype=bool)).mrad)

    def test_counted_by_bins_it_is_the_same(self):
        """Many attempts are counted by their tolerances: SciPy's optimiser over every single one agrees."""
        random = np.random.default_rng(4)
        left, right = np.exp(random.normal(0.9, 0.5, (2, 3000)))
        chance = scipy.stats.norm.cdf(right / 1.7) + scipy.stats.norm.cdf(left / 1.7) - 1
        y = random.random(3000) < chance

        def loss(s):
            p = scipy.stats.norm.cdf(right / s) + scipy.stats.norm.cdf(left / s) - 1
            p = np.clip(p, 0.005, 0.995)
            return -(np.log(p[y]).sum() + np.log1p(-p[~y]).sum())

        exact = scipy.optimize.minimize_scalar(loss, bounds=(0.3, 6), method="bounded").x
        self.assertAlmostEqual(aim_spread(left, right, y).mrad, exact, delta=0.003 * exact)


class ExpectedPots(unittest.TestCase):
    def test_equal_chances_are_binomial(self):
        for chance, count, made in ((0.5, 10, 5), (0.8, 25, 12)):
            found = expected([chance] * count, made)
            low, high = scipy.stats.binom.ppf([0.025, 0.975], count, chance)
            self.assertEqual((found.low, found.high), (made - high, made - low))
            self.assertAlmostEqual(found.above, made - chance * count)

    def test_many_attempts_are_approximated_within_a_count(self):
        random = np.random.default_rng(2)
        chances = random.uniform(0.05, 0.99, LARGE + 1)
        found = expected(chances, 1000)
        mass = np.ones(1)
        for p in chances:
            mass = np.convolve(mass, (1 - p, p))
        cumulative = np.cumsum(mass)
        high, low = (int(np.searchsorted(cumulative, q)) for q in (0.975, 0.025))
        self.assertLessEqual(abs(found.low - (1000 - high)), 1)
        self.assertLessEqual(abs(found.high - (1000 - low)), 1)

    def test_of_nothing(self):
        self.assertIsNone(expected([], 0).expected)


class Runs(unittest.TestCase):
    def test_statsmodels_gives_the_same(self):
        random = np.random.default_rng(6)
        for _ in range(20):
            sequence = (random.random(60) < 0.7).tolist()
            found = runs_test(sequence)
            z, p = runstest_1samp(np.array(sequence, dtype=int), cutoff=0.5, correction=False)
            self.assertAlmostEqual(found.z, z, places=9)
            self.assertAlmostEqual(found.p, p, places=9)

    def test_streaks_and_their_opposite(self):
        streaky = runs_test([True] * 8 + [False] * 6 + [True] * 6)
        self.assertEqual((streaky.runs, streaky.streaky), (3, True))
        self.assertAlmostEqual(streaky.p, 0.00040263, places=7)
        changing = runs_test([True, False] * 15)
        self.assertLess(changing.p, 0.05)
        self.assertFalse(changing.streaky)
        self.assertIsNone(runs_test([True] * 9).streaky)
        self.assertTrue(math.isfinite(runs_test([True, False]).expected))
