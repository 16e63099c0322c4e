"""The options that were found, a line each with its figures; a click or its number takes one in hand."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from ripasso.core.planning.options import Option
from ripasso.review.language.translation import noop, tr
from ripasso.review.present.option_words import option_sentence
from ripasso.ui.theme import Theme

COLUMNS = ("", "Option", "made", "then", noop("in-off"), "miss leaves", "worth", "")


class OptionList(QTableWidget):
    """`chosen` brings the number of an option, the first is 1."""

    chosen = pyqtSignal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__(0, len(COLUMNS))
        self.setHorizontalHeaderLabels([tr(text) if text else text for text in COLUMNS])
        self.setAccessibleName("Options")
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setShowGrid(False)
        # What differs between two options stands at the end of their words.
        self.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.setWordWrap(False)
        rows, columns = self.verticalHeader(), self.horizontalHeader()
        assert rows is not None and columns is not None
        rows.hide()
        rows.setDefaultSectionSize(theme.px(26))
        columns.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        columns.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self.cellClicked.connect(lambda row, _column: self.chosen.emit(row + 1))

    def show_options(self, options: Sequence[Option], game: str) -> None:
        """Show these, the best first; those that are as good are marked."""
        self.setRowCount(len(options))
        for row, option in enumerate(options):
            sentence = option_sentence(option, game)
            told = sentence.split(":", 1)[0] + ":" + sentence.split(":", 1)[1].rsplit(":", 1)[0]
            cells = (
                str(row + 1),
                told,
                _percent(option.expected.pot.rate) if option.pocket else "–",
                _percent(option.expected.leave.value) if option.pocket else "–",
                _percent(option.expected.scratch.rate),
                _percent(option.expected.left.value),
                _percent(option.value.value),
                "as good" if option.tied else "",
            )
            for column, text in enumerate(cells):
                item = QTableWidgetItem(text)
                item.setToolTip(sentence)
                if column > 1:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.setItem(row, column, item)


def _percent(value: float | None) -> str:
    return f"{100 * value:.0f} %" if value is not None else "–"
