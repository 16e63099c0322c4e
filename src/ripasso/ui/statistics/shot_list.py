"""The shots behind a figure, as a table."""

from __future__ import annotations

from typing import cast

import numpy as np
from PyQt6.QtCore import QModelIndex, QObject, Qt

from ripasso.core.measures import ShotColumns
from ripasso.core.measures.columns import Ints
from ripasso.ui.statistics.figures import shot_words
from ripasso.ui.widgets.headed_model import HeadedModel


class ShotListModel(HeadedModel):
    """The shots behind a figure."""

    HEADINGS = ("Session", "Rack", "Shot", "What was said")

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._columns: ShotColumns | None = None
        self._indices: Ints = np.array([], dtype=np.int64)
        self._titles: dict[str, str] = {}

    def show_shots(self, columns: ShotColumns, indices: Ints, titles: dict[str, str]) -> None:
        """Show these shots; `titles` names the sessions."""
        self.beginResetModel()
        self._columns, self._indices, self._titles = columns, indices, titles
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self._indices)

    def place(self, row: int) -> tuple[str, str]:
        """The keys of the session and the shot of a row."""
        columns = cast(ShotColumns, self._columns)
        index = int(self._indices[row])
        return str(columns.session[index]), str(columns.key[index])

    def data(self, index: QModelIndex, role: int = 0) -> object:
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole) or self._columns is None:
            return None
        at = int(self._indices[index.row()])
        session = str(self._columns.session[at])
        return (
            self._titles.get(session, session),
            str(self._columns.rack[at]),
            str(self._columns.number[at]),
            shot_words(self._columns, at),
        )[index.column()]
