"""The history of a window by keys: every change with its time, back to any point and on again; "Kept"."""

from datetime import datetime
from unittest.mock import patch

from ripasso.review.document.edits import add_session
from ripasso.store.errors import LibraryError
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, in_dialog, press


class History(WindowCase):
    def setUp(self):
        super().setUp()
        record = session(racks=[rack_of(played("a", "1"), played("a", "2"))])
        self.workspace.document.run(add_session(record))
        self.window.open_session("test")

    def shots(self):
        return [row.record.note for row in self.workspace.document.session("test").shots]

    def note(self, text):
        self.review.slip.note.setFocus()
        self.review.slip.note.setText(text)
        press("Return")

    def history(self, act):
        seen = []

        def look(dialog):
            seen.extend(dialog.list.item(row).text() for row in range(dialog.list.count()))
            act(dialog)

        in_dialog(look)
        press("Ctrl+Shift+H")
        return seen

    def test_back_to_any_point_and_on_again(self):
        for text in ("one", "two", "three"):
            self.note(text)
        self.assertEqual(self.shots()[0], "three")
        self.assertRegex(self.window.message.kept.text(), r"^Kept \d\d:\d\d$")

        def to_the_second(dialog):
            dialog.list.setCurrentRow(1)
            press("Return")

        seen = self.history(to_the_second)
        self.assertEqual(len(seen), 5)
        self.assertRegex(seen[0], r"^→ \d\d:\d\d:\d\d  .+\(A test\)$")
        self.assertEqual(self.shots()[0], "two")
        self.assertIn("3 of 4 changes hold", self.said[-1])

        def forward(dialog):
            self.assertIn("undone", dialog.list.item(0).text())
            self.assertEqual(dialog.list.currentRow(), 1)
            dialog.list.setCurrentRow(0)
            press("Return")

        self.history(forward)
        self.assertEqual(self.shots()[0], "three")
        self.history(lambda _dialog: press("Esc"))
        self.assertEqual(self.shots()[0], "three")

    def test_those_of_one_session(self):
        self.note("one")
        self.workspace.document.run(add_session(session(id="other", title="Another")))
        seen = []

        def choose(dialog):
            self.assertEqual(
                [dialog.session.itemText(n) for n in range(3)], ["all sessions", "A test", "Another"]
            )
            dialog.session.setCurrentIndex(2)
            seen.extend(dialog.list.item(row).text() for row in range(dialog.list.count()))
            dialog.session.setCurrentIndex(1)
            dialog.list.setCurrentRow(0)
            dialog.list.itemDoubleClicked.emit(dialog.list.item(0))

        self.history(choose)
        self.assertEqual(len(seen), 2)
        self.assertIn("(Another)", seen[0])
        # The note of this session holds; what came after it is undone.
        self.assertEqual(self.shots()[0], "one")
        self.assertIsNone(self.workspace.document.session("other"))

    def test_what_cannot_be_stored_is_said(self):
        self.note("one")
        with patch.object(self.workspace.document, "go_to", side_effect=LibraryError("The disk is full.")):
            self.history(lambda _dialog: press("Return"))
        self.assertEqual(self.said[-1], "The disk is full.")

    def test_the_document_knows_when_each_was_done(self):
        document = self.workspace.document
        (step,) = document.history
        self.assertLess(abs((datetime.now() - step.at).total_seconds()), 600)
        document.go_to(0)
        self.assertEqual([one.holds for one in document.history], [False])
        document.go_to(5)
        self.assertEqual([one.holds for one in document.history], [True])


if __name__ == "__main__":
    import unittest

    unittest.main()
