"""Clearances beside the chance to clear: columns, figures and the search line, against sums by hand."""

import unittest

import numpy as np

from ripasso.core.finding.matching import FIELDS, matching
from ripasso.core.finding.query import parse_query
from ripasso.review.planner.weighed_choices import Choice, _comes_to_table
from ripasso.statistics.pages.pages import Side, page_of
from ripasso.statistics.rows.search_columns import columns_of
from tests.sessions import played, rack_of, session

WORTH = {"kind": "pot", "ball": "1", "pocket": "foot_left", "value": 0.5, "low": 0.4, "high": 0.6}


def shot(player, *balls, clear=None, **more):
    """A shot with what was worked out of the chance to clear."""
    decision = {"weighed": {"best": WORTH, "chosen": WORTH, "clear": clear}} if clear else {}
    return {**played(player, *balls), **({"decision": decision} if decision else {}), **more}


def first(before, chosen, after, hard=0, clusters=0, **more):
    return {"before": before, "chosen": chosen, "after": after, "hard": hard, "clusters": clusters, **more}


#: Ada runs one rack out and loses one at its second shot, as marked; of the third nothing is known at first.
RUN_OUT = rack_of(
    shot("a", *map(str, range(1, 9)), clear=first(0.5, 0.4, 0.9, hard=1)),
    shot("a", "9", clear={"before": 0.9, "chosen": 0.9, "after": 1.0}),
)
LOST = rack_of(
    shot("a", "1", clear=first(0.6, 0.6, 0.5, hard=4, clusters=1)),
    shot("a", "2", clear={"before": 0.5, "chosen": 0.3, "after": 0.1}),
    shot("a", clear={"before": 0.1, "chosen": 0.1, "after": 0.0}, error={"kind": "pot", "cause_shot": 2}),
    shot("b", *map(str, range(3, 10))),
)
UNKNOWN = rack_of(shot("a", "1"), shot("a", "2", clear={"before": 0.7}))


def figures(*racks):
    numbered = [{**rack, "number": number} for number, rack in enumerate(racks, 1)]
    facts, columns = columns_of([session(racks=numbered)])
    side = Side("a", "Ada", facts.equal("person", "ada quill"))
    return {row.id: row.figures["a"] for row in page_of("decisions", facts, [side]).rows}, facts, columns


class Clearing(unittest.TestCase):
    def test_cleared_beside_what_was_expected(self):
        rows, _, _ = figures(RUN_OUT, LOST, UNKNOWN)
        cleared = rows["cleared"].rate
        self.assertEqual((cleared.made, cleared.of), (1, 2))
        self.assertEqual(rows["to_clear"].words.split()[0], "55")
        # 1 of 0.5 + 0.6; of two visits the counts 0 to 2 are all likely: 1 - 2 to 1 - 0.
        self.assertEqual(rows["cleared_above"].words, "-0.1 (-1 to 1)")
        self.assertEqual(rows["clear_hard 1"].rate.made, 1)
        self.assertEqual((rows["clear_hard 3"].rate.made, rows["clear_hard 3"].rate.of), (0, 1))
        self.assertEqual((rows["clear_clusters 0"].rate.of, rows["clear_clusters 1"].rate.of), (1, 1))

    def test_what_choices_and_strokes_took(self):
        rows, facts, _ = figures(RUN_OUT, LOST, UNKNOWN)
        np.testing.assert_allclose(
            facts.numbers("clear_choice"), [0.1, 0, 0, 0.2, 0, np.nan, np.nan, np.nan], atol=1e-9
        )
        np.testing.assert_allclose(
            facts.numbers("clear_stroke"), [-0.5, -0.1, 0.1, 0.2, 0.1, np.nan, np.nan, np.nan], atol=1e-9
        )
        self.assertEqual(rows["clear_choice_rack"].words.split()[0], "15")
        self.assertEqual(rows["clear_stroke_rack"].words.split()[0], "-10")

    def test_the_shot_that_lost_the_rack_beside_the_marked_one(self):
        rows, facts, _ = figures(RUN_OUT, LOST)
        self.assertEqual(facts.ints("number")[rows["lost_at"].shots].tolist(), [2])
        self.assertEqual((rows["root_agrees"].rate.made, rows["root_agrees"].rate.of), (1, 1))
        rows, _, _ = figures({**LOST, "root_shot": 1})
        self.assertEqual((rows["root_agrees"].rate.made, rows["root_agrees"].rate.of), (0, 1))

    def test_how_far_the_cue_ball_ran_beside_the_plan(self):
        """The ball 0.5 m before the pocket on the long cushion's line: met 57 mm before it."""
        pot = shot(
            "a",
            "1",
            clear=first(0.6, 0.6, 0.5, rest=[1.0, 0.635]),
            call={"ball": "1", "pocket": "side_left"},
            before={"cue": [1.27, 0.3], "1": [1.27, 0.77]},
            after={"cue": [0.8, 0.635]},
        )
        rows, facts, _ = figures(rack_of(pot, shot("a", "2")))
        met = np.array([1.27, 0.77 - 0.05715])
        wanted = np.hypot(*(met - [0.8, 0.635])) - np.hypot(*(met - [1.0, 0.635]))
        self.assertAlmostEqual(facts.numbers("clear_ran")[0], wanted, places=3)
        self.assertEqual((rows["ran_more"].rate.made, rows["ran_more"].rate.of), (1, 1))

    def test_the_search_line(self):
        _, _, columns = figures(RUN_OUT, LOST)
        for asked, wanted in (("clear:>=0.6", 2), ("clear_choice:>0.05", 2), ("clear_stroke:<0", 2)):
            with self.subTest(asked):
                self.assertEqual(int(matching(parse_query(asked, FIELDS), columns).sum()), wanted)

    def test_a_visit_begins_where_nothing_leads_to_the_shot(self):
        def choice(number, *, goes_on):
            return Choice(str(number), number, None, None, None, goes_on=goes_on)

        choices = [choice(1, goes_on=True), choice(2, goes_on=False), choice(3, goes_on=True)]
        self.assertEqual(_comes_to_table([*choices, choice(5, goes_on=True)]), [True, False, True, True])
        self.assertEqual(_comes_to_table([]), [])


if __name__ == "__main__":
    unittest.main()
