"""The look that every table of the program shares."""

from __future__ import annotations

from PyQt6.QtCore import QAbstractItemModel
from PyQt6.QtWidgets import QHeaderView, QTableView

from ripasso.ui.theme import Theme

#: So many rows say how wide a column is: a list of thousands is not read through for that.
MEASURED_ROWS = 40


def plain_table(
    theme: Theme, name: str, model: QAbstractItemModel, *, row_px: int = 26, whole_rows: bool = True
) -> QTableView:
    """A table without grid and row numbers, one row (or cell) chosen at a time; Tab leaves it."""
    view = QTableView()
    view.setModel(model)
    view.setAccessibleName(name)
    if whole_rows:
        view.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
    view.setSelectionMode(QTableView.SelectionMode.SingleSelection)
    view.setShowGrid(False)
    view.setTabKeyNavigation(False)
    rows = view.verticalHeader()
    assert rows is not None
    rows.hide()
    rows.setDefaultSectionSize(theme.px(row_px))
    header_of(view).setHighlightSections(False)
    header_of(view).setResizeContentsPrecision(MEASURED_ROWS)
    return view


def header_of(view: QTableView) -> QHeaderView:
    """The headings of a table."""
    header = view.horizontalHeader()
    assert header is not None
    return header
