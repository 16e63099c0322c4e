"""Ways to cut shots into groups, beside loops over single shots; visits, racks and chances likewise."""

import math
import unittest

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.slices import SLICES, groups_of, signed_cuts
from tests.rows_of_facts import fact
from tests.rows_of_facts import facts as facts_of


def crossing_names(angle):
    """The groups of an angle with the table's length; none where it is not known."""
    if math.isnan(angle):
        return []
    if angle < 20:
        return ["along"]
    return ["between" if angle < 50 else "across"]


def shots(count=300, seed=4):
    """Shots with everything drawn at random, some of it unknown."""
    chance = np.random.default_rng(seed)

    def one_of(*values):
        return values[int(chance.integers(len(values)))]

    def number(low, high):
        return float("nan") if chance.random() < 0.15 else float(chance.uniform(low, high))

    return [
        fact(
            session=i // 60,
            rack=i % 60 // 10 + 1,
            number=i % 10 + 1,
            visit=i // 3,
            intent=one_of("pot", "safety"),
            tried=True,
            made=bool(chance.random() < 0.6),
            cut_deg=number(-80, 80),
            cue_travel=number(0.1, 2),
            object_travel=number(0.1, 2),
            table_length=2.54,
            crossing_deg=number(0, 90),
            ball_to_cushion=number(0, 0.1),
            cushions=one_of(-1, 0, 1, 2, 3, 4),
            pressure=one_of("", "decider", "match_point frame_ball"),
            delivery=one_of("", "rest", "rest reach"),
            spin_cut=one_of("", "none", "inside", "outside"),
            date=one_of("2026-01-02", "2026-02-03"),
            in_hand=bool(chance.random() < 0.2),
            won=i // 10 % 2,
            began=one_of("", "safety", "miss"),
            best_chance=number(0, 1),
            visit_score=one_of(-1, 3, 35),
            visit_end=one_of("", "rack_won", "miss"),
            game=one_of("snooker", "nine_ball"),
        )
        for i in range(count)
    ]


class Groups(unittest.TestCase):
    def setUp(self):
        self.rows = shots()
        self.facts = facts_of(self.rows)

    def check(self, name, of_one):
        """Every group holds exactly the shots that a function of one shot puts into it."""
        found = groups_of(self.facts, name)
        expected = {}
        for i, row in enumerate(self.rows):
            for key in of_one(row):
                expected.setdefault(key, set()).add(i)
        self.assertEqual({key: set(np.flatnonzero(mask)) for key, mask in found.items()}, expected)

    def test_bands(self):
        def cut(row):
            edges = (
                (0, 15, "0-15"),
                (15, 30, "15-30"),
                (30, 45, "30-45"),
                (45, 60, "45-60"),
                (60, 999, "60+"),
            )
            return [key for low, high, key in edges if low <= abs(row.cut_deg) < high]

        def distance(row):
            share = 100 * (row.cue_travel + row.object_travel) / row.table_length
            edges = ((0, 25, "0-25"), (25, 50, "25-50"), (50, 75, "50-75"), (75, 100, "75-100"))
            return [k for low, high, k in edges if low <= share < high] or (["100+"] if share >= 100 else [])

        self.check("cut", cut)
        self.check("distance", distance)
        self.check(
            "crossing",
            lambda r: crossing_names(r.crossing_deg),
        )

    def test_words_and_texts(self):
        self.check("pressure", lambda r: r.pressure.split())
        self.check("delivery", lambda r: r.delivery.split())
        self.check("spin_cut", lambda r: [r.spin_cut] if r.spin_cut else [])
        self.check("date", lambda r: [r.date])
        self.check("hand", lambda r: ["in_hand" if r.in_hand else "as_it_lay"])
        self.check("half", lambda r: ["first_half" if r.rack <= 3 else "second_half"])
        numbers = ["0", "1", "2", *["3+"] * 20]
        self.check("cushions", lambda r: [] if r.cushions < 0 else [numbers[r.cushions]])

    def test_signed_cuts_have_each_shot_once(self):
        counts = sum(mask.astype(int) for mask in signed_cuts(self.facts).values())
        known = ~np.isnan(self.facts.numbers("cut_deg"))
        np.testing.assert_array_equal(counts, known.astype(int))

    def test_no_group_is_empty_and_every_way_has_one_mask_a_shot(self):
        for name in SLICES:
            for key, mask in groups_of(self.facts, name).items():
                self.assertEqual((mask.shape, mask.any()), ((len(self.rows),), True), (name, key))
        self.assertEqual(facts_of([]).words("tags"), {})


class Course(unittest.TestCase):
    def setUp(self):
        self.rows = shots(seed=9)
        self.facts = facts_of(self.rows)

    def test_chances_beside_a_loop(self):
        opened, taken = of.chances(self.facts)
        for i, row in enumerate(self.rows):
            self.assertEqual(opened[i], row.began != "" and row.best_chance >= 0.6, i)
            points = row.game == "snooker" and row.visit_score >= 30
            self.assertEqual(taken[i], row.visit_end == "rack_won" or points, i)

    def test_a_safety_left_open_is_told_by_the_layout(self):
        for row, found in zip(self.rows, of.began(self.facts), strict=True):
            if row.began == "safety" and row.best_chance >= 0.6:
                self.assertEqual(found, "safety_left_open")
            elif not row.began:
                self.assertEqual(found, "")

    def test_the_longest_row(self):
        for text, expected in (("0110111001", (4, 3)), ("", (0, 0)), ("000", (0, 0)), ("11", (0, 2))):
            won = np.array([c == "1" for c in text], dtype=bool)
            self.assertEqual(of.longest_run(won, np.zeros(len(won), dtype=int)), expected, text)

    def test_no_row_crosses_from_one_stretch_of_play_to_another(self):
        won = np.array([c == "1" for c in "1111011"], dtype=bool)
        self.assertEqual(of.longest_run(won, np.array([0, 0, 0, 1, 1, 1, 1])), (0, 3))
        self.assertEqual(of.longest_run(won, np.array([0, 1, 2, 3, 4, 4, 4])), (5, 2))


if __name__ == "__main__":
    unittest.main()
