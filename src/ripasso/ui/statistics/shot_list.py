"""The shots (or attempts) behind a figure, as a table."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Protocol

from PyQt6.QtCore import QModelIndex, QObject, Qt

from ripasso.core.figures.facts import Facts, Ints
from ripasso.statistics.pages.figures import AttemptLine, shot_words
from ripasso.ui.widgets.basics import as_it_stands
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

    def __init__(self, facts: Facts, indices: Ints, titles: Mapping[str, str]) -> None:
        self._facts, self._indices, self._titles = facts, indices, titles

    def __len__(self) -> int:
        return len(self._indices)

    def cells(self, row: int) -> Cells:
        facts, at = self._facts, int(self._indices[row])
        session = self._session(at)
        title = self._titles.get(session, session)
        return title, str(facts.int_at("rack", at)), str(facts.int_at("number", at)), shot_words(facts, at)

    def place(self, row: int) -> tuple[str, str]:
        at = int(self._indices[row])
        return self._session(at), self._facts.key(at)

    def _session(self, place: int) -> str:
        return self._facts.text_at("session_key", place)


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

    def show_shots(self, facts: Facts, indices: Ints, titles: Mapping[str, str]) -> None:
        """Show these shots; `titles` names the sessions."""
        self._show(_Shots(facts, indices, titles))

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
        text = self._rows.cells(index.row())[index.column()]
        return as_it_stands(text) if role == Qt.ItemDataRole.ToolTipRole else text
