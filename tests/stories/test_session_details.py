"""A session's title, date, players and target are changed later; two of one title are told apart."""

import json

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from tests.sessions import played, rack_of, session_data
from tests.windows import WindowCase, in_dialog, press, wait_until


class Details(WindowCase):
    def put(self, **changes):
        data = session_data(racks=[rack_of(played("a", "2"), played("a"))], **changes)
        path = self.folder / f"{data['id']}.ripasso.json"
        path.write_text(json.dumps(data))
        self.window.files.import_session(path)

    def change(self, work):
        press("Ctrl+1")
        self.window.sessions.table.setFocus()
        in_dialog(work)
        press("F2")

    @property
    def head(self):
        return self.workspace.document.session("test").head

    def test_everything_is_changed_in_one_step_of_undo(self):
        self.put(rules={"race_to": 5})
        before = self.head

        def work(dialog):
            dialog.title_line.setText("Club night")
            dialog.date_line.setText("2026-03-01")
            dialog.players["b"].setText("Ida Pot")
            dialog.target.setValue(9)
            dialog.equipment.setText("own cue")
            QTest.keyClick(dialog, Qt.Key.Key_Return)
            self.assertFalse(dialog.isVisible())

        self.change(work)
        head = self.head
        self.assertEqual((head.title, head.date, head.rules), ("Club night", "2026-03-01", {"race_to": 9}))
        self.assertEqual([player.name for player in head.players], ["Ada Quill", "Ida Pot"])
        self.assertEqual(head.table_state.own_equipment, "own cue")
        self.assertIn("Club night is changed", self.said[-1])
        self.assertEqual(self.window.sessions.model.lines[0].title, "Club night")
        press("Ctrl+2")
        press("Ctrl+Z")
        self.assertEqual(self.head, before)

    def test_what_cannot_be_is_said_in_the_dialog(self):
        self.put()
        seen = []

        def work(dialog):
            for field, text in ((dialog.title_line, " "), (dialog.date_line, "last week")):
                kept = field.text()
                field.setText(text)
                QTest.keyClick(dialog, Qt.Key.Key_Return)
                self.assertTrue(dialog.isVisible())
                seen.append(dialog._problem.text())
                field.setText(kept)
            dialog.reject()

        self.change(work)
        self.assertEqual([text.split()[0] for text in seen], ["A", "A"])
        self.assertEqual(self.head.title, "A test")

    def test_two_sessions_of_one_title_are_told_apart(self):
        self.put(date="2026-01-01")
        self.put(id="two", date="2026-02-02")
        self.put(id="three", date="2026-02-02")
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: not page.is_computing and not self.workspace.background.busy, "the figures")
        offered = [page.chooser.sessions.itemText(i) for i in range(page.chooser.sessions.count())]
        own = [text for text in offered if text.startswith("A test")]
        self.assertEqual(sorted(own), ["A test, 2026-01-01", "A test, 2026-02-02", "A test, 2026-02-02 (2)"])

    def test_other_equipment_is_another_table(self):
        self.put(date="2026-01-01")
        self.put(id="two", date="2026-02-02", table_state={"cloth": "fast", "own_equipment": True})
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: not page.is_computing and not self.workspace.background.busy, "the figures")
        page.chooser.pages.setCurrentIndex(page.chooser.pages.findData("potting"))
        page.chooser.second.setCurrentIndex(page.chooser.second.findText("before 2026-02-02"))
        page.chooser.second.activated.emit(page.chooser.second.currentIndex())
        wait_until(lambda: not page.is_computing, "the figures")
        self.assertIn("Unlike tables", page._warning.text())
        self.assertIn("fast cloth, own equipment", page._warning.text())
