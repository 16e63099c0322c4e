"""How an exercise went over time: a line a set, the trend, and whether matches show it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ripasso.core.inference.intervals import rate
from ripasso.review.entry.attempts import outcomes_of
from ripasso.review.practice.exercises import has_passed
from ripasso.review.practice.words import progress_lines, rule_words
from ripasso.review.record.practice import AttemptSet, Exercise
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.lines import LinesModel, lines_view

HEADINGS = ("Set", "Day", "Made", "Share", "95 % interval", "Passed")
Matches = tuple[tuple[int, int], tuple[int, int]]


class ProgressView(QWidget):
    """Shows the sets of an exercise."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.lines = label("", wrap=True)
        self.lines.setAccessibleName("Progress in words")
        self.lines.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.model = LinesModel(self)
        self.sets = lines_view(theme, "Sets of the exercise", self.model, lambda _row: None)
        self.rule = label(rule_words(), "caption", wrap=True)
        column = QVBoxLayout()
        column.addWidget(self.lines)
        column.addWidget(self.sets, 1)
        column.addWidget(self.rule)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(panel(column))

    def show_progress(
        self, exercise: Exercise | None, sets: Sequence[AttemptSet], matches: Matches | None
    ) -> None:
        """Show an exercise's sets, and the same slice in matches before and since its first one."""
        if exercise is None:
            self.lines.setText("No exercise is in hand.")
            self.model.show_lines(HEADINGS, [])
            return
        self.lines.setText("\n".join((exercise.title, *progress_lines(exercise, sets, matches))))
        self.model.show_lines(HEADINGS, [_cells(exercise, n, one) for n, one in enumerate(sets, 1)])


def _cells(exercise: Exercise, number: int, made: AttemptSet) -> tuple[str, ...]:
    outcomes = [one for one in outcomes_of(made.attempts or ()) if one is not None]
    found = rate(sum(outcomes), len(outcomes))
    share = interval = ""
    if found.rate is not None and found.low is not None and found.high is not None:
        share = f"{100 * found.rate:.0f} %"
        interval = f"{100 * found.low:.0f} to {100 * found.high:.0f} %"
    passed = "yes" if has_passed(exercise, made) else "no"
    return str(number), made.date or "", f"{found.made} of {found.of}", share, interval, passed
