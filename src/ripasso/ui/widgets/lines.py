"""A table of lines that lead somewhere: read-only cells, Return or a double click opens the line."""

from __future__ import annotations

import re
from collections.abc import Callable, Container, Sequence

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, Qt
from PyQt6.QtWidgets import QHeaderView, QTableView

from ripasso.ui.theme import Theme
from ripasso.ui.widgets.plain_table import header_of, plain_table


class LinesModel(QAbstractTableModel):
    """Rows of texts under headings; columns that hold figures stand at the right."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._headings: Sequence[str] = ()
        self._lines: Sequence[Sequence[str]] = ()
        self.figures: set[int] = set()

    def show_lines(self, headings: Sequence[str], lines: Sequence[Sequence[str]]) -> None:
        """Show these lines."""
        self.beginResetModel()
        self._headings, self._lines = headings, lines
        columns = range(len(headings))
        self.figures = {c for c in columns if lines and all(_is_figure(line[c]) for line in lines)}
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self._lines)

    def columnCount(self, _parent: QModelIndex | None = None) -> int:
        return len(self._headings)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> object:
        if orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return self._headings[section]
        return self._side(section) if role == Qt.ItemDataRole.TextAlignmentRole else None

    def data(self, index: QModelIndex, role: int = 0) -> object:
        if role == Qt.ItemDataRole.DisplayRole:
            return self._lines[index.row()][index.column()]
        return self._side(index.column()) if role == Qt.ItemDataRole.TextAlignmentRole else None

    def _side(self, column: int) -> Qt.AlignmentFlag:
        side = Qt.AlignmentFlag.AlignRight if column in self.figures else Qt.AlignmentFlag.AlignLeft
        return side | Qt.AlignmentFlag.AlignVCenter


def _is_figure(text: str) -> bool:
    if not text or text.endswith(" s"):
        return True
    words = re.findall(r"[^\W\d]{3,}", text)
    return text[0].isdigit() and not text[-1].isalpha() and not words


def lines_view(
    theme: Theme, name: str, model: LinesModel, opened: Callable[[int], None], narrow: Container[int] = ()
) -> QTableView:
    """A view of lines; `opened` is called with the row of one that is opened.

    `narrow` are columns of words that take no more than they need.
    """
    view = plain_table(theme, name, model)

    def fit_columns() -> None:
        """Figures take what they need, words share the rest."""
        for column in range(model.columnCount()):
            mode = QHeaderView.ResizeMode
            is_narrow = column in model.figures or column in narrow
            width = mode.ResizeToContents if is_narrow else mode.Stretch
            header_of(view).setSectionResizeMode(column, width)

    model.modelReset.connect(fit_columns)
    view.activated.connect(lambda index: opened(index.row()))
    return view
