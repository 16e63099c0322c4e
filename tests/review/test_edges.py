"""Edges of the document and of what hangs on it: renumbering, a failed commit, what is on, what counts."""

import unittest

from ripasso.core.table import table_spec
from ripasso.review.document import edits
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.measuring.errors import rack_errors
from ripasso.review.measuring.measuring import measure_session, rack_inputs
from ripasso.review.scoring.balls_on import balls_on_in
from ripasso.review.scoring.meant import meant_ball_down
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.rows.shot_rows import derived_rows
from tests.sessions import MemoryStorage, document_with, played, rack_of, session


class Renumbering(unittest.TestCase):
    def test_root_and_making_shot_follow_their_shots(self):
        rack = rack_of(*(played("a", str(n)) for n in range(1, 5)), root_shot=2, making_shot=3)
        document = document_with(session(racks=[rack]))
        snapshot = document.session("test")
        document.run(edits.add_shot(snapshot, snapshot.racks[0].key, 0, {"player": "a"}))
        record = document.session("test").racks[0].record
        self.assertEqual((record.root_shot, record.making_shot), (3, 4))
        document.undo()
        record = document.session("test").racks[0].record
        self.assertEqual((record.root_shot, record.making_shot), (2, 3))

    def test_a_cause_follows_its_shot(self):
        wrong = {**played("a"), "error": {"kind": "pot", "cause_shot": 1}}
        document = document_with(session(racks=[rack_of(played("a", "1"), wrong)]))
        snapshot = document.session("test")
        document.run(edits.add_shot(snapshot, snapshot.racks[0].key, 0, {"player": "a"}))
        self.assertEqual(document.session("test").shots[2].record.error.cause_shot, 2)


class FailedCommits(unittest.TestCase):
    def test_what_was_derived_for_a_commit_that_failed_is_forgotten(self):
        handed_on = []

        def derive(snapshot, before):
            handed_on.append(before)
            return derived_rows(snapshot, before)

        storage = MemoryStorage()
        document = Document(storage, derive)
        document.run(add_session(session(racks=[rack_of(played("a", "1"))])))
        first = document.session("test")

        def note(text):
            shot = document.session("test").shots[0].key
            return edits.set_values(document.session("test"), "shot", shot, {("note",): text}, "Note")

        document.run(note("kept"))
        known = handed_on[-1]
        storage.fail_with = OSError("no room")
        with self.assertRaises(OSError):
            document.run(note("lost"))
        storage.fail_with = None
        self.assertEqual(document.session("test").shots[0].record.note, "kept")
        document.run(note("again"))
        # What the failed commit was handed is handed on once more: nothing newer was ever stored.
        self.assertIs(handed_on[-1], handed_on[-2])
        self.assertIsNot(handed_on[-1], known)
        self.assertIsNotNone(first)

    def test_redo_is_gone_after_another_command(self):
        document = document_with(session(racks=[rack_of(played("a", "1"))]))
        shot = document.session("test").shots[0].key
        values = {("note",): "one"}
        document.run(edits.set_values(document.session("test"), "shot", shot, values, "Note"))
        document.undo()
        document.run(edits.set_values(document.session("test"), "shot", shot, {("note",): "two"}, "Note"))
        self.assertIsNone(document.redo())


