"""Whose words, which colours, which keys: chosen once, seen everywhere, stored nowhere in the record."""

import re
from unittest.mock import patch

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QWidget

from ripasso.review.document.edits import add_session
from ripasso.review.record.model import serialize
from ripasso.ui import settings_dialog
from ripasso.ui.actions import KeyTaken, checked_key
from ripasso.ui.review.state.keys import ACTIONS
from ripasso.ui.theme import EVENING
from ripasso.ui.window import MainWindow
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, in_dialog, press, wait_until

#: Words of one tradition that the other never shows.
ONLY_BRITISH = r"\b(white|cushions?|potted|potting|in-off|baulk|middle (left|right)|clearances?)\b"
ONLY_AMERICAN = (
    r"\b(cue balls?|rails?|pocketed|pocketing|scratch|head (left|right)|side (left|right)|run-outs?)\b"
)
#: A lesson of the demo: what somebody typed stays as it is.
TYPED = "The 5 goes in softly too: then the 6 is near, and no thin cut."


class Choices(WindowCase):
    demo = True

    def choose(self, **values):
        def act(dialog):
            for name, value in values.items():
                box = getattr(dialog, name)
                if isinstance(box, QComboBox):
                    box.setCurrentIndex(box.findData(value))
                else:
                    box.setText(value)
            QTest.keyClick(dialog, Qt.Key.Key_Return)

        in_dialog(act)
        press("Ctrl+,")

    def texts(self):
        """Every word that can be read in the window: on it, in tips, and read aloud."""
        seen = []
        for page in ("sessions", "review", "statistics"):
            self.window.show_page(page)
            QApplication.processEvents()
            for part in self.window.findChildren(QWidget):
                if not part.isVisibleTo(self.window):
                    continue
                seen += [part.toolTip(), part.accessibleName()]
                if isinstance(part, (QLabel, QAbstractButton)):
                    seen.append(part.text())
                if isinstance(part, QLineEdit):
                    seen.append(part.placeholderText())
        return [text for text in seen if text]

    def with_file(self, name, button):
        """Export or import settings with a file; what the dialog says then, "" when it closed."""
        told = []

        def act(dialog):
            if button == "export":
                dialog.words.setCurrentIndex(dialog.words.findData("american"))
            getattr(dialog, button).click()
            told.append(dialog.told.text() if dialog.isVisible() else "")
            if dialog.isVisible():
                dialog.reject()

        with patch.object(settings_dialog, "choose_file", return_value=name):
            in_dialog(act)
            press("Ctrl+,")
        return told[0]

    def test_settings_and_keys_go_out_and_come_in(self):
        self.workspace.settings.set("keys", {"zone": "F7"})
        file = self.folder / "mine.ripasso-settings.json"
        self.assertIn("are in mine", self.with_file(str(file), "export"))
        self.choose(words="british")
        self.workspace.settings.set("keys", {})
        self.assertEqual(self.with_file(str(file), "bring"), "")
        self.assertRegex(" ".join(self.texts()), "rail")
        self.assertEqual(self.window.review.context.actions.spec("zone").keys[0], "F7")
        for text, told in (("{", "is no file of settings"), ("[1]", "holds no settings")):
            file.write_text(text, encoding="utf-8")
            self.assertIn(told, self.with_file(str(file), "bring"))
        self.assertIn("cannot be read", self.with_file(str(self.folder), "bring"))
        self.assertIn("cannot be written", self.with_file(str(self.folder / "no" / "x.json"), "export"))
        self.assertEqual(self.with_file("", "bring"), "What is stored stays the same in all of them.")

    def test_the_switch_changes_every_word_and_no_stored_one(self):
        self.wait_for_film()
        press("Down", "Down")
        stored = serialize(self.review.controller.snapshot.session)
        shot = self.review.controller.shot.key
        for words, other in (("american", ONLY_BRITISH), ("british", ONLY_AMERICAN)):
            self.choose(words=words)
            self.assertEqual(self.review.controller.shot.key, shot)
            told = [text.replace(TYPED, "") for text in self.texts()]
            wrong = [text for text in told if re.search(other, text, re.IGNORECASE)]
            self.assertEqual(wrong, [], words)
            self.assertEqual(serialize(self.review.controller.snapshot.session), stored)
        texts = " ".join(self.texts())
        self.assertRegex(texts, "cushion")
        self.choose(words="american")
        self.assertRegex(" ".join(self.texts()), "rail")

    def test_the_dark_window_keeps_what_is_in_hand(self):
        self.wait_for_film()
        press("Down")
        press("L")
        shot = self.review.controller.shot.key
        self.choose(colours="evening", text_size=1.25)
        self.assertEqual(self.workspace.theme.hex("surface"), EVENING["surface"])
        self.assertEqual(self.review.controller.shot.key, shot)
        press("Ctrl+Z")
        self.assertNotEqual(
            self.review.controller.shot.record.result and self.review.controller.shot.record.result.position,
            "lost",
        )
        self.open_window()
        self.assertEqual(self.workspace.theme.hex("surface"), EVENING["surface"])

    def test_a_key_is_given_to_another_action(self):
        self.wait_for_film()
        press("Down")

        def give(sheet):
            sheet.ask("position_lost")
            QTest.keyClick(sheet, Qt.Key.Key_J)
            self.assertIn("is the key of", sheet.told.text())
            sheet.ask("position_lost")
            QTest.keyClick(sheet, Qt.Key.Key_F8, Qt.KeyboardModifier.ShiftModifier)
            self.assertEqual(sheet.buttons["position_lost"].text(), "⇧F8")
            sheet.accept()

        in_dialog(give)
        press("F1")
        self.assertIn("⇧F8", self.review.key_board.button("position_lost").accessibleName())
        self.assertIn("⇧F8", self.review.actions_book["position_lost"].toolTip())
        press("Shift+F8")
        self.assertEqual(self.review.controller.shot.record.result.position, "lost")
        press("L")
        self.assertEqual(self.review.controller.shot.record.result.position, "lost")
        self.open_window()
        self.wait_for_film()
        self.assertEqual(self.review.actions_book.spec("position_lost").hint, "⇧F8")

        def reset(sheet):
            sheet._usual.click()
            sheet.accept()

        in_dialog(reset)
        press("F1")
        self.assertEqual(self.review.actions_book.spec("position_lost").hint, "L")

    def test_a_key_of_sessions_is_given_to_another_action_too(self):
        self.workspace.settings.set("keys", {"new": "Shift+F9"})
        self.window.rebuild()
        self.window.show_page("sessions")
        QTest.qWait(20)
        self.assertEqual(self.window.sessions.actions_book.spec("new").hint, "⇧F9")
        asked = []
        in_dialog(lambda dialog: (asked.append(dialog.windowTitle()), dialog.reject()))
        press("Shift+F9")
        self.assertEqual(asked, ["New session"])

    def test_pages_are_never_windows_of_their_own(self):
        """A page that is shown before it has its place flashes, and takes the focus from the window."""
        shown = []

        class Watch(QObject):
            def eventFilter(self, part, event):
                is_window = isinstance(part, QWidget) and part.isWindow()
                if is_window and event.type() == QEvent.Type.Show and not isinstance(part, MainWindow):
                    shown.append(type(part).__name__)
                return False

        watch = Watch()
        QApplication.instance().installEventFilter(watch)
        self.addCleanup(QApplication.instance().removeEventFilter, watch)
        self.open_window()
        for page in ("review", "statistics", "sessions"):
            self.window.show_page(page)
            QApplication.processEvents()
        self.window.rebuild()
        for page in ("review", "statistics", "sessions"):
            self.window.show_page(page)
            QTest.qWait(20)
        self.assertEqual(shown, [])
        self.assertTrue(self.window.isActiveWindow())

    def test_a_conflict_is_a_sentence(self):
        with self.assertRaises(KeyTaken) as caught:
            checked_key(ACTIONS, "note", "Shift+Z")
        self.assertIn("zone", str(caught.exception))
        for key in ("Esc", ""):
            with self.assertRaises(KeyTaken):
                checked_key(ACTIONS, "note", key)

    def test_what_people_typed_is_never_changed(self):
        """Names, titles, notes and lessons full of trade words read the same in both."""
        record = session(
            title="Scratch Rail Open",
            players=[{"id": "a", "name": "Ada Pot"}, {"id": "b", "name": "Cushion Kings"}],
            racks=[
                rack_of(
                    {**played("a", "1", intent="break"), "note": "the pot off the rail"},
                    played("a", "2"),
                    played("b", intent="safety"),
                    lesson="a scratch off the side pocket",
                )
            ],
        )
        self.workspace.document.run(add_session(record))
        typed = ("Scratch Rail Open", "Ada Pot", "Cushion Kings", "a scratch off the side pocket")
        for words in ("american", "british"):
            self.choose(words=words)
            self.window.open_session("test")
            self.review.controller.step(1)
            texts = " ".join(self.texts())
            for text in typed:
                with self.subTest(words=words, text=text):
                    self.assertIn(text, texts)
            self.review.controller.step(-1)
            self.assertEqual(self.review.slip.note.text(), "the pot off the rail")
            self.window.show_page("review")
            press("F8")
            cells = [cell for line in self.review.match_page._sheet.visits for cell in line.cells]
            self.assertIn("Ada Pot", cells)
            press("F8")


