"""Seconds at the table from a film that is cut, paused, slowed and shown twice."""

import random
import unittest

from ripasso.core.measures.film_time import FilmStretch, LiveFilm


def film(*stretches):
    return LiveFilm([FilmStretch("f", *stretch) for stretch in stretches])


class LiveSeconds(unittest.TestCase):
    def test_everything_counts_where_nothing_was_said(self):
        self.assertEqual(film().seconds("f", 3.0, 10.0), 7.0)

    def test_replays_slow_motion_and_pauses_do_not(self):
        said = film((4.0, 6.0, "replay"), (5.0, 8.0, "slow"), (20.0, 30.0, "paused"))
        self.assertEqual(said.seconds("f", 0.0, 10.0), 6.0)
        self.assertEqual(said.seconds("f", 25.0, 40.0), 10.0)
        self.assertEqual(said.seconds("another", 0.0, 10.0), 10.0)

    def test_where_live_play_was_said_only_that_counts(self):
        said = film((0.0, 5.0, "live"), (5.0, 8.0, "live"), (10.0, 20.0, "live"), (12.0, 13.0, "slow"))
        self.assertEqual(said.seconds("f", 2.0, 15.0), 6.0 + 4.0)

    def test_across_a_cut_nothing_is_known(self):
        said = film((5.0, 5.0, "cut_out"))
        self.assertIsNone(said.seconds("f", 4.0, 6.0))
        self.assertEqual(said.seconds("f", 5.0, 6.0), 1.0)
        self.assertEqual(said.seconds("f", 1.0, 5.0), 4.0)
        self.assertFalse(said.is_cut("another", 4.0, 6.0))

    def test_against_counting_milliseconds(self):
        """An independent slow count: every thousandth of a second asked for itself."""
        chance = random.Random(4)
        for _ in range(40):
            kinds = ["replay", "slow", "paused", *(["live"] if chance.random() < 0.5 else [])]
            stretches = []
            for _ in range(chance.randint(0, 6)):
                start = chance.randint(0, 900)
                stretches.append(
                    (start / 1000, (start + chance.randint(1, 300)) / 1000, chance.choice(kinds))
                )
            start, end = sorted((chance.randint(0, 1000), chance.randint(0, 1000)))
            lives = [s for s in stretches if s[2] == "live"]

            def counts(t, stretches=stretches, lives=lives):
                inside = [s[2] for s in stretches if s[0] <= t < s[1]]
                return ("live" in inside or not lives) and not set(inside) - {"live"}

            slow = sum(counts((ms + 0.5) / 1000) for ms in range(start, end)) / 1000
            self.assertAlmostEqual(film(*stretches).seconds("f", start / 1000, end / 1000), slow, places=9)


if __name__ == "__main__":
    unittest.main()
