"""What was read from a film, taken into a session and out again."""

import random
import unittest

from ripasso.review.document.edits import REMOVE, set_values
from ripasso.review.record.model import serialize
from ripasso.review.recordings import proposed_shots as readings
from tests.review.test_undo import read_shot
from tests.sessions import document_with, played, rack_of, session


def read(number, **changes):
    return (1, {**read_shot(10.0 * number, random.Random(number)), **changes})


class ReadCase(unittest.TestCase):
    def setUp(self):
        self.document = document_with(session(recordings=[{"id": "f", "file": "f.mp4"}]))

    @property
    def snapshot(self):
        return self.document.session("test")

    def take_in(self, *shots):
        self.document.run(readings.take_in_shots(self.snapshot, "f", shots))


class TakingIn(ReadCase):
    def test_shots_stand_in_time_each_value_proposed(self):
        self.take_in(read(2), read(1))
        first, second = (row.record for row in self.snapshot.shots)
        self.assertEqual((first.t_strike, second.t_strike), (10.0, 20.0))
        self.assertEqual(first.proposed["/t_strike"], 0.97)
        self.assertIn("/player", first.proposed)
        self.assertEqual((first.intent, second.intent), ("pot", "break"))

    def test_a_new_rack_of_the_film_is_a_new_rack(self):
        rack, values = read(3)
        self.take_in(read(1), read(2), (rack + 1, values))
        self.assertEqual([len(rack.shots) for rack in self.snapshot.racks], [2, 1])

    def test_what_was_entered_is_kept_and_completed(self):
        shot = {**played("b", "9"), "recording": "f", "t_strike": 10.3, "before": {"cue": [1.0, 0.4]}}
        self.document = document_with(session(racks=[rack_of(shot)]))
        self.take_in(read(1))
        (row,) = self.snapshot.shots
        self.assertEqual(row.record.player, "b")
        self.assertEqual(row.record.t_strike, 10.3)
        self.assertEqual([p.ball for p in row.record.facts.potted], ["9"])
        self.assertEqual(row.record.before["cue"], (1.0, 0.4))
        self.assertEqual(row.record.t_rest, 12.0)
        self.assertNotIn("/before/cue", row.record.proposed)
        self.assertIn("/t_rest", row.record.proposed)

    def test_read_again_replaces_only_proposals(self):
        self.take_in(read(1))
        (row,) = self.snapshot.shots
        accepted = {("t_rest",): 12.5}
        self.document.run(set_values(self.snapshot, "shot", row.key, accepted, "Say the rest"))
        other = {**read(1)[1], "before": {"cue": [0.2, 0.2]}, "after": {"7": [0.4, 0.4]}}
        other["proposed"] = {"/t_strike": 0.9, "/before/cue": 0.5, "/after/7": 0.4}
        self.take_in((1, other))
        (row,) = self.snapshot.shots
        self.assertEqual(row.record.t_rest, 12.5)
        self.assertEqual(dict(row.record.before), {"cue": (0.2, 0.2)})
        self.assertEqual(set(row.record.after), {"7"})

    def test_an_accepted_shot_is_left_alone(self):
        self.take_in(read(1))
        (row,) = self.snapshot.shots
        self.document.run(set_values(self.snapshot, "shot", row.key, {("proposed",): REMOVE}, "Accept"))
        before = serialize(self.snapshot.shots[0].record)
        self.take_in(read(1, t_rest=99.0))
        self.assertEqual(serialize(self.snapshot.shots[0].record), before)

    def test_nothing_read_changes_nothing(self):
        self.assertFalse(self.document.run(readings.take_in_shots(self.snapshot, "f", ())))


class TakingBack(ReadCase):
    def test_a_reading_goes_as_one_step_and_comes_back(self):
        self.take_in(read(1), read(2), read(3))
        kept = self.snapshot.shots[1].key
        self.document.run(set_values(self.snapshot, "shot", kept, {("proposed",): REMOVE}, "Accept"))
        before = serialize(self.snapshot.session)
        self.document.run(readings.forget_reading(self.snapshot, "f"))
        self.assertEqual([row.record.t_strike for row in self.snapshot.shots], [20.0])
        self.document.undo()
        self.assertEqual(serialize(self.snapshot.session), before)

    def test_a_shot_with_a_note_keeps_it(self):
        self.take_in(read(1))
        (row,) = self.snapshot.shots
        self.document.run(set_values(self.snapshot, "shot", row.key, {("note",): "thin"}, "Note"))
        self.document.run(readings.forget_reading(self.snapshot, "f"))
        (row,) = self.snapshot.shots
        self.assertEqual(row.record.note, "thin")
        self.assertIsNone(row.record.before)

    def test_other_recordings_stay(self):
        self.take_in(read(1))
        self.assertFalse(self.document.run(readings.forget_reading(self.snapshot, "g")))


class Naming(ReadCase):
    def test_a_ball_is_renamed_here_and_later(self):
        places = {"cue": [1.0, 0.5], "3": [2.0, 0.5]}
        sure = {"/t_strike": 0.9, "/before/3": 0.6, "/before/cue": 0.9, "/facts/first_contact": 0.7}
        facts = {"first_contact": "3", "potted": [], "cue_potted": False}
        shots = [read(n, before=places, after=places, facts=facts, proposed=sure) for n in (1, 2, 3)]
        self.take_in(*shots)
        first, second, third = self.snapshot.shots
        self.document.run(set_values(self.snapshot, "shot", third.key, {("proposed",): REMOVE}, "Accept"))
        self.document.run(readings.rename_ball(self.snapshot, first.key, "3", "7"))
        first, second, third = (row.record for row in self.snapshot.shots)
        self.assertEqual(set(first.before), {"cue", "7"})
        self.assertNotIn("/before/7", first.proposed)
        self.assertEqual(second.proposed["/before/7"], 0.6)
        self.assertEqual(second.facts.first_contact, "7")
        self.assertEqual(third.facts.first_contact, "3")

    def test_the_uncertain_come_in_turn(self):
        sure = {"/t_strike": 0.97, "/t_rest": 0.95}
        self.take_in(read(1, proposed=sure), read(2), read(3, proposed=sure), read(4))
        keys = [row.key for row in self.snapshot.shots]
        self.assertEqual(readings.next_uncertain(self.snapshot, keys[0]), keys[1])
        self.assertEqual(readings.next_uncertain(self.snapshot, keys[1]), keys[3])
        self.assertEqual(readings.next_uncertain(self.snapshot, keys[3]), keys[1])
        self.assertEqual(readings.next_proposed(self.snapshot, keys[3]), None)
        self.assertEqual(readings.read_to(self.snapshot, "f"), 42.0)
