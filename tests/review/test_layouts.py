"""Layouts: what is placed in one shot stands in the next, potted balls leave, spotted ones return."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from ripasso.core.table import snooker_spots, table_spec
from ripasso.core.table.placing import ImpossiblePlace, overlapping, settle, spot_for
from ripasso.review.document.edits import set_values
from ripasso.review.table.layouts import (
    NoLayout,
    balls_to_place,
    expected,
    follow_facts,
    layout_text,
    place_ball,
    read_layout,
    recorded,
    set_layout,
    take_ball,
)
from tests.sessions import document_with, played, rack_of, session

SPEC = table_spec({"preset": "pool_9ft"})
R = SPEC.ball_radius
LAYOUT = {"cue": (0.6, 0.6), "1": (1.2, 0.4), "2": (1.6, 0.9), "9": (2.0, 0.3)}


class Placing(unittest.TestCase):
    def setUp(self):
        shots = (played("a", intent="break"), played("a", "1"), played("a", "2"), played("a"))
        self.document = document_with(session(racks=[rack_of(*shots)]))

    def rows(self):
        return self.document.session("test").shots

    def snapshot(self):
        return self.document.session("test")

    def place(self, shot, when, ball, place):
        self.document.run(place_ball(self.snapshot(), self.rows()[shot], when, ball, place))

    def test_the_rack_is_expected_before_the_break(self):
        rack = expected(self.snapshot(), self.rows()[0], "before")
        self.assertEqual(len(rack), 10)
        self.assertEqual(rack["1"], (1.905, 0.635))

    def test_only_what_moved_needs_a_click(self):
        self.document.run(set_layout(self.snapshot(), self.rows()[1], "before", dict(LAYOUT)))
        self.assertEqual(balls_to_place(self.snapshot(), self.rows()[1], "after")[0], "cue")
        self.place(1, "after", "cue", (1.0, 0.5))
        after = recorded(self.rows()[1], "after")
        # The 1 was potted, the others lie where they lay, and the next shot begins there.
        self.assertEqual(after, {"cue": (1.0, 0.5), "2": LAYOUT["2"], "9": LAYOUT["9"]})
        self.assertEqual(recorded(self.rows()[2], "before"), after)

    def test_one_undo_takes_both_layouts_back(self):
        self.document.run(set_layout(self.snapshot(), self.rows()[1], "before", dict(LAYOUT)))
        before = [row.record for row in self.rows()]
        self.place(1, "after", "cue", (1.0, 0.5))
        self.document.undo()
        self.assertEqual([row.record for row in self.rows()], before)

    def test_moving_it_before_moves_it_after_the_shot_before(self):
        self.document.run(set_layout(self.snapshot(), self.rows()[1], "before", dict(LAYOUT)))
        self.place(1, "after", "cue", (1.0, 0.5))
        self.place(2, "before", "cue", (1.1, 0.5))
        self.assertEqual(recorded(self.rows()[1], "after")["cue"], (1.1, 0.5))

    def test_a_cue_ball_in_hand_is_another_place(self):
        self.document.run(set_layout(self.snapshot(), self.rows()[1], "before", dict(LAYOUT)))
        self.document.run(
            set_values(
                self.snapshot(), "shot", self.rows()[1].key, {("facts", "cue_potted"): True}, "scratch"
            )
        )
        self.document.run(set_layout(self.snapshot(), self.rows()[1], "after", {"2": LAYOUT["2"]}))
        self.place(2, "before", "cue", (1.1, 0.5))
        self.assertNotIn("cue", recorded(self.rows()[1], "after"))

    def test_a_ball_moved_by_hand_between_the_shots_keeps_its_place(self):
        self.document.run(set_layout(self.snapshot(), self.rows()[1], "before", dict(LAYOUT)))
        self.place(1, "after", "cue", (1.0, 0.5))
        moved = {**recorded(self.rows()[2], "before"), "9": (2.2, 1.0)}
        key = self.rows()[2].key
        values = {("before",): {ball: list(place) for ball, place in moved.items()}}
        self.document.run(set_values(self.snapshot(), "shot", key, values, "elsewhere"))
        self.place(1, "after", "9", (2.1, 0.3))
        self.assertEqual(recorded(self.rows()[2], "before")["9"], (2.2, 1.0))

    def test_facts_said_later_take_the_ball_away_and_back(self):
        self.document.run(set_layout(self.snapshot(), self.rows()[3], "before", dict(LAYOUT)))
        self.place(3, "after", "cue", (1.0, 0.5))
        key = self.rows()[3].key
        for potted, lies in (([{"ball": "2"}], False), ([], True)):
            values = {("facts", "potted"): potted}
            self.document.run(set_values(self.snapshot(), "shot", key, values, "potted"))
            follow = follow_facts(self.snapshot(), key)
            self.document.run(follow)
            self.assertEqual("2" in recorded(self.rows()[3], "after"), lies)

    def test_a_ball_is_taken_off(self):
        self.document.run(set_layout(self.snapshot(), self.rows()[1], "before", dict(LAYOUT)))
        self.document.run(take_ball(self.snapshot(), self.rows()[1], "before", "9"))
        self.assertNotIn("9", recorded(self.rows()[1], "before"))


class Possible(unittest.TestCase):
    def test_a_click_a_little_off_is_mended(self):
        touching = settle(SPEC, {"2": (1.0, 0.5)}, "1", (1.0 + 1.8 * R, 0.5))
        self.assertEqual(touching.touches, "2")
        self.assertGreaterEqual(math.dist(touching.place, (1.0, 0.5)), 2 * R)
        cushion = settle(SPEC, {}, "1", (1.0, R - 0.01))
        self.assertEqual((cushion.place, cushion.touches), ((1.0, R), "cushion"))

    def test_half_a_radius_is_mended_and_no_more(self):
        self.assertEqual(settle(SPEC, {}, "1", (1.0, 0.51 * R)).place, (1.0, R))
        with self.assertRaises(ImpossiblePlace):
            settle(SPEC, {}, "1", (1.0, 0.49 * R))

    def test_what_cannot_be_is_refused_with_a_sentence(self):
        for others, place, word in (
            ({"2": (1.0, 0.5)}, (1.0 + 0.5 * R, 0.5), "lie in the 2"),
            ({}, (1.0, -0.2), "off the table"),
        ):
            with self.assertRaises(ImpossiblePlace) as caught:
                settle(SPEC, others, "1", place)
            self.assertIn(word, str(caught.exception))

    def test_a_ball_may_hang_in_the_jaws(self):
        self.assertEqual(settle(SPEC, {}, "1", (0.012, 0.012)).place, (0.012, 0.012))

    @given(st.integers(0, 10**6))
    def test_settled_balls_never_overlap(self, seed):
        import random

        chance = random.Random(seed)
        layout = {}
        for ball in ("cue", *map(str, range(1, 10))):
            place = (chance.uniform(0.9, 1.3), chance.uniform(0.4, 0.8))
            try:
                layout[ball] = settle(SPEC, layout, ball, place).place
            except ImpossiblePlace:
                continue
        self.assertEqual(overlapping(SPEC, layout, 1e-6), [])

    def test_spots(self):
        """A taken foot spot: behind it on the long string; a taken colour's spot: the highest one free."""
        x, y = spot_for(SPEC, "9", {"1": (1.905, 0.635)})
        self.assertAlmostEqual(x, 1.905 + 2 * R, delta=0.0011)
        self.assertEqual(y, 0.635)
        table = table_spec({"preset": "snooker_12ft"})
        spots = snooker_spots(table)
        self.assertEqual(spot_for(table, "brown", {"blue": spots["brown"]}), spots["black"])


class Text(unittest.TestCase):
    @given(
        st.dictionaries(
            st.sampled_from(["cue", "1", "15", "red3", "pink"]),
            st.tuples(st.floats(0, 3.6), st.floats(0, 1.8)),
            min_size=1,
        )
    )
    def test_copied_and_pasted_it_is_the_same(self, layout):
        self.assertEqual(read_layout(layout_text(layout)), layout)

    def test_other_ways_to_write_one(self):
        self.assertEqual(read_layout("Cue: 0.5, 0.6\n\n4;1;2"), {"cue": (0.5, 0.6), "4": (1.0, 2.0)})
        self.assertEqual(read_layout('{"cue": [0.5, 0.6]}'), {"cue": (0.5, 0.6)})

    def test_what_is_none_gets_a_sentence(self):
        for text in ("", "hello there", "4 1", "4 a b", "[1]", '{"x": [1, 2]}', '{"4": 3}', "white 1 2"):
            with self.assertRaises(NoLayout) as caught:
                read_layout(text)
            self.assertTrue(str(caught.exception).endswith("."), text)
