"""The real window for tests: built on a library of its own, driven by key and mouse events."""

from __future__ import annotations

import shutil
import sys
import tempfile
import time
import unittest
from collections.abc import Callable, Sequence
from functools import cache
from pathlib import Path
from traceback import format_exc, format_exception

from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QKeySequence
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget

from ripasso.demo.matches.scenario import FILM_ID
from ripasso.review.document.document import Document
from ripasso.review.language.translation import tr
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import Library, open_library
from ripasso.ui.app import application, build_window
from ripasso.ui.review.page.page import ReviewPage
from ripasso.ui.services.collector import IdleCollector
from ripasso.ui.widgets.table_view import TableView
from ripasso.ui.window import MainWindow
from ripasso.ui.workspace import build_workspace
from tests.watchdog import Watchdog, WatchedApplication, stolen_s

#: Long: a machine that does other work beside is slow, and no test says how fast it is.
PATIENCE_S = 300
#: The share of time that may be taken away while the window's thread is judged.
MOST_STOLEN = 0.03
#: A question of a window that is being closed waits this long for the case that made it.
UNANSWERED_MS = 5000
#: One application a process, kept here: it would go with its last reference.
APP = QApplication.instance() or WatchedApplication(["tests"])
application()
WATCHDOG = WatchedApplication.watchdog = Watchdog()


#: Errors inside Qt's callbacks, which would otherwise end the process; the case that made one fails.
uncaught: list[str] = []


def note_uncaught() -> None:
    """Hear of errors that nobody caught, whoever heard of them before: a library or a test of the hook."""
    sys.excepthook = lambda kind, error, trace: uncaught.append("".join(format_exception(kind, error, trace)))


note_uncaught()


def wait_until(condition: Callable[[], object], what: str = "") -> None:
    """Let the window work until something holds."""
    deadline = time.monotonic() + PATIENCE_S
    while not condition():
        if time.monotonic() > deadline or uncaught:
            raise AssertionError(f"waited in vain{': ' + what if what else ''}")
        QTest.qWait(5)


def _target() -> QWidget | None:
    """What takes the next key. Offscreen no window manager hands the focus back when a dialog closes."""
    if QApplication.activeWindow() is None:
        window = QApplication.activeModalWidget()
        window = window or next((w for w in QApplication.topLevelWidgets() if w.isVisible()), None)
        if window is not None:
            window.activateWindow()
    return QApplication.focusWidget() or QApplication.activeWindow()


def press(*keys: str) -> None:
    """Press keys, named as in the lists of actions, where the focus is."""
    for key in keys:
        combination = QKeySequence(key)[0]
        wait_until(_target, f"a place for {key}")
        target = _target()
        QTest.keyClick(target, combination.key(), combination.keyboardModifiers())
        QApplication.processEvents()


def write(text: str) -> None:
    """Type text where the focus is."""
    target = QApplication.focusWidget()
    assert target is not None, "nothing takes the text"
    QTest.keyClicks(target, text)


def click(widget: QWidget, place: QPoint | None = None) -> None:
    """Click a widget, in its middle or at a place."""
    QTest.mouseClick(
        widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, place or widget.rect().center()
    )
    QApplication.processEvents()


def in_dialog(act: Callable[[QWidget], None]) -> None:
    """Do something in the next dialog that opens: a modal one holds the caller until it is closed."""

    def look() -> None:
        dialog = QApplication.activeModalWidget()
        if dialog is None or QApplication.activeWindow() is not dialog:
            QTimer.singleShot(10, look)
            return
        try:
            with WATCHDOG.paused():
                act(dialog)
        except Exception:  # noqa: BLE001  (the dialog must go, or its caller waits for ever)
            uncaught.append(format_exc())
        if dialog.isVisible():
            dialog.close()

    QTimer.singleShot(0, look)


def _cancel_question() -> None:
    dialog = QApplication.activeModalWidget()
    if dialog is not None:
        dialog.close()


def destroy(window: QWidget) -> None:
    """Close a window and delete it now: left to the collector of garbage, it would go in a slot.

    What a window asks when it is closed by a failing case is cancelled: nobody else would answer.
    """
    answer = QTimer()
    answer.timeout.connect(_cancel_question)
    answer.start(UNANSWERED_MS)
    window.close()
    answer.stop()
    QApplication.processEvents()
    window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    IdleCollector.give_back()


@cache
def demo_library() -> Path:
    """The demo's library, filled and measured as the program does it at its first start: once a process."""
    folder = Path(tempfile.mkdtemp())  # goes with the run's folder
    workspace = build_workspace(folder / "demo.ripasso", folder / "settings.json")
    window = build_window(workspace, demo=True)
    window.open_session(FILM_ID)
    wait_until(lambda: not workspace.measuring.busy and not workspace.library.unmeasured(), "the measures")
    destroy(window)
    tr.use("")  # a window speaks for the whole process
    return folder / "demo.ripasso"


