"""Racks split, joined, bounded anew; shots put in; visits given: what names a shot follows it."""

import unittest

from ripasso.review.document.edits import RefusedEdit, set_values
from ripasso.review.entry.bulk import tag_shots
from ripasso.review.entry.rearranging import change_visit, insert_shot, merge_racks, move_boundary, split_rack
from ripasso.review.entry.second_opinion import (
    agreement,
    kappa,
    reviewers,
    second_words,
    with_comment,
    with_second,
    without_comment,
)
from ripasso.review.entry.tagging import Context
from ripasso.review.language.parsing import parse
from ripasso.review.record.model import serialize
from tests.sessions import document_with, played, rack_of, session


def missed(cause):
    return {**played("b"), "error": {"kind": "pot", "cause_shot": cause}}


class Racks(unittest.TestCase):
    def setUp(self):
        first = rack_of(played("a", "1"), played("a", "2"), missed(2), played("a", "3"), missed(4))
        first["root_shot"] = 4
        second = {**rack_of(played("b", "1"), missed(1)), "number": 2}
        parts = [
            {
                "recording": "f",
                "from": 1,
                "to": 2,
                "kind": "replay",
                "shows": {"rack": 1, "from_shot": 4, "to_shot": 5},
            },
            {"recording": "f", "from": 3, "to": 4, "kind": "replay", "shows": {"rack": 2}},
        ]
        self.document = document_with(session(racks=[first, second], film_parts=parts))
        self.before = serialize(self.snapshot.session)

    @property
    def snapshot(self):
        return self.document.session("test")

    def shot(self, rack, number):
        return self.snapshot.racks[rack - 1].shots[number - 1].key

    def shape(self):
        return [[shot.record.number for shot in rack.shots] for rack in self.snapshot.racks]

    def undone(self):
        self.document.undo()
        self.assertEqual(serialize(self.snapshot.session), self.before)

    def test_a_rack_is_split(self):
        self.document.run(split_rack(self.snapshot, self.shot(1, 4)))
        self.assertEqual(self.shape(), [[1, 2, 3], [1, 2], [1, 2]])
        self.assertEqual([rack.record.number for rack in self.snapshot.racks], [1, 2, 3])
        first, second, _ = self.snapshot.racks
        self.assertEqual(first.shots[2].record.error.cause_shot, 2)
        self.assertEqual(second.shots[1].record.error.cause_shot, 1)
        self.assertIsNone(first.record.root_shot)  # it is in another rack now
        shown = [serialize(part)["shows"] for part in self.snapshot.head.film_parts]
        self.assertEqual(shown, [{"rack": 2, "from_shot": 1, "to_shot": 2}, {"rack": 3}])
        self.undone()

    def test_two_racks_are_joined(self):
        self.document.run(merge_racks(self.snapshot, self.shot(2, 1)))
        self.assertEqual(self.shape(), [[1, 2, 3, 4, 5, 6, 7]])
        (rack,) = self.snapshot.racks
        self.assertEqual(rack.shots[6].record.error.cause_shot, 6)
        self.assertEqual(rack.record.root_shot, 4)
        self.undone()

    def test_a_boundary_is_moved(self):
        self.document.run(move_boundary(self.snapshot, self.shot(2, 2)))
        self.assertEqual(self.shape(), [[1, 2, 3, 4, 5, 6], [1]])
        self.assertIsNone(self.snapshot.racks[1].shots[0].record.error.cause_shot)
        self.undone()

    def test_a_shot_is_put_in_and_a_visit_given(self):
        self.document.run(insert_shot(self.snapshot, self.shot(1, 3)))
        self.assertEqual(self.shape()[0], [1, 2, 3, 4, 5, 6])
        self.assertEqual(self.snapshot.racks[0].shots[5].record.error.cause_shot, 5)
        self.undone()
        self.document.run(change_visit(self.snapshot, self.shot(1, 2)))
        self.assertEqual([s.record.player for s in self.snapshot.racks[0].shots], ["b", "b", "b", "a", "b"])
        self.undone()

    def test_what_cannot_be_is_refused(self):
        for build, shot in (
            (split_rack, self.shot(1, 1)),
            (merge_racks, self.shot(1, 2)),
            (move_boundary, self.shot(1, 2)),
            (move_boundary, self.shot(2, 1)),
            (split_rack, "nowhere"),
        ):
            with self.assertRaises(RefusedEdit):
                build(self.snapshot, shot)

    def test_several_shots_take_the_same_words(self):
        keys = [row.key for row in self.snapshot.shots]
        command, refused = tag_shots(self.snapshot, keys, parse("by pace, #pattern"))
        self.assertEqual(refused, 4)  # nothing went wrong there
        self.document.run(command)
        tagged = [row.record for row in self.snapshot.shots if row.record.tags]
        self.assertEqual([one.error.causes for one in tagged], [("pace",)] * 3)
        self.undone()
        self.assertEqual(tag_shots(self.snapshot, ["nowhere"], parse("#x"))[1], 1)


