"""A tour in eight steps through the workspaces: a panel over the window; it can be left at any time."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ripasso.review.language.translation import noop, tr
from ripasso.ui.widgets.basics import label

KEYS = (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape)
WIDTH_PX, ABOVE_FOOT_PX = 520, 44


@dataclass(frozen=True)
class Stop:
    """A step: the workspace it is in, its title, what is said there."""

    page: str
    title: str
    words: str


STOPS: Sequence[Stop] = (
    Stop(
        "sessions",
        noop("Sessions"),
        noop(
            "Everything you review is a session: a match, a practice, a ghost race, with film or without. "
            "Ctrl N begins one; a film dropped onto the window does too."
        ),
    ),
    Stop(
        "review",
        noop("Review: the film and the rack"),
        noop(
            "Above stands the rack, a token a shot: filled potted, hollow missed, a bar a safety. Space lets "
            "the film run, F marks a strike, the arrows go from shot to shot."
        ),
    ),
    Stop(
        "review",
        noop("Say what happened"),
        noop(
            "A digit is the ball, a letter of the left hand its pocket; G potted, V thin, C thick, J good "
            "position. Every key stands below the film. Enter accepts what the program proposes."
        ),
    ),
    Stop(
        "review",
        noop("The table measures"),
        noop(
            "A click on a ball in the film places it. Cut, distance, chance and the error of position "
            "follow, and the dashed arc above leads from a failure to the shot that caused it."
        ),
    ),
    Stop(
        "plan",
        noop("Plan: what else there was"),
        noop(
            "The same physics each time: arrows turn the aim, O finds what could be played, C works the "
            "whole rack out backwards. Return sends a stroke back to its shot."
        ),
    ),
    Stop(
        "statistics",
        noop("Statistics: the habits"),
        noop(
            "Questions answered in a sentence, with their interval. Return on a figure lists its shots, "
            "Return on a shot shows it in Review with its film."
        ),
    ),
    Stop(
        "practice",
        noop("Practice: what to work on"),
        noop(
            "Weak spots come back as exercises (W). G and M count attempts; a plain rule says when each "
            "exercise is due again, and progress says whether it helped in matches."
        ),
    ),
    Stop(
        "report",
        noop("Report: hand it over"),
        noop(
            "Pages, tables and teaching films for the player. F1 is the guide and all keys, Ctrl space finds "
            "every action by its words. That is all: it is yours."
        ),
    ),
)


class Tour(QFrame):
    """The panel; `show_page` shows a workspace, `left` is told when it goes."""

    def __init__(self, window: QWidget, show_page: Callable[[str], None], left: Callable[[], None]) -> None:
        super().__init__(window)
        self.setObjectName("tour")
        self._show_page, self._left = show_page, left
        self._step = 0
        self.title, self.words = label("", "title"), label("", wrap=True)
        self.back, self.next, self.leave = (
            QPushButton("Back"),
            QPushButton("Next"),
            QPushButton("Leave (Esc)"),
        )
        self.next.setDefault(True)
        self.back.clicked.connect(lambda: self.go_to(self._step - 1))
        self.next.clicked.connect(lambda: self.go_to(self._step + 1))
        self.leave.clicked.connect(self.end)
        buttons = QHBoxLayout()
        buttons.addWidget(self.leave)
        buttons.addStretch(1)
        buttons.addWidget(self.back)
        buttons.addWidget(self.next)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 12)
        layout.addWidget(self.title)
        layout.addWidget(self.words)
        layout.addLayout(buttons)
        self.setFixedWidth(WIDTH_PX)
        window.installEventFilter(self)
        self.go_to(0)

    def go_to(self, step: int) -> None:
        """Show a step; behind the last one the tour is over."""
        if step >= len(STOPS):
            self.end()
            return
        self._step = max(0, step)
        stop = STOPS[self._step]
        self._show_page(stop.page)
        self.title.setText(f"{self._step + 1} of {len(STOPS)}  {tr(stop.title)}")
        self.words.setText(tr(stop.words))
        self.back.setEnabled(self._step > 0)
        self.next.setText("Done" if self._step == len(STOPS) - 1 else "Next")
        self.adjustSize()
        self._place()
        self.show()
        self.raise_()
        self.next.setFocus()

    def end(self) -> None:
        """Leave."""
        window = self.parentWidget()
        if window is not None:
            window.removeEventFilter(self)
        self.hide()
        self.deleteLater()
        self._left()

    def event(self, event: QEvent | None) -> bool:
        # Workspaces have their own use for these keys; while the panel has the focus they are its.
        is_override = event is not None and event.type() == QEvent.Type.ShortcutOverride
        if is_override and isinstance(event, QKeyEvent) and event.key() in KEYS:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.end()
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.go_to(self._step + 1)
        else:
            super().keyPressEvent(event)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Resize and watched is self.parentWidget():
            self._place()
        return super().eventFilter(watched, event)

    def _place(self) -> None:
        """In the middle, above the line of messages."""
        window = self.parentWidget()
        if window is not None:
            left = (window.width() - self.width()) // 2
            self.move(max(0, left), max(0, window.height() - self.height() - ABOVE_FOOT_PX))
