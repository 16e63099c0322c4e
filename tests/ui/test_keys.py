"""Keys as data: one meaning each, a hint on every control, all of them on the sheet."""

import unittest
from collections import Counter

from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QLabel, QWidget

from ripasso.review.document.edits import add_session
from ripasso.review.entry.tagging import OUTCOMES, TAGS
from ripasso.ui.actions import shown_key
from ripasso.ui.help.key_sheet import KeySheet
from ripasso.ui.review.shot.key_board import COLUMNS, IN_SNOOKER
from ripasso.ui.review.state.keys import ACTIONS, POCKET_KEYS
from ripasso.ui.window import ACTIONS as WINDOW_ACTIONS
from tests.sessions import session
from tests.windows import WindowCase, click, destroy, press, wait_until


class Keys(unittest.TestCase):
    def test_no_key_has_two_meanings_in_review(self):
        keys = Counter(key for spec in (*ACTIONS, *WINDOW_ACTIONS) for key in spec.keys)
        self.assertEqual({k: n for k, n in keys.items() if n > 1}, {})

    def test_pocket_letters_leave_the_others_alone_from_both_sides(self):
        others = {key for spec in ACTIONS if not spec.id.startswith("pocket_") for key in spec.keys}
        for keys in POCKET_KEYS.values():
            self.assertEqual(len(keys), 6)
            letters = [name for names in keys.values() for name in names]
            self.assertEqual(len(letters), len(set(letters)))
            self.assertEqual(set(letters) & others, set())

    def test_every_usual_tag_has_its_button(self):
        shown = {name for _, names in COLUMNS for name in names} | set(IN_SNOOKER.values())
        groups = ("Shot", "Result", "Position", "Missed by", "Judgement", "Foul")
        tags = {spec.id for spec in ACTIONS if spec.group in groups} - {"slip", "options", "second"}
        # A pot is meant wherever a ball, a pocket or a result is said; rare fouls are on the key sheet.
        rare = {name for name in tags if name.startswith("other_foul_")} - shown
        self.assertEqual(
            tags - shown - rare, {"intent_pot"}, "a tag has no button: see ui/review/shot/key_board.py"
        )

    def test_every_foul_of_the_format_has_a_key(self):
        from typing import get_args

        from ripasso.review.record.values import OtherFoul

        keyed = {spec.id.removeprefix("other_foul_") for spec in ACTIONS if spec.id.startswith("other_foul_")}
        self.assertEqual(keyed, set(get_args(OtherFoul)))

    def test_every_tag_has_a_key(self):
        keyed = {spec.id for spec in ACTIONS if spec.keys}
        for name in (*TAGS, *OUTCOMES, "unforced", "forced"):
            self.assertTrue(name in keyed, f"{name} has no key: see ui/review/state/keys.py")

    def test_shown_keys(self):
        self.assertEqual(
            [shown_key(k) for k in ("Shift+B", "Ctrl+1", "Space", ",")], ["⇧B", "Ctrl 1", "space", ","]
        )


