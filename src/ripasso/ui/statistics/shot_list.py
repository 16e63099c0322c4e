"""The shots (or attempts) behind a figure, as a table."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Protocol

from PyQt6.QtCore import QModelIndex, QObject, Qt

from ripasso.core.figures.columns import Ints, ShotColumns
from ripasso.statistics.pages.figures import AttemptLine, shot_words
from ripasso.ui.widgets.headed_model import HeadedModel

Cells = tuple[str, str, str, str]


class _Rows(Protocol):
    """What stands in the list, made row by row when it is looked at."""

    headings: Cells

    def __len__(self) -> int: ...

    def cells(self, row: int) -> Cells: ...

    def place(self, row: int) -> tuple[str, str]: ...


class _Shots:
    headings = ("Session", "Rack", "Shot", "What was said")

    def __init__(self, columns: ShotColumns, indices: Ints, titles: Mapping[str, str]) -> None:
        self._columns, self._indices, self._titles = columns, indices, titles

    def __len__(self) -> int:
        return len(self._indices)

    def cells(self, row: int) -> Cells:
        columns, at = self._columns, int(self._indices[row])
        session = str(columns.session[at])
        title = self._titles.get(session, session)
        return title, str(columns.rack[at]), str(columns.number[at]), shot_words(columns, at)

    def place(self, row: int) -> tuple[str, str]:
        at = int(self._indices[row])
        return str(self._columns.session[at]), str(self._columns.key[at])


class _Attempts:
    headings = ("Shot played again", "Attempt", "Changed", "What came of it")

    def __init__(self, lines: Sequence[AttemptLine], indices: Ints) -> None:
        self._lines = [lines[i] for i in indices.tolist()]

    def __len__(self) -> int:
        return len(self._lines)

    def cells(self, row: int) -> Cells:
        line = self._lines[row]
        return line.set_title, str(line.number), line.changed, line.words

    def place(self, row: int) -> tuple[str, str]:
        return self._lines[row].session, ""


class ShotListModel(HeadedModel):
    """The shots or attempts behind a figure."""

    HEADINGS = _Shots.headings

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._rows: _Rows | None = None

    def show_shots(self, columns: ShotColumns, indices: Ints, titles: Mapping[str, str]) -> None:
        """Show these shots; `titles` names the sessions."""
        self._show(_Shots(columns, indices, titles))

    def show_attempts(self, lines: Sequence[AttemptLine], indices: Ints) -> None:
        """Show these attempts."""
        self._show(_Attempts(lines, indices))

    def show_nothing(self) -> None:
        """Show no shot."""
        self._show(None)

    def _show(self, rows: _Rows | None) -> None:
        self.beginResetModel()
        self._rows = rows
        self.HEADINGS = rows.headings if rows is not None else _Shots.headings
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if self._rows is None or (parent is not None and parent.isValid()) else len(self._rows)

    def place(self, row: int) -> tuple[str, str]:
        """The keys of the session and the shot of a row ("" for an attempt)."""
        assert self._rows is not None
        return self._rows.place(row)

    def data(self, index: QModelIndex, role: int = 0) -> object:
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole) or self._rows is None:
            return None
        return self._rows.cells(index.row())[index.column()]
