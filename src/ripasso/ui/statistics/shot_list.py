"""The shots (or attempts) behind a figure, as a table."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Protocol

import numpy as np
from PyQt6.QtCore import QModelIndex, QObject, Qt

from ripasso.core.figures.facts import Facts, Ints
from ripasso.statistics.pages.figures import AttemptLine, Figure, shot_words
from ripasso.ui.widgets.basics import as_it_stands
from ripasso.ui.widgets.headed_model import HeadedModel

Cells = tuple[str, ...]
#: The heading of what each shot brought to the figure.
VALUE = "Value"


class _Rows(Protocol):
    """What stands in the list, made row by row when it is looked at."""

    headings: Cells

    def __len__(self) -> int: ...

    def cells(self, row: int) -> Cells: ...

    def place(self, row: int) -> tuple[str, str]: ...

    def sorted(self, column: int, *, falling: bool) -> _Rows: ...

    def row_of(self, shot: str) -> int: ...


class _Shots:
    def __init__(self, facts: Facts, indices: Ints, titles: Mapping[str, str], figure: Figure | None) -> None:
        self._facts, self._indices, self._titles, self._figure = facts, indices, titles, figure
        values = figure.values if figure is not None else None
        self._values = values if values is not None and len(values) == len(indices) else None
        value = (VALUE,) if self._values is not None else ()
        self.headings: Cells = ("Session", "Rack", "Shot", *value, "What was said")

    def __len__(self) -> int:
        return len(self._indices)

    def cells(self, row: int) -> Cells:
        facts, at = self._facts, int(self._indices[row])
        value: Cells = ()
        if self._values is not None and self._figure is not None:
            value = (self._figure.each(float(self._values[row])),)
        numbers = str(facts.int_at("rack", at)), str(facts.int_at("number", at))
        return self._title(at), *numbers, *value, shot_words(facts, at)

    def place(self, row: int) -> tuple[str, str]:
        at = int(self._indices[row])
        return self._facts.text_at("session_key", at), self._facts.key(at)

    def sorted(self, column: int, *, falling: bool) -> _Shots:
        """The same by a column; shots that are alike in it stay as they stood."""
        order = np.argsort(self._keys(column), kind="stable")
        return self._in_order(order[::-1] if falling else order)

    def newest_first(self) -> _Shots:
        """The same, the sessions of the latest date first; within one as they were played."""
        _, dates = np.unique(self._facts.texts("date")[self._indices].astype(np.str_), return_inverse=True)
        return self._in_order(np.argsort(-dates.ravel(), kind="stable"))

    def _in_order(self, order: Ints) -> _Shots:
        figure = self._figure
        if figure is not None and self._values is not None:
            figure = replace(figure, values=self._values[order])
        return _Shots(self._facts, self._indices[order], self._titles, figure)

    def row_of(self, shot: str) -> int:
        """The row of a shot by its key, −1 where it is not among these."""
        found = np.flatnonzero(self._facts.array("key")[self._indices] == shot.encode())
        return int(found[0]) if len(found) else -1

    def _keys(self, column: int) -> np.ndarray:
        name = self.headings[column]
        if name == VALUE and self._values is not None:
            return self._values
        if name in ("Rack", "Shot"):
            return self._facts.ints("rack" if name == "Rack" else "number")[self._indices]
        places = self._indices.tolist()
        texts = [self._title(at) if name == "Session" else shot_words(self._facts, at) for at in places]
        return np.array(texts, dtype=np.str_)

    def _title(self, at: int) -> str:
        session = self._facts.text_at("session_key", at)
        return self._titles.get(session, session)


class _Attempts:
    headings: Cells = ("Shot played again", "Attempt", "Changed", "What came of it")

    def __init__(self, lines: Sequence[AttemptLine]) -> None:
        self._lines = lines

    def __len__(self) -> int:
        return len(self._lines)

    def cells(self, row: int) -> Cells:
        line = self._lines[row]
        return line.set_title, str(line.number), line.changed, line.words

    def place(self, row: int) -> tuple[str, str]:
        return self._lines[row].session, ""

    def sorted(self, column: int, *, falling: bool) -> _Attempts:
        """The same by a column."""

        def key(line: AttemptLine) -> tuple[str, int]:
            texts = (line.set_title, "", line.changed, line.words)
            return texts[column], line.number

        return _Attempts(sorted(self._lines, key=key, reverse=falling))

    def row_of(self, _shot: str) -> int:
        return -1


class ShotListModel(HeadedModel):
    """The shots or attempts behind a figure."""

    HEADINGS: Cells = ("Session", "Rack", "Shot", "What was said")

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._rows: _Rows | None = None

    def show_shots(
        self, facts: Facts, indices: Ints, titles: Mapping[str, str], figure: Figure | None = None
    ) -> None:
        """Show these shots, the newest first, with what they brought to a figure; `titles` names sessions."""
        self._show(_Shots(facts, indices, titles, figure).newest_first())

    def show_attempts(self, lines: Sequence[AttemptLine], indices: Ints) -> None:
        """Show these attempts."""
        self._show(_Attempts([lines[i] for i in indices.tolist()]))

    def show_nothing(self) -> None:
        """Show no shot."""
        self._show(None)

    def _show(self, rows: _Rows | None) -> None:
        self.beginResetModel()
        self._rows = rows
        self.HEADINGS = rows.headings if rows is not None else ShotListModel.HEADINGS
        self.endResetModel()

    def sort_by(self, column: int, *, falling: bool) -> None:
        """Put the rows in the order of a column."""
        if self._rows is not None:
            self._show(self._rows.sorted(column, falling=falling))

    def row_of(self, shot: str) -> int:
        """The row of a shot by its key, −1 where it is not there."""
        return self._rows.row_of(shot) if self._rows is not None else -1

    def places(self) -> list[tuple[str, str]]:
        """The keys of session and shot of every row, in their order."""
        return [self.place(row) for row in range(self.rowCount())]

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
