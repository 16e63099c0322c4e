"""The search: a line, searches that were kept, the shots found; Return shows one, all play as one film."""

from __future__ import annotations

from typing import cast

from PyQt6.QtCore import QModelIndex, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.finding import FIELDS
from ripasso.review.language.vocabulary import count, rack_word
from ripasso.statistics.pages.figures import shot_words
from ripasso.ui.services.search import Found
from ripasso.ui.services.settings import Settings
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import as_it_stands, label, panel, set_property
from ripasso.ui.widgets.headed_model import HeadedModel
from ripasso.ui.widgets.plain_table import header_of, plain_table

PAUSE_MS = 300
KEPT = "Searches that were kept"


class FoundModel(HeadedModel):
    """The shots found, a row each."""

    HEADINGS = ("Session", "Rack", "Shot", "Player", "What was said")

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.found: Found | None = None

    def show_found(self, found: Found | None) -> None:
        """Show these."""
        self.beginResetModel()
        self.found = found
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        inside = parent is not None and parent.isValid()
        return 0 if inside or self.found is None else len(self.found)

    def data(self, index: QModelIndex, role: int = 0) -> object:
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole) or self.found is None:
            return None
        found, row = self.found, index.row()
        facts, at = found.facts, int(found.places[row])
        text = (
            found.library.titles.get(found.session(row), ""),
            str(facts.int_at("rack", at)),
            str(facts.int_at("number", at)),
            found.library.names.get(facts.text_at("person", at), ""),
            shot_words(facts, at),
        )[index.column()]
        return as_it_stands(text) if role == Qt.ItemDataRole.ToolTipRole else text


class FindPage(QWidget):
    """`asked` brings a line; `opened` the row to show; `played` asks for all of them as one film."""

    asked = pyqtSignal(str)
    opened = pyqtSignal(int)
    played = pyqtSignal()
    said_of = pyqtSignal(list, str)

    def __init__(self, theme: Theme, settings: Settings) -> None:
        super().__init__()
        self._settings = settings
        self.line = QLineEdit()
        self.line.setAccessibleName("What to find")
        self.line.setPlaceholderText("player:ada cut:30-60 (position:lost or made:no) -tag:final")
        self.line.setToolTip(f"Fields: {', '.join(FIELDS)}")
        self.kept = QComboBox()
        self.kept.setAccessibleName(KEPT)
        self.kept.activated.connect(self._take_kept)
        self.keep = QPushButton("Save this search")
        self.keep.clicked.connect(self._keep)
        self.play = QPushButton("Play all as one film")
        self.play.clicked.connect(lambda _checked=False: self.played.emit())
        self.told = label("", "caption", wrap=True)
        self.model = FoundModel(self)
        self.table = plain_table(theme, "Shots that were found", self.model)
        header = header_of(self.table)
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(4, QHeaderView.ResizeMode.Stretch)
        self.table.setSelectionMode(QTableView.SelectionMode.ExtendedSelection)
        self.words = QLineEdit()
        self.words.setAccessibleName("Say something of all chosen shots")
        self.words.setPlaceholderText(
            "Say of all chosen: by pace, #pattern (Ctrl A chooses all); Return keeps it"
        )
        self.words.returnPressed.connect(self._say)
        self.table.activated.connect(lambda index: self.opened.emit(index.row()))
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE_MS)
        self._pause.timeout.connect(self._ask)
        self.line.textChanged.connect(lambda _text: self._pause.start())
        self.line.returnPressed.connect(self._to_table)
        top = QHBoxLayout()
        top.addWidget(self.line, 1)
        for part in (self.keep, self.kept, self.play):
            top.addWidget(part)
        inner = QVBoxLayout()
        inner.setSpacing(8)
        inner.addLayout(top)
        inner.addWidget(self.told)
        inner.addWidget(self.table, 1)
        inner.addWidget(self.words)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(panel(inner))
        self._fill_kept()

    def begin(self) -> None:
        """Take the focus, and search again for what stands there."""
        self._ask()
        self.line.setFocus()
        self.line.selectAll()

    def show_found(self, found: Found) -> None:
        """Show what was found."""
        self.model.show_found(found)
        sessions = found.sessions
        set_property(self.told, "tone", "plain")
        words = f"{count(len(found), 'shot')} of {len(found.facts)}, in {count(sessions, 'session')}"
        self.told.setText(f"{words}. ↵ shows one; Ctrl G goes on to the next while you tag.")
        self.play.setEnabled(len(found) > 0)
        if len(found):
            self.table.selectRow(0)

    def refuse(self, sentence: str) -> None:
        """Say why a line cannot be read; what was found before stays."""
        set_property(self.told, "tone", "bad")
        self.told.setText(sentence)

    def _say(self) -> None:
        selection = self.table.selectionModel()
        rows = sorted(index.row() for index in selection.selectedRows()) if selection is not None else []
        if rows and self.words.text().strip():
            self.table.setFocus()  # so that the next key is no letter in the line
            self.said_of.emit(rows, self.words.text())

    def _ask(self) -> None:
        self._pause.stop()
        self.asked.emit(self.line.text())

    def _to_table(self) -> None:
        self._ask()
        self.table.setFocus()

    def _keep(self) -> None:
        line = self.line.text().strip()
        kept = cast(list[str], self._settings.get("searches"))
        if line and line not in kept:
            self._settings.set("searches", [*kept, line])
            self._fill_kept()

    def _fill_kept(self) -> None:
        self.kept.clear()
        self.kept.addItem(KEPT, "")
        for line in cast(list[str], self._settings.get("searches")):
            self.kept.addItem(line, line)
        self.kept.setVisible(self.kept.count() > 1)

    def _take_kept(self, place: int) -> None:
        line = self.kept.itemData(place)
        if line:
            self.line.setText(line)
            self._ask()


def found_words(found: Found, row: int, game: str | None) -> str:
    """Such as "3 of 12 found: rack 2, shot 5"."""
    at, facts = int(found.places[row]), found.facts
    where = f"{rack_word(game)} {facts.int_at('rack', at)}, shot {facts.int_at('number', at)}"
    return f"{row + 1} of {len(found)} found: {where}."
