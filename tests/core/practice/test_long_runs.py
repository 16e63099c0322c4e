"""Long runs against racks counted by hand and the law of the geometric distribution."""

import unittest

import numpy as np

from ripasso.core.practice.long_runs import chance_of_run, in_racks, long_runs


class LongRuns(unittest.TestCase):
    def test_fourteen_balls_are_a_rack_and_a_run_may_begin_within_one(self):
        """Straight pool: fourteen are run, the fifteenth stays (rules of the game; from memory)."""
        for run, start, wanted in (
            (0, 0, (0, 0, 14)),
            (13, 0, (0, 13, 1)),
            (14, 0, (1, 0, 14)),
            (100, 0, (7, 2, 12)),
            (5, 10, (1, 1, 13)),
        ):
            found = in_racks(run, start)
            self.assertEqual((found.racks, found.balls, found.left), wanted)

    def test_figures_by_hand(self):
        found = long_runs([10, 20, 0, 30, 5, 5])
        self.assertEqual((found.count, found.longest, found.to_beat), (6, 30, 12.0))
        self.assertEqual((found.ball.made, found.ball.of), (70, 76))
        self.assertEqual((found.whole_racks.made, found.whole_racks.of), (2, 6))
        self.assertIsNone(long_runs([]).to_beat)

    def test_drawn_runs_reach_a_length_as_the_law_says(self):
        """Runs are geometric: NumPy's draws as the reference."""
        generator = np.random.default_rng(14)
        runs = generator.geometric(1 - 0.95, 20_000) - 1
        self.assertAlmostEqual(float((runs >= 14).mean()), chance_of_run(0.95, 14), delta=0.01)
        found = long_runs(runs.tolist())
        self.assertLess(found.ball.low, 0.95)
        self.assertGreater(found.ball.high, 0.95)


if __name__ == "__main__":
    unittest.main()
