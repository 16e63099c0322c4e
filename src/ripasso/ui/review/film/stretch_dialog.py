"""Says what a stretch of the film shows: a digit says it and closes; below stands what was said before."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QListWidget, QPushButton, QVBoxLayout, QWidget

from ripasso.review.language.vocabulary import clock, rack_word, sentence, word
from ripasso.review.recordings.film_parts import SAYINGS, StretchLine, accept_stretch, line_words, stretches
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label
from ripasso.ui.widgets.own_keys import STEPS


class _Lines(QListWidget):
    """A list that only walks: every other key is the dialog's."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in STEPS:
            super().keyPressEvent(event)
        elif event is not None:
            event.ignore()


class StretchDialog(GuidedDialog):
    """`start_s` is None when nothing was begun: then only the list is there, to look at and to prune."""

    place = "take a stretch of film"

    def __init__(
        self,
        theme: Theme,
        controller: ReviewController,
        recording: str,
        start_s: float | None,
        end_s: float,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("A stretch of film")
        self._controller, self._recording = controller, recording
        self._start_s, self._end_s = start_s, end_s
        self._lines: tuple[StretchLine, ...] = ()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        if start_s is not None:
            first, last = sorted((start_s, end_s))
            layout.addWidget(label(f"From {clock(first)} to {clock(last)} the film shows", "title"))
            layout.addLayout(self._choices(theme))
        self.list = _Lines()
        self.list.setAccessibleName("What was said of this film")
        self.list.setMinimumWidth(theme.px(420))
        self.list.setMaximumHeight(theme.px(140))
        self._list_title = label("", "caption")
        layout.addWidget(self._list_title)
        layout.addWidget(self.list)
        self._fill()

    def _choices(self, theme: Theme) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(theme.px(12))
        grid.setVerticalSpacing(theme.px(4))
        shot, rack, snapshot = self._controller.shot, self._controller.rack, self._controller.snapshot
        what = rack_word(snapshot.head.game if snapshot else None)
        for row, saying in enumerate(SAYINGS):
            needs_shot = bool(saying.shows)
            button = QPushButton(str(row + 1))
            button.setAutoDefault(False)
            button.setFixedWidth(theme.px(34))
            button.setEnabled(shot is not None or not needs_shot)
            button.clicked.connect(lambda _checked=False, place=row: self._say(place))
            text = sentence(word(saying.name))
            if needs_shot and shot is not None and rack is not None:
                which = f"{what} {rack.record.number}"
                text = text.replace("this shot", f"shot {shot.record.number} of {which}")
                text = text.replace("This shot", f"Shot {shot.record.number} of {which}")
                text = text.replace("the whole rack", f"{what} {rack.record.number}")
                text = text.replace("The whole rack", f"{what.capitalize()} {rack.record.number}")
            button.setAccessibleName(f"{text}, key {row + 1}")
            grid.addWidget(button, row, 0)
            grid.addWidget(label(text), row, 1)
        grid.setColumnStretch(1, 1)
        return grid

    def _fill(self) -> None:
        snapshot = self._controller.snapshot
        self._lines = stretches(snapshot, self._recording) if snapshot else ()
        self.list.clear()
        self.list.addItems([line_words(line) for line in self._lines])
        told = "Said of this film so far; Del forgets a line" if self._lines else "Nothing is said of it yet"
        if any(line.proposed for line in self._lines):
            told = "Said or proposed of this film; ↵ accepts a line, Del forgets it"
        self._list_title.setText(told)
        self.list.setVisible(bool(self._lines))
        self.list.setCurrentRow(0 if self._lines else -1)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        place = "123456789".find(event.text()) if event.text() else -1
        if self._start_s is not None and 0 <= place < len(SAYINGS):
            self._say(place)
        elif event.key() == Qt.Key.Key_Delete and self._lines:
            self._controller.forget_stretch(self._lines[self.list.currentRow()])
            self._fill()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._accept():
            return
        else:
            super().keyPressEvent(event)

    def _accept(self) -> bool:
        """Accept the proposed line that is chosen; the next one is chosen."""
        row = self.list.currentRow()
        if not self._lines or not self._lines[row].proposed:
            return False
        line = self._lines[row]
        self._controller.perform_session(lambda now: accept_stretch(now, line))
        self._fill()
        self.list.setCurrentRow(min(row + 1, len(self._lines) - 1))
        return True

    def _say(self, place: int) -> None:
        if self._start_s is not None:
            self._controller.say_stretch((self._recording, self._start_s, self._end_s), SAYINGS[place])
            self.accept()
