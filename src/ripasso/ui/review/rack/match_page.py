"""The match page of Review: the course of the match by rack, and the ledger of visits."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.vocabulary import word
from ripasso.review.present.match_sheet import Known, MatchSheet, match_sheet
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.lines import LinesModel, lines_view


class MatchPage(QWidget):
    """Shows a session's sheet; `opened` brings the shot that a line leads to."""

    opened = pyqtSignal(str)

    def __init__(self, theme: Theme, known: Known) -> None:
        super().__init__()
        self._known = known
        self._sheet: MatchSheet | None = None
        self._summary = label("", wrap=True)
        self.rack_model, self.visit_model = LinesModel(self), LinesModel(self)
        self.racks = lines_view(theme, "Course of the match", self.rack_model, self._open_rack)
        self.visits = lines_view(theme, "Visits", self.visit_model, self._open_visit)
        course, ledger = QVBoxLayout(), QVBoxLayout()
        course.addWidget(label("Course of the match", "title"))
        course.addWidget(self._summary)
        course.addWidget(self.racks, 1)
        ledger.addWidget(label("Visits", "title"))
        ledger.addWidget(label("Return on a line shows it in the film", "caption"))
        ledger.addWidget(self.visits, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        layout.addWidget(panel(course), 1)
        layout.addWidget(panel(ledger), 1)

    def refresh(self, snapshot: Snapshot) -> None:
        """Show the sheet of a session as it stands."""
        self._sheet = sheet = match_sheet(snapshot, self._known)
        if sheet is None:
            game = word(snapshot.head.game) if snapshot.head.game else "This game"
            self._summary.setText(f"{game} is not scored, so there is no course of the match to show.")
            return
        self._summary.setText(sheet.summary)
        self.rack_model.show_lines(sheet.rack_headings, [line.cells for line in sheet.racks])
        self.visit_model.show_lines(sheet.visit_headings, [line.cells for line in sheet.visits])

    def _open_rack(self, row: int) -> None:
        if self._sheet is not None and self._sheet.racks[row].shot is not None:
            self.opened.emit(self._sheet.racks[row].shot)

    def _open_visit(self, row: int) -> None:
        if self._sheet is not None and self._sheet.visits[row].shot is not None:
            self.opened.emit(self._sheet.visits[row].shot)
