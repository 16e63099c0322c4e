"""What Review has in hand, tested without a window: choosing, saying, taking back."""

import unittest

from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.entry.marking import Moment
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.ui.review.state.review_controller import ReviewController
from tests.sessions import MemoryStorage, played, rack_of, session

TWO_RACKS = [
    rack_of(played("a", "2", intent="break"), played("a", "1"), played("a"), played("b", "9")),
    {**rack_of(played("b", intent="break"), played("a", "9"), breaker="b"), "number": 2},
]


class Desk(unittest.TestCase):
    def setUp(self):
        self.storage = MemoryStorage()
        self.document = Document(self.storage, derived_rows)
        self.document.run(add_session(session(racks=TWO_RACKS, recordings=[{"id": "f", "file": "x"}])))
        self.said = []
        self.controller = ReviewController(self.document, lambda sentence, _tone: self.said.append(sentence))
        self.controller.open("test")

    @property
    def record(self):
        return self.controller.shot.record

    def test_walking_over_shots_and_racks(self):
        self.assertEqual(self.record.number, 1)
        self.controller.step(3)
        self.controller.step(1)
        self.assertEqual((self.controller.rack.record.number, self.record.number), (2, 1))
        self.controller.step_rack(-1)
        self.assertEqual((self.controller.rack.record.number, self.record.number), (1, 1))
        self.controller.step(-1)  # there is none before the first
        self.assertEqual(self.record.number, 1)

    def test_the_score_of_what_is_in_hand(self):
        self.controller.step(3)
        self.assertEqual(self.controller.rack_score.winner, "b")
        self.assertEqual(self.controller.shot_score.outcome.counted, ("9",))

    def test_the_next_shot_nobody_judged(self):
        self.controller.tag("decision_agree")
        self.controller.step(1)
        self.controller.tag("position_good")
        self.controller.step(-1)
        self.controller.next_unjudged()
        self.assertEqual(self.record.number, 3)
        for _ in range(6):
            self.controller.tag("decision_agree") if not self.controller.is_set("decision_agree") else None
            self.controller.next_unjudged()
        self.assertIn("Every shot of this session is judged.", self.said)

    def test_backspace_takes_back_only_what_was_typed_here(self):
        self.controller.step(1)
        self.controller.tag("position_lost")
        self.controller.tag("pace_long")
        self.controller.take_back()
        self.assertEqual((self.record.result.position, self.record.result.pace), ("lost", None))
        self.controller.take_back()
        self.assertIsNone(self.record.result)
        self.controller.take_back()
        self.assertIn("Nothing more was typed", self.said[-1])

    def test_undo_goes_on_behind_and_follows_to_the_shot(self):
        self.controller.step(1)
        self.controller.tag("position_lost")
        self.controller.step(1)
        self.controller.undo()
        self.assertEqual(self.record.number, 2)
        self.assertIsNone(self.record.result)
        self.assertIn("Undone: say position lost.", self.said)
        self.controller.redo()
        self.assertEqual(self.record.result.position, "lost")
        self.controller.redo()
        self.assertIn("nothing to redo", self.said[-1])

    def test_what_is_not_understood_is_explained_and_changes_nothing(self):
        commits = self.storage.commits
        self.controller.step(4)
        self.controller.pocket("foot_left")  # a break names its ball first
        self.controller.tag("unforced")
        self.assertEqual(self.storage.commits, commits)
        self.assertIn("A ball's number first", self.said[0])
        self.assertIn("Nothing went wrong here yet", self.said[1])

    def test_hit_first_waits_for_its_ball(self):
        self.controller.step(1)
        self.controller.tag("foul_first")
        self.assertTrue(self.controller.is_set("foul_first"))
        self.assertIn("hit first", self.controller.waits_for)
        self.controller.digit("5")
        self.assertEqual((self.record.facts.first_contact, self.controller.waits_for), ("5", ""))
        self.assertEqual(self.controller.shot_score.outcome.fouls, ("wrong_ball_first",))

    def test_pointing_at_a_ball_names_the_meant_one(self):
        self.controller.step(1)
        self.controller.meant_ball("7")
        self.assertEqual(self.record.call.ball, "7")
        self.assertEqual([p.ball for p in self.record.facts.potted], ["7"])

    def test_the_other_player(self):
        self.controller.step(1)
        self.controller.other_player()
        self.assertEqual(self.record.player, "b")
        self.assertEqual(self.controller.shot_score.warnings, ("out_of_turn",))

    def test_marks_begin_shots_and_take_them_in_hand(self):
        self.controller.strike(Moment("f", 3.0))  # the shot in hand has no time yet
        self.assertEqual((self.record.number, self.record.t_strike), (1, 3.0))
        self.controller.rest(Moment("f", 8.0))
        self.assertEqual(self.record.t_rest, 8.0)
        self.controller.rest(Moment("f", 1.0))
        self.assertIn("mark the strike first", self.said[-1])

    def test_taking_a_shot_away_and_bringing_it_back(self):
        self.controller.step(2)
        self.controller.delete_shot()
        self.assertEqual(len(self.controller.snapshot.shots), 5)
        self.assertEqual(self.record.number, 2)
        self.controller.undo()
        self.assertEqual((len(self.controller.snapshot.shots), self.record.number), (6, 3))

    def test_a_note_comes_and_goes(self):
        self.controller.set_note("Thin again.")
        self.assertEqual(self.record.note, "Thin again.")
        commits = self.storage.commits
        self.controller.set_note("Thin again.")
        self.assertEqual(self.storage.commits, commits)
        self.controller.set_note("")
        self.assertIsNone(self.record.note)

    def test_without_a_shot_keys_say_what_would_begin_one(self):
        self.document.run(add_session(session(id="empty")))
        self.controller.open("empty")
        self.controller.tag("position_good")
        self.assertIn("F marks a strike", self.said[-1])
        self.controller.strike(Moment("f", 1.0))
        self.assertEqual((self.record.number, self.record.intent), (1, "break"))

    def test_a_session_deleted_elsewhere_is_put_away(self):
        from ripasso.review.document.edits import remove_session

        self.document.run(remove_session(self.controller.snapshot))
        self.assertIsNone(self.controller.snapshot)
        self.controller.undo()
        self.controller.open("test")
        self.assertEqual(self.record.number, 1)

    def test_a_failing_disk_is_said_and_nothing_is_lost(self):
        from ripasso.store.errors import LibraryError

        self.storage.fail_with = LibraryError("The disk is full.")
        self.controller.tag("decision_agree")
        self.assertEqual((self.said[-1], self.record.decision), ("The disk is full.", None))
        self.controller.undo()
        self.assertEqual(self.said[-1], "The disk is full.")
        self.storage.fail_with = None
        self.controller.tag("decision_agree")
        self.assertEqual(self.record.decision.verdict, "agree")


if __name__ == "__main__":
    unittest.main()
