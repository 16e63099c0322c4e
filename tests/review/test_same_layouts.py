"""The same layout met twice in a session: which choice and which stroke told the two apart."""

import unittest

from ripasso.review.document.edits import REMOVE, set_values
from ripasso.review.present.weighed_words import met_again_words, set_up_again_words
from ripasso.review.scoring.weighed import gained_on, gone_of_rack
from ripasso.review.table.same_layouts import is_same, met_before, set_up_before
from tests.review.test_weighed import option, weighed
from tests.sessions import document_with, played, rack_of, session

LAY = {"cue": [0.6, 0.4], "1": [1.2, 0.5], "9": [2.0, 1.0]}
MOVED = {**LAY, "1": [1.212, 0.49]}
ELSEWHERE = {**LAY, "9": [2.0, 0.9]}


def shot(layout, chosen, reached, *potted):
    """A pot whose choice was weighed: the best one was worth 0.7."""
    best = option(0.7, 0.66, 0.74)
    made = {**played("a", *potted), "decision": {"weighed": weighed(best, chosen, reached)}}
    return {**made, "before": layout} if layout is not None else made


def document():
    """The layout lost at its second shot, set up again and cleared; a third rack from elsewhere."""
    low, high = option(0.6, 0.56, 0.64, "side_left"), option(0.7, 0.66, 0.74)
    racks = [
        rack_of(shot(LAY, low, 0.4, "1"), shot(ELSEWHERE, high, 0.0)),
        rack_of(shot(MOVED, high, 0.81, "1"), played("a", "9"), number=2),
        rack_of(shot(ELSEWHERE, high, 0.7, "1"), number=3),
    ]
    return document_with(session(kind="practice", racks=racks))


class SameLayouts(unittest.TestCase):
    def setUp(self):
        self.document = document()

    @property
    def snapshot(self):
        return self.document.session("test")

    def of(self, rack, number):
        return self.snapshot.racks[rack].shots[number]

    def test_balls_are_put_back_within_a_ball_and_all_of_them(self):
        lay, moved, other = ({b: tuple(p) for b, p in one.items()} for one in (LAY, MOVED, ELSEWHERE))
        self.assertTrue(is_same(lay, moved))
        self.assertFalse(is_same(lay, other))
        self.assertFalse(is_same(lay, {"cue": lay["cue"], "1": lay["1"]}))

    def test_a_decision_met_twice_in_words(self):
        self.assertEqual(
            met_again_words(self.snapshot, self.of(1, 0)),
            ["same layout as shot 1 of rack 1", "beside it the choice gained 0.10, the stroke gained 0.31"],
        )
        # What the second one gained in all is what lies between what the two came to.
        gained = gained_on(self.of(1, 0).record, self.of(0, 0).record)
        self.assertAlmostEqual(sum(gained), 0.81 - 0.4)
        # Of the first of two nothing is said, nor of one that nobody weighed.
        self.assertFalse(met_again_words(self.snapshot, self.of(0, 0)))
        self.assertFalse(met_again_words(self.snapshot, self.of(1, 1)))
        rack, earlier = met_before(self.snapshot, self.of(2, 0))
        self.assertEqual((rack.record.number, earlier.record.number), (1, 2))

    def test_what_is_not_known_is_not_said(self):
        first = self.of(0, 0).key
        for path in (("decision", "weighed", "reached"), ("before",), ("decision", "weighed")):
            with self.subTest(path):
                self.document.run(set_values(self.snapshot, "shot", first, {path: REMOVE}, ""))
                self.assertFalse(met_again_words(self.snapshot, self.of(1, 0)))
                self.document.undo()
        self.assertTrue(met_again_words(self.snapshot, self.of(1, 0)))

    def test_a_rack_set_up_again(self):
        first, second, third = self.snapshot.racks
        self.assertIs(set_up_before(self.snapshot, second), first)
        self.assertIsNone(set_up_before(self.snapshot, first))
        self.assertIsNone(set_up_before(self.snapshot, third))
        choices, strokes = gone_of_rack([row.record for row in first.shots])
        self.assertAlmostEqual(choices, 0.1)
        self.assertAlmostEqual(strokes, 0.2 + 0.7)
        self.assertEqual(
            set_up_again_words(self.snapshot, second),
            "Lost 0.00 by choices, gained 0.11 by strokes; "
            "rack 1, from the same layout, lost 0.10 by choices, 0.90 by strokes.",
        )
        self.assertIsNone(set_up_again_words(self.snapshot, third))

    def test_two_visits_of_one_rack(self):
        made = shot(LAY, option(0.7, 0.66, 0.74), 0.7)
        again = document_with(session(kind="practice", racks=[rack_of(made, made)]))
        words = met_again_words(again.session("test"), again.session("test").racks[0].shots[1])
        self.assertEqual(words[0], "same layout as shot 1")
        self.assertEqual(words[1], "beside it the choice was as good, the stroke was as good")


if __name__ == "__main__":
    unittest.main()
