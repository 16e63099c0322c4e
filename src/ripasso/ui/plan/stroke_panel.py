"""The stroke in hand: tip on a drawn cue ball, pace, what it promises, what a little more would do."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QGridLayout, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from ripasso.core.measures.levels import DEFAULT_LEVEL, LEVELS
from ripasso.core.physics.parameters import CLOTHS, CUSHIONS
from ripasso.core.planning.expected import REPETITIONS
from ripasso.core.table.presets import INCH
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import word
from ripasso.review.present.plan_words import (
    aim_words,
    beside_lines,
    difference_lines,
    player_words,
    promise_lines,
    stroke_lines,
    variation_lines,
)
from ripasso.ui.plan.plan_state import FASTEST, OWN, SLOWEST, PlanState, TableFeel
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import empty, label
from ripasso.ui.widgets.tip_pad import TipPad

#: Steps of the pace slider in a metre per second.
STEPS = 20


class StrokePanel(QWidget):
    """`tip_chosen` brings offsets in radii, `speed_chosen` m/s, the others a table and a level."""

    tip_chosen = pyqtSignal(float, float)
    speed_chosen = pyqtSignal(float)
    feel_chosen = pyqtSignal(object)
    level_chosen = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._title = label("", "title", wrap=True)
        self.tip = TipPad(theme)
        self.pace = QSlider(Qt.Orientation.Vertical)
        self.pace.setRange(round(SLOWEST * STEPS), round(FASTEST * STEPS))
        self.pace.setAccessibleName("Pace")
        self._lines = QGridLayout()
        self._promise, self._more, self._parts = QGridLayout(), QGridLayout(), QGridLayout()
        self._parts_title = label("", "caption")
        for grid in (self._lines, self._promise, self._more, self._parts):
            grid.setHorizontalSpacing(6)
            grid.setVerticalSpacing(2)
            grid.setColumnStretch(1, 1)
        self.cloth, self.cushions, self.level = QComboBox(), QComboBox(), QComboBox()
        self.mouth = QDoubleSpinBox()
        self._compose()
        self._width = 0.45
        self._shown = False
        self.tip.chosen.connect(lambda right, up: self.tip_chosen.emit(right * self._width, up * self._width))
        self.pace.valueChanged.connect(self._paced)
        for box in (self.cloth, self.cushions):
            box.activated.connect(self._felt)
        self.mouth.valueChanged.connect(self._felt)
        self.level.activated.connect(lambda _i: self.level_chosen.emit(self.level.currentData()))

    def _compose(self) -> None:
        for box, names, name in (
            (self.cloth, CLOTHS, "Cloth"),
            (self.cushions, CUSHIONS, tr("Cushions")),
            (self.level, LEVELS, "Player"),
        ):
            box.setAccessibleName(name)
            for one in names:
                box.addItem(word(one) if box is self.level else f"{one} {name.lower()}", one)
        self.mouth.setRange(3.0, 6.0)
        self.mouth.setSingleStep(0.1)
        self.mouth.setDecimals(1)
        self.mouth.setSuffix(" in corners")
        self.mouth.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
        self.mouth.setAccessibleName("Mouth of the corner pockets")
        ball = QHBoxLayout()
        ball.addWidget(self.tip)
        ball.addWidget(self.pace)
        ball.addLayout(self._lines, 1)
        table = QGridLayout()
        for i, control in enumerate((self.level, self.cloth, self.cushions, self.mouth)):
            table.addWidget(control, i // 2, i % 2)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self._title)
        column.addLayout(ball)
        column.addWidget(label(f"Played {REPETITIONS} times by this player", "caption"))
        column.addLayout(self._promise)
        column.addWidget(label("A little more or less", "caption"))
        column.addLayout(self._more)
        column.addWidget(self._parts_title)
        column.addLayout(self._parts)
        column.addStretch(1)
        column.addWidget(label("Player and table", "caption"))
        column.addLayout(table)

    def show_plan(self, state: PlanState, tip_width: float, unit: str) -> None:
        """Show what is planned; nothing is told back."""
        self._shown = False
        self._width = tip_width
        stroke, problem = state.stroke, state.problem
        self._title.setText(aim_words(stroke, problem.call, problem.game))
        self.tip.show_tip((stroke.a / tip_width, stroke.b / tip_width), tip_width)
        self.pace.setValue(round(stroke.speed * STEPS))
        self._fill(self._lines, stroke_lines(stroke, problem.spec))
        self._show_promise(state)
        was_potted = problem.call is not None and state.motion.pockets.get(problem.call[0]) == problem.call[1]
        more = variation_lines(state.variations, problem.spec, unit, was_potted=was_potted)
        self._fill(self._more, more)
        self._show_parts(state, unit)
        self._offer_own(state)
        feel = state.feel
        for box, value in (
            (self.cloth, feel.cloth),
            (self.cushions, feel.cushions),
            (self.level, state.level),
        ):
            box.setCurrentIndex(box.findData(value))
        self.mouth.setValue(problem.spec.corner_mouth / INCH)
        self._shown = True

    def _show_promise(self, state: PlanState) -> None:
        """What the stroke promises; with one kept beside it both, the kept one's in the last column."""
        if state.kept is None or state.kept[0] == state.stroke:
            self._fill(self._promise, promise_lines(state.expected, state.zone))
            return
        lines = beside_lines(state.expected, state.kept[2], state.zone)
        self._fill(self._promise, [("", "in hand", "kept beside"), *lines])

    def _show_parts(self, state: PlanState, unit: str) -> None:
        """What parts the stroke in hand from the one kept beside it."""
        found = state.differences()
        self._parts_title.setText("What parts it from the one kept beside" if found is not None else "")
        lines = difference_lines(found, state.problem.spec, unit) if found is not None else []
        self._fill(self._parts, lines)

    def _offer_own(self, state: PlanState) -> None:
        """The player's own spreads stand among the levels where they are known."""
        place = self.level.findData(OWN)
        if state.own is None and place >= 0:
            self.level.removeItem(place)
        elif state.own is not None and place < 0:
            self.level.addItem("the player's own", OWN)
        is_own = state.level == OWN
        level = DEFAULT_LEVEL if is_own else state.level
        self.level.setToolTip(player_words(level, state.own if is_own else None))

    def _fill(self, grid: QGridLayout, lines: Sequence[tuple[str, ...]]) -> None:
        empty(grid)
        for row, (name, *values) in enumerate(lines):
            grid.addWidget(label(name, "caption"), row, 0)
            for column, value in enumerate(values, start=1):
                shown = label(value, "measure")
                if value.startswith(("missed", tr("the cue ball falls"))):
                    shown.setStyleSheet(f"color: {self._theme.hex('bad')}")
                grid.addWidget(shown, row, column)

    def _paced(self, value: int) -> None:
        if self._shown:
            self.speed_chosen.emit(value / STEPS)

    def _felt(self) -> None:
        if self._shown:
            feel = TableFeel(self.cloth.currentData(), self.cushions.currentData(), self.mouth.value() * INCH)
            self.feel_chosen.emit(feel)
