"""The plans of a rack side by side: a column each, ball under ball, with what became of it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QLabel, QWidget

from ripasso.review.language.vocabulary import ball_word
from ripasso.review.present.rack_sheet import PlannedLine, PlanSheet
from ripasso.ui.widgets.basics import empty, label, set_property

NOTHING = "Nothing was planned."


class PlansGrid(QWidget):
    """Shows plans; `text()` is all of it, a plan a line."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("plain")
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(14)
        self._grid.setVerticalSpacing(3)
        self._plans: Sequence[PlanSheet] = ()

    def show_plans(self, plans: Sequence[PlanSheet]) -> None:
        """Show these, the first at the left."""
        self._plans = plans
        empty(self._grid)
        if not plans:
            self._grid.addWidget(label(NOTHING, wrap=True), 0, 0)
        for column, plan in enumerate(plans):
            self._grid.addWidget(label(plan.title, "caption", wrap=True), 0, column)
            self._grid.setColumnStretch(column, 1)
            for row, line in enumerate(plan.lines, start=1):
                self._grid.addWidget(_cell(line), row, column, Qt.AlignmentFlag.AlignTop)

    def text(self) -> str:
        """Every plan with its balls."""
        return "\n".join(_in_a_line(plan) for plan in self._plans) or NOTHING


def _cell(line: PlannedLine) -> QLabel:
    made = label(planned_words(line), wrap=True)
    # A hard link and what went otherwise than planned are seen without reading.
    went_otherwise = line.fell_at is None or line.in_turn is False
    set_property(made, "tone", "unsure" if line.link == "hard" or went_otherwise else "plain")
    return made


def planned_words(line: PlannedLine) -> str:
    """A ball of a plan: pocket, link, why so, when it fell."""
    text = ball_word(line.ball) + (f" {line.pocket}" if line.pocket else "")
    told = ", ".join(one for one in (line.link, line.reason) if one)
    text += f" ({told})" if told else ""
    if line.fell_at is None:
        return f"{text}: not played"
    return f"{text}: shot {line.fell_at}" + ("" if line.in_turn else ", out of turn")


def _in_a_line(plan: PlanSheet) -> str:
    lines = ", ".join(planned_words(line) for line in plan.lines)
    return f"{plan.title}: {lines}" if lines else plan.title