class SecondView(unittest.TestCase):
    def setUp(self):
        shots = [
            {**played("a", str(n)), "result": {"position": position}}
            for n, position in enumerate(("good", "lost", "good", "lost"), start=1)
        ]
        self.document = document_with(session(racks=[rack_of(*shots)]))

    @property
    def snapshot(self):
        return self.document.session("test")

    def say(self, place, text, by="Cleo"):
        row = self.snapshot.shots[place]
        values = with_second(Context(row.record, "nine_ball"), by, parse(text))
        self.document.run(set_values(self.snapshot, "shot", row.key, values, "x"))

    def test_findings_stand_beside_the_first_ones_and_agreement_is_counted(self):
        for place, text in enumerate(("good", "lost, long", "lost", "lost")):
            self.say(place, text)
        self.assertEqual(self.snapshot.shots[2].record.result.position, "good")
        self.assertEqual(reviewers(self.snapshot.session), ("Cleo",))
        (one,) = agreement(self.snapshot.session, "Cleo")
        self.assertEqual((one.finding, one.same.made, one.same.of), ("position", 3, 4))
        # By hand: observed 3/4; expected (2*1 + 2*3) / 16 = 1/2; kappa (0.75 - 0.5) / 0.5.
        self.assertAlmostEqual(one.kappa, 0.5)
        self.assertIn("lost", second_words(self.snapshot.shots[1].record.others[0]))

    def test_a_second_finding_is_completed_not_doubled(self):
        self.say(0, "lost")
        self.say(0, "long, other shot")
        (other,) = self.snapshot.shots[0].record.others
        self.assertEqual((other.result.position, other.result.pace), ("lost", "long"))
        self.assertEqual(other.decision.verdict, "prefer_other")
        self.say(0, "good", by="Dora")
        self.assertEqual(len(self.snapshot.shots[0].record.others), 2)

    def test_kappa_of_published_counts(self):
        """The example of two raters with 20 + 15 agreements of 50 (a textbook table; kappa 0.40)."""
        pairs = [("yes", "yes")] * 20 + [("yes", "no")] * 5 + [("no", "yes")] * 10 + [("no", "no")] * 15
        self.assertAlmostEqual(kappa(pairs), 0.40, places=2)
        self.assertIsNone(kappa([("a", "a")]))
        self.assertIsNone(kappa([]))

    def test_comments_have_names(self):
        row = self.snapshot.shots[0]
        values = with_comment(row.record, "Ada", "look at the bridge", "2026-11-25")
        self.document.run(set_values(self.snapshot, "shot", row.key, values, "x"))
        (comment,) = self.snapshot.shots[0].record.comments
        self.assertEqual((comment.by, comment.text), ("Ada", "look at the bridge"))
        self.document.run(
            set_values(self.snapshot, "shot", row.key, without_comment(self.snapshot.shots[0].record, 0), "x")
        )
        self.assertIsNone(self.snapshot.shots[0].record.comments)
