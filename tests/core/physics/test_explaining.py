"""Strokes told from what a camera sees of them."""

import unittest

from ripasso.core.planning.explaining import CannotExplain, Sighting, explain
from ripasso.core.planning.problem import Problem
from ripasso.core.table import table_spec
from tests.core.physics.explaining_study import case, summary


class Explaining(unittest.TestCase):
    def test_simulated_shots_seen_with_noise(self):
        # Two hundred of them: python -m tests.core.physics.explaining_study 200
        cases = [case(number) for number in (0, 1, 4, 10, 14, 16)]
        self.assertEqual(sum(one.speed_off <= 0.03 for one in cases), 6, summary(cases))
        self.assertEqual(sum(one.aim_off_deg <= 0.3 for one in cases), 6, summary(cases))
        self.assertGreaterEqual(sum(one.side_inside for one in cases), 5, summary(cases))
        # What is left over is the noise of the places.
        self.assertLess(max(one.found.residual_m for one in cases), 0.006)

    def test_too_little_is_told(self):
        problem = Problem("nine_ball", table_spec(None), {"cue": (1.0, 0.5), "1": (2.0, 0.5)}, ("1",))
        with self.assertRaises(CannotExplain):
            explain(problem, [Sighting(0.1, "cue", 1.1, 0.5)])
