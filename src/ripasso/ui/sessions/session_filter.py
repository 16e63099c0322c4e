"""Which sessions of the list are shown: by words, and by what is to be done with them."""

from __future__ import annotations

from collections.abc import Collection

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QWidget

from ripasso.review.language.vocabulary import word
from ripasso.store.session_list import SessionLine

EVERY, UNFINISHED, FAVOURITES = "every", "unfinished", "favourites"
STATES = ((EVERY, "every session"), (UNFINISHED, "not all judged"), (FAVOURITES, "favourites"))


class SessionFilter(QWidget):
    """A line of words and a choice; `changed` when others fit."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.line = QLineEdit()
        self.line.setPlaceholderText("find by title, player, game or date")
        self.line.setAccessibleName("Find a session")
        self.line.setClearButtonEnabled(True)
        self.line.textChanged.connect(lambda _text: self.changed.emit())
        self.state = QComboBox()
        self.state.setAccessibleName("Which sessions")
        for name, text in STATES:
            self.state.addItem(text, name)
        self.state.currentIndexChanged.connect(lambda _place: self.changed.emit())
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 4, 6, 4)
        row.setSpacing(8)
        row.addWidget(self.line, 1)
        row.addWidget(self.state)

    @property
    def is_set(self) -> bool:
        """Something is asked for."""
        return bool(self.line.text().strip()) or self.state.currentData() != EVERY

    def clear(self) -> None:
        """Every session fits."""
        self.line.clear()
        self.state.setCurrentIndex(0)

    def begin(self) -> None:
        """Words are typed."""
        self.line.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self.line.selectAll()

    def fits(self, line: SessionLine, favourites: Collection[str]) -> bool:
        """Whether a session has every word, and is what is asked for."""
        state = self.state.currentData()
        if state == UNFINISHED and not is_unfinished(line):
            return False
        if state == FAVOURITES and line.key not in favourites:
            return False
        game = word(line.game) if line.game else ""
        said = " ".join((line.title, *line.players, game, line.date or "")).casefold()
        return all(wanted in said for wanted in self.line.text().casefold().split())


def is_unfinished(line: SessionLine) -> bool:
    """Shots that nobody judged are left, or there is none yet."""
    return line.judged < line.shots or not line.shots
