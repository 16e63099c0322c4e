"""What people typed is shown as it stands: markup in a title, a name or a note is text."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QMessageBox

from ripasso.review.document import edits
from ripasso.ui.widgets.basics import as_it_stands, question_box
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, in_dialog, press, wait_until

HOSTILE = "<b>Open</b> <img src='http://127.0.0.1/x.png'> & <h1>more</h1>"


def reads_as_markup(label):
    """Whether Qt takes a label's text for markup."""
    auto = label.textFormat() == Qt.TextFormat.AutoText and Qt.mightBeRichText(label.text())
    return label.textFormat() == Qt.TextFormat.RichText or auto


class PlainText(WindowCase):
    def setUp(self):
        super().setUp()
        players = [{"id": "a", "name": HOSTILE}, {"id": "b", "name": "Bram Oster"}]
        shot = {**played("a", "1"), "note": HOSTILE, "tags": ["open"]}
        record = session(title=HOSTILE, players=players, racks=[rack_of(shot, lesson=HOSTILE)])
        self.workspace.document.run(edits.add_session(record))

    def check_labels(self):
        for label in self.window.findChildren(QLabel):
            if "<" in label.text():
                self.assertFalse(reads_as_markup(label), label.text())
            if "<" in label.toolTip():
                self.assertIn("&lt;", label.toolTip())

    def test_no_label_of_any_page_reads_markup(self):
        self.check_labels()
        self.window.open_session("test")
        self.check_labels()
        self.workspace.messages.say(f"{HOSTILE} is in the library.", "good")
        self.assertIn("&lt;b&gt;", self.window.message.toolTip())
        press("F8")
        self.check_labels()
        press("F8", "Ctrl+3")
        wait_until(lambda: not self.window.statistics.is_computing)
        self.check_labels()

    def test_the_boxes_that_ask_show_it_as_it_stands(self):
        seen = []

        def look(box):
            self.assertIsInstance(box, QMessageBox)
            seen.append((box.textFormat(), box.text()))
            box.reject()

        in_dialog(look)
        self.window.sessions.controller.delete("test")
        self.assertEqual(seen[0][0], Qt.TextFormat.PlainText)
        self.assertIn(HOSTILE, seen[0][1])

    def test_a_tip_is_escaped_only_where_it_must_be(self):
        self.assertEqual(as_it_stands("3 & 5"), "3 & 5")
        self.assertEqual(as_it_stands("3 < 4"), "<qt>3 &lt; 4</qt>")
        self.assertNotIn("<img", as_it_stands(HOSTILE))
        box = question_box(self.window, "x", HOSTILE, HOSTILE)
        self.assertNotIn("<img", box.informativeText())
        box.deleteLater()
