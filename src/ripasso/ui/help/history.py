"""The history of a window: every change with its time and session; one is chosen to go back, or on, to."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtWidgets import QComboBox, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ripasso.review.document.command import LIBRARY
from ripasso.review.document.document import Step
from ripasso.review.language.translation import tr
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.widgets.basics import label, save_or_cancel

ALL = "all sessions"
BEGIN = "before every change"
HELP = "What stands above the chosen line is undone, what was undone below it is done again. Nothing is lost."


class HistoryDialog(GuidedDialog):
    """`steps` is how many changes shall hold, None until one was chosen."""

    place = "lists every change of this window"

    def __init__(self, history: Sequence[Step], titles: Mapping[str, str], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("History")
        self._history, self._titles = history, titles
        self.steps: int | None = None
        self.session = QComboBox()
        self.session.setAccessibleName("Changes of which session")
        self.session.addItem(ALL, None)
        for key in dict.fromkeys(step.command.session for step in history):
            self.session.addItem(self._where(key), key)
        self.list = QListWidget()
        self.list.setAccessibleName("Changes, the latest first")
        layout = QVBoxLayout(self)
        layout.addWidget(self.session)
        layout.addWidget(self.list, 1)
        layout.addWidget(label(HELP, "caption", wrap=True))
        layout.addWidget(save_or_cancel(self, "Go there", self._take))
        self.session.currentIndexChanged.connect(self._fill)
        self.list.itemDoubleClicked.connect(lambda _item: self._take())
        self.resize(720, 460)
        self._rows: list[int] = []
        self._fill()
        self.list.setFocus()

    def _where(self, session: str) -> str:
        return "the library" if session == LIBRARY else self._titles.get(session, "a session that is gone")

    def _fill(self) -> None:
        """The latest change first, and below all of them where they began."""
        wanted = self.session.currentData()
        self.list.clear()
        self._rows.clear()
        holding = sum(step.holds for step in self._history)
        for count in range(len(self._history), 0, -1):
            step = self._history[count - 1]
            if self.session.currentIndex() > 0 and wanted != step.command.session:
                continue
            undone = "" if step.holds else ", undone"
            words = (
                f"{step.at:%H:%M:%S}  {tr(step.command.label)}  ({self._where(step.command.session)}{undone})"
            )
            self._add(words, count, is_now=count == holding)
        self._add(BEGIN, 0, is_now=holding == 0)

    def _add(self, words: str, count: int, *, is_now: bool) -> None:
        item = QListWidgetItem(f"→ {words}" if is_now else words)
        self.list.addItem(item)
        self._rows.append(count)
        if is_now:
            self.list.setCurrentItem(item)

    def _take(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._rows):
            self.steps = self._rows[row]
            self.accept()
