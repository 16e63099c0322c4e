"""Is the table level, how fast is its cloth: rolls by two clicks; lags, cushions and pockets typed."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.practice.table_checks import Roll, drift_of, level_check
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.drawing import TableScene
from ripasso.drawing.primitives import Circle, Line, Primitive, Text
from ripasso.review.language.translation import noop, tr
from ripasso.review.practice.table_records import cloth_lines, cushion_lines, pocket_lines, rolls_of
from ripasso.review.practice.words import level_lines
from ripasso.review.record.parts import TableCheck
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.pointer_handler import ClickHandler
from ripasso.ui.widgets.table_view import TableView

SPINS = ("none", "left", "right")
HELP = (
    "Roll a ball slowly along or across the table. Click where it began, then where it stopped; it was aimed "
    "straight. Rolls without side are the table, what side adds is the spin."
)
TYPED = noop(
    "Typed: a lag in metres and seconds, the angles of a ball in and out of a cushion, how many balls pass "
    "side by side through a corner or a middle pocket."
)
#: A drift is drawn this many times as long as it is.
ENLARGED = 30


class TableChecksView(QWidget):
    """Shows a session's checks; signals say what was measured."""

    rolled = pyqtSignal(tuple, tuple, str)
    typed = pyqtSignal(str)
    taken_back = pyqtSignal()
    used = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._start: Place | None = None
        self._spec: TableSpec | None = None
        self._checks: Sequence[TableCheck] = ()
        self.table = TableView(theme)
        self.table.hand = ClickHandler(self._click)
        self.lines = label("", wrap=True)
        self.lines.setAccessibleName("What the rolls say")
        self.hint = label("", "title", wrap=True)
        self.spins = QButtonGroup(self)
        spins = QHBoxLayout()
        for spin in SPINS:
            button = QRadioButton("no side" if spin == "none" else f"{spin} side")
            button.setChecked(spin == "none")
            button.setProperty("spin", spin)
            self.spins.addButton(button)
            spins.addWidget(button)
        self.lag = QLineEdit()
        self.lag.setPlaceholderText("lag 2.3 6.8, cushion 45 41, corner 2.1")
        self.lag.setAccessibleName("A lag, a cushion or a pocket, typed")
        self.lag.returnPressed.connect(self._say_typed)
        self.use = QPushButton("Use for this table")
        self.use.clicked.connect(self.used)
        back = QPushButton("Take the last one back")
        back.clicked.connect(self.taken_back)
        right = QVBoxLayout()
        right.addWidget(label(HELP, "caption", wrap=True))
        right.addLayout(spins)
        right.addWidget(self.hint)
        right.addWidget(self.lines)
        right.addStretch(1)
        right.addWidget(label(tr(TYPED), "caption", wrap=True))
        right.addWidget(self.lag)
        right.addWidget(back)
        right.addWidget(self.use)
        left = QVBoxLayout()
        left.addWidget(self.table)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(panel(left), 3)
        row.addWidget(panel(right), 2)

    def _click(self, place: Place) -> None:
        if self._start is None:
            self._start = place
        else:
            start, self._start = self._start, None
            button = self.spins.checkedButton()
            self.rolled.emit(start, place, button.property("spin") if button is not None else "none")
        if self._spec is not None:
            self.show_checks(self._spec, self._checks)

    def _say_typed(self) -> None:
        self.typed.emit(self.lag.text())
        self.lag.clear()

    def show_checks(self, spec: TableSpec, checks: Sequence[TableCheck]) -> None:
        """Show what was measured of a table."""
        self._spec, self._checks = spec, checks
        rolls = rolls_of(checks)
        over: list[Primitive] = [part for roll in rolls for part in drawn_roll(roll, spec)]
        if self._start is not None:
            over.append(Circle(self._start, spec.ball_radius, None, "mark.played", "bold"))
        self.table.show_scene(TableScene(spec, {}, over=tuple(over)))
        self.hint.setText("Click where it stopped." if self._start else "Click where a roll began.")
        more = (*cloth_lines(checks), *cushion_lines(checks), *pocket_lines(checks, spec))
        self.lines.setText("\n".join((*level_lines(level_check(rolls)), *more)))


def drawn_roll(roll: Roll, spec: TableSpec) -> list[Primitive]:
    """A roll as a hair line, and its drift at its end as a bold one, many times as long as it is."""
    drawn: list[Primitive] = [Line((roll.start, roll.stopped_at), "mark.line", "hair")]
    found = drift_of(roll)
    if found is None:
        return drawn
    (x, y), off = found
    role = "mark.played" if roll.spin == "none" else "mark.option"
    end = (roll.stopped_at[0] + ENLARGED * x / 1000, roll.stopped_at[1] + ENLARGED * y / 1000)
    drawn.append(Line((roll.stopped_at, end), role, "bold"))
    # Words stand beyond the end of the line, away from the roll.
    dx, dy = end[0] - roll.stopped_at[0], end[1] - roll.stopped_at[1]
    share = 1 + 0.03 / max(math.hypot(dx, dy), 1e-6)
    beyond = (roll.stopped_at[0] + share * dx, roll.stopped_at[1] + share * dy)
    drawn.append(Text(beyond, f"{off:+.1f}", role, 0.02 * spec.length))
    return drawn
