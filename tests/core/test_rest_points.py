"""Rest points about the aim point: their middle, their region."""

import unittest

import numpy as np
from scipy.stats import chi2

from ripasso.core.figures.facts import NO, YES, Facts
from ripasso.core.figures.rest_points import NINE_IN_TEN, region_outline, rest_points
from tests.rows_of_facts import fact
from tests.rows_of_facts import facts as facts_of


class Points(unittest.TestCase):
    def test_made_pots_with_an_aim_point_alone(self):
        found = rest_points(
            facts_of(
                [
                    fact(made=True, along=0.1, across=-0.02, zone=YES),
                    fact(made=False, along=0.3, across=0.0),
                    fact(made=True),
                    fact(made=True, along=0.3, across=0.04, zone=NO),
                ]
            )
        )
        self.assertEqual(found.places.tolist(), [0, 3])
        self.assertEqual(found.points.tolist(), [[-0.02, 0.1], [0.04, 0.3]])
        self.assertEqual(found.hit.tolist(), [1, 0])
        self.assertAlmostEqual(found.middle[1], 0.2)
        self.assertEqual(len(region_outline(found)), 0)

    def test_the_region_holds_nine_in_ten(self):
        """The factor beside SciPy's chi-square, and the region over points of a known distribution."""
        self.assertAlmostEqual(NINE_IN_TEN, chi2.ppf(0.9, 2), 9)
        random = np.random.default_rng(2)
        along, across = random.normal(0.05, 0.2, 4000), random.normal(0, 0.1, 4000)
        across = across + 0.4 * along
        facts = Facts.of_columns({"made": np.ones(4000, dtype=bool), "along": along, "across": across}, 4000)
        found = rest_points(facts)
        centred = found.points - found.points.mean(axis=0)
        lengths = (found.region**2).sum(axis=1)
        inside = ((centred @ (found.region / lengths[:, None]).T) ** 2).sum(axis=1) <= 1
        self.assertAlmostEqual(float(inside.mean()), 0.9, delta=0.015)
        outline = region_outline(found) - found.points.mean(axis=0)
        edge = ((outline @ (found.region / lengths[:, None]).T) ** 2).sum(axis=1)
        np.testing.assert_allclose(edge, 1, atol=1e-9)

    def test_nothing_known(self):
        found = rest_points(facts_of(()))
        self.assertEqual((len(found.points), found.region), (0, None))
