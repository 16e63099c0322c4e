"""Every action by its words: type what you want, Return does it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import sentence
from ripasso.ui.actions import ActionSpec
from ripasso.ui.widgets.basics import label

MOVES = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)


@dataclass(frozen=True)
class Entry:
    """An action as it is found: its words and key, where it holds, whether it can be done now, and how."""

    spec: ActionSpec
    where: str
    is_possible: bool
    do: Callable[[], object]

    @property
    def words(self) -> str:
        """What it is called and what it does."""
        name, tip = sentence(tr(self.spec.text)), tr(self.spec.tip)
        return f"{name}: {tip}" if tip and tip.casefold() != name.casefold() else name


def matching_entries(entries: Sequence[Entry], line: str) -> list[Entry]:
    """Those that hold every word of a line; what begins with it first, then what can be done."""
    words = line.casefold().split()
    found = [
        entry
        for entry in entries
        if all(word in f"{entry.words} {entry.where} {entry.spec.hint}".casefold() for word in words)
    ]

    def order(entry: Entry) -> tuple[bool, bool]:
        begins = bool(words) and entry.words.casefold().startswith(words[0])
        return (not begins, not entry.is_possible)

    return sorted(found, key=order)


class ActionFinder(QDialog):
    """A line and the actions that it finds; `chosen` is the one that Return took."""

    def __init__(self, entries: Sequence[Entry], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Find an action")
        self._entries = entries
        self.chosen: Entry | None = None
        self.line = QLineEdit()
        self.line.setPlaceholderText("What do you want to do?")
        self.line.setAccessibleName("What do you want to do?")
        self.list = QListWidget()
        self.list.setAccessibleName("Actions")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout = QVBoxLayout(self)
        layout.addWidget(self.line)
        layout.addWidget(self.list, 1)
        layout.addWidget(label("↑ ↓ choose, Return does it. Grey: not possible now.", "caption"))
        self.line.textChanged.connect(self._find)
        self.line.returnPressed.connect(self._take)
        self.list.itemClicked.connect(lambda _item: self._take())
        self.line.installEventFilter(self)
        self.resize(620, 440)
        self._found: list[Entry] = []
        self._find("")

    def _find(self, line: str) -> None:
        self._found = matching_entries(self._entries, line)
        self.list.clear()
        for entry in self._found:
            key = f"   {entry.spec.hint}" if entry.spec.hint else ""
            item = QListWidgetItem(f"{entry.words}{key}   ({entry.where})")
            if not entry.is_possible:
                item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEnabled)
            self.list.addItem(item)
        self.list.setCurrentRow(0 if self._found else -1)

    def _take(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._found) and self._found[row].is_possible:
            self.chosen = self._found[row]
            self.accept()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        # The line keeps the focus; the keys that walk a list walk the one below it.
        is_key = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress
        if watched is self.line and is_key and event.key() in MOVES:  # type: ignore[union-attr]
            self._walk(event.key())  # type: ignore[union-attr]
            return True
        return super().eventFilter(watched, event)

    def _walk(self, key: int) -> None:
        by = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_PageUp: -10, Qt.Key.Key_PageDown: 10}
        row = self.list.currentRow() + by[Qt.Key(key)]
        self.list.setCurrentRow(max(0, min(row, len(self._found) - 1)))