class EarlierRacks(unittest.TestCase):
    def test_a_long_visit_that_ends_a_rack_is_known_in_the_next(self):
        """How long the visit was that won the rack before: nothing else of the next rack hangs on it."""
        run = [played("b", "1", "6", "7", "8"), played("b", "9")]
        racks = [
            rack_of(played("a", intent="break"), *run),
            {**rack_of(played("a", "1", intent="break"), played("a"), breaker="a"), "number": 2},
        ]
        for rack in racks:
            for shot in rack["shots"]:
                shot["facts"] |= {"first_contact": "1", "balls_to_cushion": 5}
        racks[0]["shots"][2]["facts"]["first_contact"] = "2"
        kept = []

        class Storage(MemoryStorage):
            def commit(self, changes, derived):
                super().commit(changes, derived)
                kept.append(derived)

        document = Document(Storage(), derived_rows)
        document.run(add_session(session(racks=racks)))
        first = document.session("test").shots[1]
        facts = first.record.facts.model_dump(mode="json", exclude_unset=True)
        for potted in (["1"], ["1", "6", "7", "8"]):
            fallen = [{"ball": ball, "pocket": "foot_left"} for ball in potted]
            values = {("facts",): {**facts, "potted": fallen}}
            document.run(edits.set_values(document.session("test"), "shot", first.key, values, "facts"))
            fresh = Snapshot("test", document.session("test").rows)
            self.assertEqual(kept[-1].rows, derived_rows(fresh).rows)
        self.assertNotEqual(kept[-1].racks[1].rows, kept[-2].racks[1].rows)


class OnAndMeant(unittest.TestCase):
    def test_where_the_lowest_ball_is_first_it_alone_is_on(self):
        layout = dict.fromkeys(("cue", "3", "7", "9"))
        for game in ("nine_ball", "ten_ball", "rotation"):
            self.assertEqual(balls_on_in(game, ("7",), layout), ("3",), game)
        self.assertEqual(balls_on_in("eight_ball", ("3", "7"), layout), ("3", "7"))

    def test_a_ball_that_fell_into_an_unknown_pocket_fell_as_called(self):
        shot = {**played("a"), "call": {"ball": "1", "pocket": "side_left"}}
        for pot, down in (
            ({"ball": "1"}, True),
            ({"ball": "1", "pocket": "side_left"}, True),
            ({"ball": "1", "pocket": "foot_left"}, False),
        ):
            shot["facts"] = {"potted": [pot]}
            record = session(racks=[rack_of(shot)]).racks[0].shots[0]
            self.assertEqual(meant_ball_down(record, None), down, pot)


BEFORE = {"cue": [0.9, 0.45], "1": [1.9, 0.9], "9": [2.2, 0.3]}


class WhatFollows(unittest.TestCase):
    def test_after_the_shot_that_ends_a_rack_nothing_is_asked(self):
        """A shot recorded after the end of the rack is no next shot of the one that ended it."""
        shots = [
            {**played("a", "9", first_contact="1"), "before": BEFORE, "after": BEFORE},
            {**played("b", first_contact="1"), "before": BEFORE, "after": BEFORE},
        ]
        record = session(racks=[rack_of(*shots)], table={"preset": "pool_9ft"})
        score = score_of(record)
        self.assertIsNotNone(score.racks[0].ended_by)
        first, _ = rack_inputs(record, record.racks[0], score.racks[0], table_spec(record.table))
        self.assertFalse(first.has_next)
        open_shot = [{**played("a", first_contact="1"), "before": BEFORE}, shots[1]]
        record = session(racks=[rack_of(*open_shot)], table={"preset": "pool_9ft"})
        score = score_of(record)
        first, _ = rack_inputs(record, record.racks[0], score.racks[0], table_spec(record.table))
        self.assertTrue(first.has_next)

    def test_a_safety_leaves_something_only_to_the_other(self):
        """Open to oneself, as after a push-out that was handed back, is no error of a safety."""
        lay = {"cue": [1.7, 0.8], "1": [1.9, 0.9], "9": [2.2, 0.3]}
        for follower, kinds in (("b", ["safety"]), ("a", [])):
            shots = [
                {**played("a", intent="safety", first_contact="1"), "before": lay, "after": lay},
                {**played(follower, "1", first_contact="1"), "before": lay, "after": lay},
            ]
            record = session(racks=[rack_of(*shots)], table={"preset": "pool_9ft"})
            found = rack_errors(record.racks[0], score_of(record).racks[0], measure_session(record)[0])
            self.assertEqual([error.kind for error in found[0]], kinds, follower)


if __name__ == "__main__":
    unittest.main()
