"""Rates by their names, at the edges of what they count, against counts by hand."""

import unittest
from pathlib import Path

from ripasso.core.figures import player_stats
from ripasso.core.figures.rates import OPEN_LEAVE, RATES, rate_figure
from tests.rows_of_facts import fact, facts


def safety(**values):
    return fact(intent="safety", **{"has_next": True, "goes_to_other": True, **values})


class Named(unittest.TestCase):
    def test_a_name_is_given_once(self):
        name = next(iter(RATES))
        with self.assertRaises(ValueError) as caught:
            rate_figure(name)(lambda facts: None)
        self.assertIn(name, str(caught.exception))

    def test_a_figure_counts_among_its_own(self):
        rows = facts([safety(), safety(answered=True), fact(intent="escape", goes_to_other=True, leave=0.6)])
        for name, figure in RATES.items():
            with self.subTest(name):
                counted = figure(rows)
                self.assertLessEqual(counted.rate.made, counted.rate.of)
                self.assertEqual(counted.rate.of, int(counted.among.sum()))


class Safeties(unittest.TestCase):
    def rate(self, name, *rows):
        found = RATES[name](facts(rows)).rate
        return found.made, found.of

    def test_a_foul_holds_nothing(self):
        self.assertEqual(self.rate("safeties held", safety(), safety(fouled=True)), (1, 2))
        self.assertEqual(self.rate("safeties held", safety(fouled=True, goes_to_other=False)), (0, 1))

    def test_what_was_potted_on_the_next_shot_was_not_held(self):
        self.assertEqual(self.rate("safeties held", safety(answered=True), safety()), (1, 2))

    def test_the_last_shot_of_a_rack_is_not_counted(self):
        self.assertEqual(self.rate("safeties held", safety(has_next=False, goes_to_other=False)), (0, 0))
        # The same player goes on: nothing is known of it, unless it was a foul.
        self.assertEqual(self.rate("safeties held", safety(goes_to_other=False)), (0, 0))

    def test_exactly_the_limit_is_a_pot_left(self):
        name = "safeties with hardly a pot left"
        self.assertEqual(self.rate(name, safety(leave=OPEN_LEAVE)), (0, 1))
        self.assertEqual(self.rate(name, safety(leave=OPEN_LEAVE - 1e-9)), (1, 1))
        self.assertEqual(self.rate(name, safety()), (0, 0))  # not measured
        self.assertEqual(self.rate(name, safety(fouled=True)), (0, 1))

    def test_escapes(self):
        hit = fact(intent="escape", goes_to_other=True, leave=OPEN_LEAVE)
        self.assertEqual(self.rate("escapes hit", hit, fact(intent="escape", fouled=True)), (1, 2))
        self.assertEqual(self.rate("escapes that left a pot", hit), (1, 1))
        self.assertEqual(self.rate("escapes that left a pot", fact(intent="escape", leave=0.9)), (0, 0))

    def test_the_command_line_reads_the_same(self):
        rows = facts([safety(), safety(answered=True), safety(leave=0.1)])
        self.assertEqual(player_stats.safeties(rows)["result"], RATES["safeties held"](rows).rate)

    def test_every_rate_has_a_row_and_a_test(self):
        source = Path(__file__).resolve().parents[2] / "src" / "ripasso"
        pages = "".join(path.read_text(encoding="utf-8") for path in (source / "statistics").rglob("*.py"))
        tests = Path(__file__).read_text(encoding="utf-8")
        for name, figure in RATES.items():
            self.assertIn(figure.__name__, pages, f"“{name}” is in no row: see statistics/pages/")
            self.assertIn(f'"{name}"', tests, f"“{name}” has no test")


if __name__ == "__main__":
    unittest.main()
