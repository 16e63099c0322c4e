"""Every control of every workspace and dialog says what it is, and can be reached without a mouse."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QComboBox,
    QLabel,
    QLineEdit,
    QScrollBar,
    QTabBar,
    QWidget,
)

from ripasso.review.document.edits import add_session
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, in_dialog, press, wait_until

#: Parts that Qt makes inside of its own controls; the control they belong to is what is named.
INNER = ("qt_", "Qt")
#: Keys that open a dialog of the window or of Review, and what must be there for it.
DIALOGS = ("F1", "Ctrl+,", "Ctrl+Space", "Ctrl+Shift+H", "Ctrl+Shift+K", "Ctrl+T", "Alt+W", "Ctrl+Shift+B")


def is_named(widget: QWidget) -> bool:
    """A person who cannot see it is told what it is."""
    if widget.accessibleName():
        return True
    if isinstance(widget, QAbstractButton) and widget.text():
        return True
    if isinstance(widget, QLineEdit) and widget.placeholderText():
        return True
    window = widget.window()
    return any(one.buddy() is widget and one.text() for one in window.findChildren(QLabel))


def is_part(widget: QWidget) -> bool:
    """A part of a control that is named as a whole: the line of a box, the view of its list."""
    if isinstance(widget, QScrollBar | QTabBar) or widget.objectName().startswith(INNER):
        return True
    parent = widget.parentWidget()
    while parent is not None and not parent.isWindow():
        if isinstance(parent, QComboBox):
            return True
        if isinstance(parent, QAbstractScrollArea) and widget is parent.viewport():
            return True
        if type(parent).__name__.endswith("SpinBox") or type(parent).__name__ in ("QDateEdit", "QPdfView"):
            return True
        parent = parent.parentWidget()
    return False


def unnamed(root: QWidget) -> list[str]:
    """The visible controls that take the focus and have no name."""
    found = []
    for widget in [root, *root.findChildren(QWidget)]:
        takes = widget.focusPolicy() != Qt.FocusPolicy.NoFocus and widget.isVisible() and widget.isEnabled()
        if not takes or widget.isWindow() or is_part(widget) or is_named(widget):
            continue
        if type(widget).__name__ in ("QScrollArea", "QTabWidget") or widget.findChildren(QAbstractButton):
            continue  # it takes the focus only to be scrolled, or for the keys of what is in it
        found.append(f"{type(widget).__name__} in {type(widget.parentWidget()).__name__}")
    return found


class Access(WindowCase):
    def setUp(self):
        super().setUp()
        record = session(racks=[rack_of(played("a", "1"), played("a"), played("b", "2"))])
        self.workspace.document.run(add_session(record))
        self.window.open_session("test")

    def test_every_control_of_every_workspace_is_named(self):
        for number, name in enumerate(("sessions", "review", "plan", "practice", "statistics", "report"), 1):
            press(f"Ctrl+{number}")
            if name == "plan":
                wait_until(lambda: self.window.plan.desk is not None, "the simulator")
            if name == "report":
                press("Ctrl+N")
                wait_until(lambda: not self.window.report.is_making, "the page")
            with self.subTest(name):
                self.assertEqual(unnamed(self.window), [])

    def test_the_shot_in_hand_is_one_sentence_for_a_reader_of_the_screen(self):
        press("Ctrl+2", "Down", "Up")
        first = self.review.slip.accessibleDescription()
        self.assertTrue(first.startswith("Shot 1") and first.endswith("."), first)
        press("Down")
        self.assertIn("Shot 2", self.review.slip.accessibleDescription())
        press("H")
        self.assertIn("safety", self.review.slip.accessibleDescription())

    def test_every_control_of_the_dialogs_is_named(self):
        for key in DIALOGS:
            found = ["it did not open"]

            def look(dialog, found=found):
                found[:] = unnamed(dialog)

            press("Ctrl+2")
            self.review.setFocus()
            in_dialog(look)
            press(key)
            with self.subTest(key):
                self.assertEqual(found, [])

    def test_the_bar_and_the_controls_beside_it_are_reached_by_tab(self):
        press("Ctrl+1")
        reached = set()
        for _ in range(60):
            focus = self.window.focusWidget()
            if focus is not None:
                reached.add(focus.objectName() or type(focus).__name__)
            press("Tab")
        # Of the workspaces the one that is shown is reached by Tab, the others by arrows from it.
        self.assertLessEqual({"side_sessions", "side_settings", "side_keys", "QTableView"}, reached)


if __name__ == "__main__":
    import unittest

    unittest.main()
