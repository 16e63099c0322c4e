"""Intervals against published values and another library."""

import unittest

from scipy.stats import binomtest, chi2

from ripasso.core.inference.intervals import count_per, rate

TOLERANCE_SHARE = 1e-9


class WilsonInterval(unittest.TestCase):
    def test_published_example(self):
        # R. G. Newcombe, "Two-sided confidence intervals for the single proportion", Statistics in
        # Medicine 17 (1998), table I, method 3 (Wilson without continuity correction); from memory.
        for made, of, low, high in ((81, 263, 0.2553, 0.3662), (15, 148, 0.0624, 0.1605), (0, 20, 0, 0.1611)):
            found = rate(made, of)
            self.assertAlmostEqual(found.low, low, places=4)
            self.assertAlmostEqual(found.high, high, places=4)

    def test_agrees_with_scipy(self):
        for of in (1, 2, 5, 17, 100, 1234):
            for made in {0, 1, of // 3, of // 2, of - 1, of}:
                expected = binomtest(made, of).proportion_ci(method="wilson")
                found = rate(made, of)
                self.assertAlmostEqual(found.low, expected.low, delta=TOLERANCE_SHARE)
                self.assertAlmostEqual(found.high, expected.high, delta=TOLERANCE_SHARE)

    def test_nothing_is_no_rate(self):
        found = rate(0, 0)
        self.assertEqual((found.made, found.of, found.rate, found.low, found.high), (0, 0, None, None, None))
        self.assertRaises(ValueError, rate, 3, 2)

    def test_few_are_marked(self):
        self.assertTrue(rate(4, 4).few)
        self.assertFalse(rate(4, 5).few)


class PoissonInterval(unittest.TestCase):
    def test_published_table(self):
        # F. Garwood, "Fiducial limits for the Poisson distribution", Biometrika 28 (1936); from memory.
        for count, low, high in ((0, 0.0, 3.689), (1, 0.0253, 5.572), (10, 4.795, 18.39)):
            found = count_per(count, 1)
            self.assertAlmostEqual(found.low, low, delta=0.005)
            self.assertAlmostEqual(found.high, high, delta=0.005)

    def test_agrees_with_scipy(self):
        for count in (1, 3, 24, 400):
            found = count_per(count, 2.5)
            self.assertAlmostEqual(found.low, chi2.ppf(0.025, 2 * count) / 2 / 2.5, delta=1e-9)
            self.assertAlmostEqual(found.high, chi2.ppf(0.975, 2 * count + 2) / 2 / 2.5, delta=1e-9)

    def test_of_no_units(self):
        self.assertIsNone(count_per(0, 0).rate)