class InWords(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.wait_for_film()
        press("Down", "Down")

    @property
    def line(self):
        return self.review.slip.words

    def type(self, text):
        press(";")
        wait_until(self.line.line.hasFocus, "the line")
        QTest.keyClicks(self.line.line, text)

    def test_a_shot_is_said_in_words(self):
        self.type("4 foot left, draw, firm, over a ball, missed thick, by aim")
        press("Return")
        record = self.review.controller.shot.record
        self.assertEqual((record.call.ball, record.stroke.kind, record.error.causes), ("4", "draw", ("aim",)))
        self.assertFalse(self.line.isVisible())
        press("Ctrl+Z")
        self.assertIsNone(self.review.controller.shot.record.stroke)

    def test_a_wrong_word_is_explained_and_nothing_is_said(self):
        before = serialize(self.review.controller.shot.record)
        self.type("4 foot lft")
        press("Return")
        self.assertIn("not understood", self.line.hint.text())
        self.assertTrue(self.line.isVisible())
        press("Esc")
        self.assertFalse(self.line.isVisible())
        self.assertEqual(serialize(self.review.controller.shot.record), before)

    def test_tab_completes(self):
        self.type("drag, too str")
        QTest.keyClick(self.line.line, Qt.Key.Key_Tab)
        self.assertIn("too straight", self.line.line.text())
        press("Return")
        self.assertEqual(self.review.controller.shot.record.result.angle, "too_straight")
