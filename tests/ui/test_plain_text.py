"""What people typed is shown as it stands: markup in a title, a name or a note is text."""

import csv
import io
import json
from xml.etree import ElementTree

from PyQt6.QtCore import QAbstractItemModel, QAbstractListModel, Qt, QTimer
from PyQt6.QtGui import QKeySequence
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QDialog,
    QLabel,
    QMenu,
    QMessageBox,
    QWidget,
)

from ripasso.review.document import edits
from ripasso.statistics.pages.pages import ATTEMPTS, JUDGED, PAGES
from ripasso.ui.widgets.basics import as_it_stands, question_box
from tests.endurance.walker import keys
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
        self.assertIn("&lt;b&gt;", self.window.message.sentence.toolTip())
        press("F8")
        self.check_labels()
        press("F8", "Ctrl+5")
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


#: A formula in a table, mathematics in a chart, a control character in an XML.
NAME = f"=1+1 $x$ \x07{HOSTILE}"


def everything_typed():
    """A session in which everything that people type is hostile."""
    zone = {"circle": {"centre": [1, 0.5], "radius": 0.2}}
    plan = {
        "next_ball": "2",
        "zone": zone,
        "options": [{"id": "o", "title": NAME, "by": NAME, "reason": NAME, "chosen": True}],
    }
    shot = {
        **played("a", "1"),
        "note": NAME,
        "tags": [NAME, "open"],
        "before": {"cue": [0.6, 0.5], "1": [1.8, 0.4], "2": [1.2, 0.9], NAME: [2.0, 1.0]},
        "after": {"cue": [1.3, 0.6], "2": [1.2, 0.9]},
        "plan": plan,
        "decision": {"verdict": "prefer_other", "better_option": "o", "reason": NAME, "by": NAME},
        "comments": [{"by": NAME, "text": NAME}],
        "others": [{"by": NAME, "note": NAME, "result": {"position": "good"}}],
        "drawings": [{"kind": "caption", "points": [[1, 1]], "text": NAME}],
        "predictions": [{"by": NAME, "text": NAME}],
    }
    return session(
        id="typed",
        title=NAME,
        venue=NAME,
        note=NAME,
        players=[{"id": "a", "name": NAME}, {"id": "b", "name": f"{NAME} 2"}],
        recordings=[{"id": "r", "file": f"{NAME}.mp4"}],
        racks=[
            rack_of(shot, {**played("b", intent="safety"), "note": NAME}, lesson=NAME, note=NAME),
            {"number": 2, "shots": [{"number": 1, "player": "b", "call": {"ball": NAME}}]},
        ],
        attempt_sets=[
            {
                "id": "s",
                "title": NAME,
                "own_limits": NAME,
                "criteria": [{"id": "c", "text": NAME}],
                "attempts": [{"number": 1, "outcome": "success", "note": NAME}],
            }
        ],
    )


class EveryView(WindowCase):
    """Every key of every action is pressed, and everything that is seen then is looked through."""

    def setUp(self):
        super().setUp()
        self.workspace.document.run(edits.add_session(everything_typed()))
        self.window.open_session("typed")
        self.seen = 0
        self.closer = QTimer()
        self.closer.timeout.connect(self.look_at_dialogs)
        self.closer.start(10)
        self.addCleanup(self.closer.stop)

    def look_at_dialogs(self):
        popup, dialog = QApplication.activePopupWidget(), QApplication.activeModalWidget()
        try:
            for top in (popup, dialog):
                if isinstance(top, QMenu | QDialog):
                    self.look_at(top)
        finally:
            # Whatever was found: a dialog that stays would hold the test for ever.
            if isinstance(popup, QMenu):
                popup.close()
            elif isinstance(dialog, QDialog):
                dialog.reject()

    def look_at(self, top):
        for widget in (top, *top.findChildren(QWidget)):
            self.check_tip(widget.toolTip())
            self.check_tip(widget.statusTip())
            if isinstance(widget, QLabel) and "<" in widget.text():
                self.seen += 1
                self.assertFalse(reads_as_markup(widget), widget.text())
            if isinstance(widget, QMessageBox):
                self.assertNotIn("<img", widget.informativeText())
            if isinstance(widget, QAbstractItemView) and widget.model() is not None:
                self.look_at_model(widget.model())
            for action in widget.actions():
                self.check_tip(action.toolTip() if "<" in action.toolTip() else "")

    def look_at_model(self, model: QAbstractItemModel):
        for row in range(min(model.rowCount(), 12)):
            columns = 1 if isinstance(model, QAbstractListModel) else model.columnCount()
            for column in range(min(columns, 30)):
                tip = model.index(row, column).data(Qt.ItemDataRole.ToolTipRole)
                self.check_tip(tip if isinstance(tip, str) else "")

    def check_tip(self, tip):
        if "<" in tip:
            self.seen += 1
            self.assertNotIn("<b>", tip)
            self.assertNotIn("<img", tip)

    def test_by_every_key(self):
        for page in ("Ctrl+1", "Ctrl+2", "Ctrl+5"):
            for key in keys():
                press(page)
                if page == "Ctrl+5":
                    wait_until(lambda: not self.window.statistics.is_computing)
                combination = QKeySequence(key)[0]
                target = QApplication.focusWidget() or self.window
                QTest.keyClick(target, combination.key(), combination.keyboardModifiers())
                QApplication.processEvents()
                self.look_at(self.window)
                press("Escape")
        self.assertGreater(self.seen, 100, "what is hostile was on screen")

    def test_the_names_of_fields_that_are_players(self):
        self.closer.stop()
        titles = []

        def look(dialog):
            titles.append(dialog.windowTitle())
            self.look_at(dialog)

        press("Ctrl+2")
        self.review.navigation.go_to(self.workspace.document.session("typed").racks[1].shots[0].key)
        in_dialog(look)
        press("Shift+K")
        self.assertEqual(len(titles), 1)
        self.assertGreater(self.seen, 0)

    def test_what_is_exported_is_read_by_others(self):
        target = self.folder / "out.ripasso.json"
        self.window.sessions.controller.export_file("typed", target)
        self.assertEqual(json.loads(target.read_text(encoding="utf-8"))["title"], NAME)
        svg = self.review.table_controller.svg()
        words = " ".join(ElementTree.fromstring(svg).itertext())
        self.assertIn("<b>Open</b>", words)
        press("Ctrl+5")
        statistics = self.window.statistics
        wait_until(lambda: not statistics.is_computing)
        for name in (JUDGED, *PAGES, ATTEMPTS):
            pages = statistics.chooser.pages
            pages.setCurrentIndex(pages.findData(name))
            pages.activated.emit(pages.currentIndex())
            wait_until(lambda: not statistics.is_computing)
            self.look_at(statistics)
            with self.subTest(name):
                self.read_tables(statistics)

    def read_tables(self, statistics):
        statistics._copy_table()
        text = QApplication.clipboard().text()
        for row in csv.reader(io.StringIO(text)):
            for cell in row:
                self.assertNotIn(cell[:1], tuple("=+@\t"), cell)
        statistics._copy_picture()
        wait_until(lambda: not self.workspace.background.busy)
        data = QApplication.clipboard().mimeData()
        if data.hasFormat("image/svg+xml"):
            ElementTree.fromstring(bytes(data.data("image/svg+xml")))
        self.assertFalse(data.imageData().isNull())
