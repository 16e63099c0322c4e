"""A film that reads itself, in the real window: proposals come in, are accepted, corrected, undone."""

import math

from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtWidgets import QApplication

from ripasso.core.table import table_spec
from ripasso.demo.library import film_path, film_truth
from ripasso.review.document.edits import add_session
from ripasso.review.record.model import serialize
from ripasso.review.record.proposals import without_proposals
from tests.sessions import session
from tests.windows import WindowCase, on_table, press, wait_until

SPEC = table_spec({"preset": "pool_9ft"})
#: How far the times and places of the record may be off the truth.
TIME_S, PLACE_M = 0.25, 0.02


class ReadFilm(WindowCase):
    def setUp(self):
        super().setUp()
        recordings = [{"id": "film", "file": str(film_path())}]
        made = session(game="nine_ball", racks=[], recordings=recordings, table={"preset": "pool_9ft"})
        self.workspace.document.run(add_session(made))
        self.window.open_session("test")
        self.wait_for_film()

    def shots(self):
        return self.review.controller.snapshot.shots

    def proposed(self):
        return [row for row in self.shots() if row.record.proposed]

    def test_a_film_is_read_and_accepted(self):
        self.stop_and_go_on()
        self.correct_a_ball()
        self.accept()
        self.compare()
        self.take_back()

    def stop_and_go_on(self):
        press("Ctrl+L")
        wait_until(lambda: len(self.proposed()) >= 2, "two shots")
        press("Ctrl+L")
        wait_until(lambda: not self.review.reading.busy, "the end of the frame in hand")
        here = len(self.shots())
        self.assertLess(here, 12)
        self.assertTrue(self.review.controller.snapshot.head.recordings[0].views, "the view that was found")
        # Somebody takes the 9 for an 8; the reading that goes on believes it.
        self.say("9", "8")
        press("Ctrl+L")
        wait_until(lambda: not self.review.reading.busy, "the end of the film")
        self.assertEqual(len(self.proposed()), 12, self.said[-5:])
        for row in self.shots()[1:]:
            self.assertIn("8", row.record.before, row.record.number)
            self.assertNotIn("9", row.record.before, row.record.number)

    def correct_a_ball(self):
        """Said right, by one click, the ball is right in every later proposal."""
        self.say("8", "9")
        for row in self.shots()[1:]:
            self.assertIn("9", row.record.before, row.record.number)
            self.assertNotIn("8", row.record.before, row.record.number)

    def say(self, ball, right):
        """The right button on a ball of the second shot, and its name in the menu."""
        self.review.controller.choose(self.shots()[1].key)
        at = on_table(self.review.table, tuple(self.shots()[1].record.before[ball]))
        self.review.table.contextMenuEvent(
            QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, self.review.table.mapToGlobal(at))
        )
        menu = QApplication.activePopupWidget()
        next(action for action in menu.actions() if action.data() == right).trigger()
        menu.close()
        wait_until(lambda: QApplication.activePopupWidget() is None, "the menu to go")
        # Offscreen nobody gives the window its focus back when a menu goes.
        self.window.activateWindow()
        self.review.setFocus()
        wait_until(QApplication.focusWidget, "the focus")

    def accept(self):
        self.review.controller.choose(self.shots()[1].key)
        for number in range(2, 11):
            self.assertEqual(self.review.controller.shot.record.number, number)
            press("Return")
        self.assertEqual([row.record.number for row in self.proposed()], [1, 11, 12])

    def compare(self):
        truth = film_truth()["shots"]
        for row in self.shots()[1:10]:
            true, said = truth[row.record.number - 1], row.record
            self.assertIsNone(said.proposed)
            self.assertLess(abs(said.t_strike - true["t_strike"]), TIME_S)
            self.assertLess(abs(said.t_rest - true["t_rest"]), TIME_S)
            self.assertEqual(said.facts.first_contact, true["first_contact"], said.number)
            potted = [(p.ball, p.pocket) for p in said.facts.potted]
            self.assertEqual(potted, [(p["ball"], p["pocket"]) for p in true["potted"]])
            for when in ("before", "after"):
                self.assertEqual(set(getattr(said, when)), set(true[when]), (said.number, when))
                for ball, place in getattr(said, when).items():
                    self.assertLess(math.dist(place, true[when][ball]), PLACE_M, (said.number, when, ball))

    def take_back(self):
        before = [serialize(row.record) for row in self.shots()]
        press("Ctrl+Shift+L")
        self.assertEqual([row.record.number for row in self.shots()], list(range(1, 10)))
        self.assertFalse(self.proposed())
        press("Ctrl+Z")
        self.assertEqual([serialize(row.record) for row in self.shots()], before)

    def test_what_was_entered_stays(self):
        truth = film_truth()["shots"][1]
        self.go_to(truth["t_strike"] + 0.2)
        press("F", "2", "Q", "M", "L", "N")
        QApplication.focusWidget().setText("seen by eye")
        press("Return")
        said = serialize(without_proposals(self.shots()[0].record))
        press("Ctrl+L")
        wait_until(lambda: len(self.proposed()) >= 2, "the shots before and at the mark")
        press("Ctrl+L")
        wait_until(lambda: not self.review.reading.busy, "the end of the frame in hand")
        mine = next(row.record for row in self.shots() if row.record.note == "seen by eye")
        kept = serialize(without_proposals(mine))
        for name in ("t_strike", "result", "note", "call"):
            self.assertEqual(kept.get(name), said.get(name), name)
        self.assertIn("before", serialize(mine))
        self.assertIn("/before/cue", mine.proposed)