def open_copy(case: unittest.TestCase, library: Path) -> tuple[Library, Document]:
    """A library of one's own, opened without a window; closed and gone with the case."""
    folder = Path(tempfile.mkdtemp())
    case.addCleanup(shutil.rmtree, folder, ignore_errors=True)
    opened = open_library(Path(shutil.copy(library, folder)))
    case.addCleanup(opened.close)
    return opened, Document(opened, derived_rows)


class WindowCase(unittest.TestCase):
    """A test case with a folder, and windows that are closed at its end."""

    #: The demo's sessions are in the library, the rack on film under review.
    demo = False

    def setUp(self) -> None:
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.library = self.folder / "test.ripasso"
        self.settings = self.folder / "settings.json"
        self.said: list[str] = []
        self.window: MainWindow | None = None
        uncaught.clear()
        note_uncaught()
        if self.demo:
            shutil.copy(demo_library(), self.library)
        WATCHDOG.found.clear()
        self.addCleanup(lambda: self.assertEqual("\n".join(uncaught), ""))
        self.addCleanup(lambda: self.held.extend(WATCHDOG.found))
        self.addCleanup(self.close_window)
        # A window speaks for the whole process; other tests read the texts as they are written.
        self.addCleanup(tr.use, "")
        self.open_window()

    def run(self, result: unittest.TestResult | None = None) -> unittest.TestResult | None:
        """As usual; when something held the window's thread, once more: what holds it again is a failure.

        Nothing is judged while other machines on the same hardware take more than a little of the time.
        """
        self.held: list[str] = []
        began, stolen = time.monotonic(), stolen_s()
        made = super().run(result)
        first, self.held = {line.partition(" in ")[2] for line in self.held}, []
        if first and result is not None:
            super().run(unittest.TestResult())
            again = [line for line in self.held if line.partition(" in ")[2] in first]
            is_ours = stolen_s() - stolen < MOST_STOLEN * (time.monotonic() - began)
            if again and is_ours:
                error = AssertionError(f"the window's thread was held, twice: {'; '.join(again)}")
                result.addFailure(self, (AssertionError, error, None))
        return made

    def open_window(self, width: int = 1280, height: int = 800, scale: float | None = None) -> MainWindow:
        """Open the window, or open it again."""
        self.close_window()
        workspace = build_workspace(self.library, self.settings, scale)
        workspace.messages.said.connect(
            lambda sentence, _tone: self.said.append(sentence) if sentence else None
        )
        self.workspace = workspace
        self.window = build_window(workspace, demo=self.demo)
        if self.demo:
            self.window.open_session(FILM_ID)
        self.window.resize(width, height)
        self.window.show()
        self.window.activateWindow()
        QTest.qWaitForWindowActive(self.window)
        return self.window

    def close_window(self) -> None:
        """Close the window as its user does."""
        if self.window is not None:
            destroy(self.window)
            self.window = None

    @property
    def review(self):
        """The Review workspace."""
        return self.window.review

    def wait_for_film(self) -> None:
        """Wait until the film shows the frame it was asked for."""
        wait_until(lambda: self.review.player.index is not None, "the film to open")
        wait_until(lambda: not self.review.player.late, "the frame")

    def go_to(self, time_s: float) -> None:
        """Bring the film to a time with the keys: seconds first, then frames."""
        player = self.review.player
        self.wait_for_film()
        target = player.index.number_at(time_s)
        rate = round(player.index.frame_rate)
        while abs(target - player.picture.number) >= rate:
            press("Shift+Right" if target > player.picture.number else "Shift+Left")
            self.wait_for_film()
        while target != player.picture.number:
            press("Right" if target > player.picture.number else "Left")
            self.wait_for_film()


def drag(widget: QWidget, start: QPoint, end: QPoint, *, steps: int = 5) -> None:
    """Press at a place, move to another one, release there."""
    button, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    QTest.mousePress(widget, button, none, start)
    for i in range(1, steps + 1):
        QTest.mouseMove(widget, start + (end - start) * i / steps)
    QTest.mouseRelease(widget, button, none, end)
    QApplication.processEvents()


def on_table(view: TableView, place: tuple[float, float]) -> QPoint:
    """Where a place on the table is in its diagram."""
    fit = view.fit()
    assert fit is not None
    return fit.pixel(place).toPoint()


def on_film(review: ReviewPage, place: Sequence[float]) -> QPoint:
    """Where a ball that lies at a place on the table is seen on the film in Review."""
    camera = review.film_pointer.camera
    assert camera is not None
    ((u, v),) = camera.project([(*place, review.pictures.spec.ball_radius)])
    return review.film.widget_place(QPointF(float(u), float(v))).toPoint()
