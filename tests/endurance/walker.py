"""Random steps of a user on whatever window is there; it needs nothing of the tests' own windows."""

from __future__ import annotations

import random

from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QKeySequence, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QMenu, QWidget

from ripasso.ui.review.state.keys import ACTIONS as REVIEW
from ripasso.ui.sessions.page import ACTIONS as SESSIONS
from ripasso.ui.statistics.actions import ACTIONS as STATISTICS
from ripasso.ui.window import ACTIONS as WINDOW
from ripasso.ui.window import MainWindow

TEXT = "next 6 thick 4, root 2"
#: What ends the run, or asks the desktop for a file that nobody chooses.
LEFT_OUT = ("Ctrl+I", "Ctrl+E")


def keys() -> list[str]:
    """Every key of every action."""
    found = [key for spec in (*REVIEW, *SESSIONS, *STATISTICS, *WINDOW) for key in spec.keys]
    return [key for key in dict.fromkeys(found) if key not in LEFT_OUT]


class Walker:
    """Takes random steps on a window."""

    def __init__(self, window: MainWindow, seed: int) -> None:
        self._window, self._chance, self._keys = window, random.Random(seed), keys()
        self.is_stepping = False
        # A modal dialog holds whoever opened it: it gets a few keys, and goes.
        self._closer = QTimer()
        self._closer.timeout.connect(self._close_dialogs)
        self._closer.start(15)

    def stop(self) -> None:
        """No dialog is closed any more."""
        self._closer.stop()

    def _close_dialogs(self) -> None:
        menu, dialog = QApplication.activePopupWidget(), QApplication.activeModalWidget()
        if isinstance(menu, QMenu):
            menu.close()
        elif isinstance(dialog, QDialog):
            if self._chance.random() < 0.5:
                QTest.keyClick(dialog, self._chance.choice("a1 "))
            # Only Escape: whatever asks whether something shall be deleted is answered with no.
            QTest.keyClick(dialog, Qt.Key.Key_Escape)
            if dialog.isVisible():
                dialog.reject()

    def press_every_key(self) -> None:
        """Each key once on each page: what is built when it is first wanted is built then."""
        for page in ("Ctrl+1", "Ctrl+2", "Ctrl+5"):
            for key in self._keys:
                for one in (page, key, "Esc"):
                    self._press_key(one)
                    QApplication.processEvents()

    def step(self) -> None:
        """One step of any kind."""
        self.is_stepping = True
        try:
            self._step()
        finally:
            self.is_stepping = False

    def _step(self) -> None:
        kind = self._chance.random()
        if kind < 0.7:
            self._press()
        elif kind < 0.86:
            self._click()
        elif kind < 0.92:
            self._turn_wheel()
        elif kind < 0.95:
            self._window.resize(self._chance.randint(960, 1700), self._chance.randint(620, 1000))
        elif kind < 0.98:
            self._write()
        else:
            QTest.qWait(20)
        QApplication.processEvents()
        # As the loop of a running program does between two events.
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    def _press(self) -> None:
        self._press_key(self._chance.choice(self._keys))

    def _press_key(self, key: str) -> None:
        combination = QKeySequence(key)[0]
        target = QApplication.focusWidget() or self._window
        QTest.keyClick(target, combination.key(), combination.keyboardModifiers())

    def _write(self) -> None:
        target = QApplication.focusWidget()
        if target is not None:
            QTest.keyClicks(target, self._chance.choice((TEXT, "7", "made:yes", "x")))
            QTest.keyClick(target, self._chance.choice((Qt.Key.Key_Return, Qt.Key.Key_Escape)))

    def _somewhere(self) -> tuple[QWidget, QPoint] | None:
        place = QPoint(
            self._chance.randrange(self._window.width()), self._chance.randrange(self._window.height())
        )
        widget = self._window.childAt(place)
        return (widget, widget.mapFrom(self._window, place)) if widget is not None else None

    def _click(self) -> None:
        found = self._somewhere()
        if found is None:
            return
        button = Qt.MouseButton.LeftButton
        if self._chance.random() < 0.2:
            QTest.mouseDClick(found[0], button, Qt.KeyboardModifier.NoModifier, found[1])
        else:
            QTest.mouseClick(found[0], button, Qt.KeyboardModifier.NoModifier, found[1])

    def _turn_wheel(self) -> None:
        found = self._somewhere()
        if found is None:
            return
        widget, place = found
        turned = QPoint(0, self._chance.choice((-120, 120)))
        event = QWheelEvent(
            QPointF(place),
            QPointF(widget.mapToGlobal(place)),
            QPoint(),
            turned,
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(widget, event)
