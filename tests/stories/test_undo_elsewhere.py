"""Undo of what happened in another session says where, and goes there."""

from ripasso.review.document.edits import add_session
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, press


class Elsewhere(WindowCase):
    def setUp(self):
        super().setUp()
        for name in ("one", "two"):
            racks = [rack_of(played("a", "2"), played("a"), played("b"))]
            self.workspace.document.run(add_session(session(id=name, title=f"Match {name}", racks=racks)))

    def test_undo_and_redo_go_to_the_session_and_the_shot(self):
        self.window.open_session("one")
        press("Down", "L")
        shot = self.review.controller.shot.key
        self.window.open_session("two")
        press("Ctrl+Z")
        self.assertIn(", in Match one.", self.said[-1])
        self.assertEqual(self.review.controller.snapshot.key, "one")
        self.assertEqual(self.review.controller.shot.key, shot)
        self.assertIsNone(self.review.controller.shot.record.result)
        self.window.open_session("two")
        press("Ctrl+Shift+Z")
        self.assertIn("Redone", self.said[-1])
        self.assertEqual(self.review.controller.shot.record.result.position, "lost")

    def test_in_the_session_in_hand_nothing_moves(self):
        self.window.open_session("one")
        press("Down", "L")
        press("Ctrl+Z")
        self.assertNotIn("Match one", self.said[-1])
        self.assertEqual(self.review.controller.shot.record.number, 2)