class Access(WindowCase):
    demo = True

    def test_every_control_has_a_name_and_can_be_reached_by_tab(self):
        for page in ("sessions", "review", "statistics"):
            self.window.show_page(page)
            for widget in self.window.findChildren(QWidget):
                takes_focus = widget.focusPolicy().value & 1 and widget.isVisibleTo(self.window)
                if takes_focus and widget.isEnabled():
                    named = widget.accessibleName() or getattr(widget, "text", str)()
                    self.assertTrue(named or isinstance(widget, QLabel), f"{widget} on {page}")

    def test_every_key_is_on_the_sheet(self):
        sheet = KeySheet(self.workspace.theme, (*WINDOW_ACTIONS, *ACTIONS), {})
        texts = [part.text() for kind in (QLabel, QAbstractButton) for part in sheet.findChildren(kind)]
        for spec in ACTIONS:
            self.assertIn(spec.hint, texts)
        destroy(sheet)

    def test_a_click_says_the_same_as_the_key(self):
        self.wait_for_film()
        press("Down")
        controller, board = self.review.controller, self.review.key_board
        click(board.button("position_lost"))
        self.assertEqual(controller.shot.record.result.position, "lost")
        self.assertTrue(board.button("position_lost").isChecked())
        press("L")
        self.assertFalse(board.button("position_lost").isChecked())
        # The clicked button has not taken the focus, so Space still plays.
        self.assertNotIsInstance(self.window.focusWidget(), QAbstractButton)

    def test_turning_the_table_moves_the_letters(self):
        self.wait_for_film()
        press("Down", "Shift+T", "Z")
        self.assertEqual(self.review.controller.shot.record.call.pocket, "head_left")
        press("Shift+T", "W")
        self.assertEqual(self.review.controller.shot.record.call.pocket, "side_right")
        press("Shift+T", "Shift+T", "W")
        self.assertEqual(self.review.controller.shot.record.call.pocket, "side_left")

    def test_without_a_film_the_table_takes_its_place(self):
        self.wait_for_film()
        small = self.review.table.height()
        self.window.open_session("demo-snooker")
        wait_until(lambda: self.review.table.height() > 1.4 * small, "the large table")
        self.window.open_session("demo-rack-on-film")
        wait_until(lambda: self.review.table.height() < 1.2 * small, "the small one again")

    def test_the_keypad_works_too(self):
        from PyQt6.QtCore import Qt
        from PyQt6.QtTest import QTest

        self.wait_for_film()
        press("Down")
        QTest.keyClick(self.review, Qt.Key.Key_9, Qt.KeyboardModifier.KeypadModifier)
        self.assertEqual(self.review.controller.shot.record.call.pocket, "foot_left")

    def test_the_diagram_is_clicked_and_walked(self):
        from PyQt6.QtCore import QPointF

        self.wait_for_film()
        press("Down")
        table, controller = self.review.table, self.review.controller
        fit = table.fit()
        click(table, fit.pixel(table.scene.balls["9"]).toPoint())
        self.assertEqual(controller.shot.record.call.ball, "9")
        from ripasso.core.table import pocket_centre

        click(table, QPointF(fit.pixel(pocket_centre(table.scene.spec, "head_right"))).toPoint())
        self.assertEqual(controller.shot.record.call.pocket, "head_right")
        table.setFocus()
        from PyQt6.QtCore import Qt
        from PyQt6.QtTest import QTest

        QTest.keyClick(table, Qt.Key.Key_Right)
        self.assertIn("m from the head end", table.accessibleDescription())


class Sizes(WindowCase):
    demo = True

    def test_review_fits_small_windows_and_large_texts(self):
        for width, height, scale in (
            (1280, 800, None),
            (1100, 700, None),
            (1280, 800, 1.5),
            (3840, 2160, None),
        ):
            with self.subTest(width=width, scale=scale):
                window = self.open_window(width, height, scale)
                self.wait_for_film()
                self.assertEqual((window.width(), window.height()), (width, height))
                scrolled = self.review.slip.parentWidget()  # with large texts the slip scrolls in its place
                for part in (self.review.film, self.review.table, scrolled, self.review.key_board):
                    place = part.mapTo(window, part.rect().bottomRight())
                    self.assertTrue(window.rect().contains(place), part)
                    self.assertGreater(min(part.width(), part.height()), 90, part)

    def test_film_and_table_fill_the_space(self):
        for width, height in ((1280, 800), (1680, 1050)):
            window = self.open_window(width, height)
            self.wait_for_film()
            for key, part in (("F9", self.review.film), ("F10", self.review.table)):
                press(key)
                QTest.qWait(50)
                self.assertGreater(part.width(), 0.9 * (window.width() - 90), (key, width))
                press(key)
            self.assertTrue(self.review.slip.isVisible())

    def test_the_ribbon_is_never_that_of_the_session_before(self):
        self.assertTrue(self.review.shots.ribbon._ribbon.tokens)
        self.workspace.document.run(add_session(session()))
        self.window.open_session("test")
        self.assertEqual(self.review.shots.ribbon._ribbon.tokens, ())
        self.assertEqual(self.review.shots._story.text(), "")


if __name__ == "__main__":
    unittest.main()
