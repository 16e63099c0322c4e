"""A shot played again: its layout, a large counter, one key for success or failure, what was changed.

G made, M missed, C thick, V thin; digits: which criterion the last one met; X grants it; ⌫ takes it back.
"""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.inference.intervals import rate
from ripasso.core.measures.attempts import AttemptFigures, ChangeEffect
from ripasso.core.table import TableSpec
from ripasso.drawing import TableScene
from ripasso.drawing.layers import zone_primitives
from ripasso.drawing.primitives import Circle, Primitive
from ripasso.review.entry.attempts import SetLine, effects_of, figures_of
from ripasso.review.language.vocabulary import count, word
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.record.practice import Attempt, AttemptSet
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel, set_property
from ripasso.ui.widgets.lines import LinesModel, lines_view
from ripasso.ui.widgets.painted import painted
from ripasso.ui.widgets.pointer_handler import ClickHandler
from ripasso.ui.widgets.table_view import TableView

HELP = (
    "G made   M missed   C thick   V thin   1–9 criterion   X granted   ⌫ take back   N changed   W words"
    "   ← → an earlier one   click: where the cue ball stopped   Del delete all"
)
ELSEWHERE = "A click beside the lines brings the keys back: G made, M missed"
HEADINGS = ("Shot", "Attempts", "Made", "First at", "Tries a success", "Weight")


class AttemptStrip(QWidget):
    """Every attempt in its order: filled made, ring missed, a bar under one that changed something."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._attempts: tuple[Attempt, ...] = ()
        self._chosen: int | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Attempts in order")

    def show_attempts(self, attempts: tuple[Attempt, ...], chosen: int | None = None) -> None:
        """Show these; an earlier one that is chosen has a frame."""
        self._attempts, self._chosen = attempts, chosen
        words = [f"{one.number} {one.outcome or 'not judged'}" for one in attempts]
        self.setAccessibleDescription(", ".join(words))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, self._theme.px(30))

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, step = self._theme, self._theme.px(16)
        if self._attempts:
            step = int(min(step, max(5, self.width() / len(self._attempts))))
        size, y = step * 0.32, self.height() / 2 - 2
        for place, one in enumerate(self._attempts):
            x = (place + 0.5) * step
            made = one.outcome == "success"
            painter.setPen(QPen(theme.colour("good" if made else "bad"), 2))
            painter.setBrush(theme.colour("good") if made and not one.relaxed else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QRectF(x - size, y - size, 2 * size, 2 * size))
            if place == self._chosen:
                painter.setPen(QPen(theme.colour("accent"), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(QRectF(x - 1.6 * size, y - 1.6 * size, 3.2 * size, 3.2 * size))
            if one.changed:
                painter.setPen(QPen(theme.colour("unsure"), 3))
                painter.drawLine(int(x - size), int(y + step * 0.7), int(x + size), int(y + step * 0.7))


class AgainPage(QWidget):
    """Shows a set; the signals say what was pressed. `counted` brings success and how it was missed."""

    counted = pyqtSignal(bool, str)
    criterion = pyqtSignal(int)
    relaxed = pyqtSignal()
    took_back = pyqtSignal()
    deleted = pyqtSignal()
    changed = pyqtSignal(str)
    added = pyqtSignal(str)
    chosen = pyqtSignal(int)
    weighed = pyqtSignal(str)
    limited = pyqtSignal(str)
    stepped = pyqtSignal(int)
    said = pyqtSignal(str)
    renamed = pyqtSignal(str)
    uncounted = pyqtSignal(str)
    rested = pyqtSignal(tuple)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The shot again")
        self.table = TableView(theme)
        self.counter = label("", "counter")
        self.counter.setStyleSheet(f"font-size: {theme.px(44)}px; font-weight: 600")
        self.rate, self.first = label("", "title", wrap=True), label("", wrap=True)
        self.criteria = label("", wrap=True)
        self.effects = label("", "caption", wrap=True)
        self.pending = label("", "title")
        self.strip = AttemptStrip(theme)
        self.change = _line("N: what is changed next: aim 2 mm, pace 10 %, side 1/4 ball", self._say_change)
        self.words = _line("W: of the chosen attempt: miscued, by pace, note ...", self._say_words)
        self.name = _line("Another name for this set", self._say_name)
        self.before = _line("How many attempts before nobody counted", self._say_before)
        self.told = label("", "caption", wrap=True)
        self.table.hand = ClickHandler(self.rested.emit)
        self.more = _line("One more criterion, before the first attempt", self._say_more)
        self.weight = _line("How much the situation weighs, by hand: 1 to 5", self._say_weight)
        self.limits = _line("What the own table does not allow", self._say_limits)
        self.title = label("", "title")
        self.model = LinesModel(self)
        self.sets = lines_view(theme, "Shots played again", self.model, self.chosen.emit)
        self._compose()

    def _compose(self) -> None:
        left, right, below = QVBoxLayout(), QVBoxLayout(), QVBoxLayout()
        left.addWidget(self.title)
        left.addWidget(self.table, 1)
        buttons = QHBoxLayout()
        for text, outcome in (("made  G", True), ("missed  M", False)):
            button = QPushButton(text)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _checked=False, made=outcome: self.counted.emit(made, ""))
            buttons.addWidget(button)
        for part in (self.counter, self.rate, self.first, self.strip, self.criteria, self.effects):
            right.addWidget(part)
        right.addLayout(buttons)
        right.addWidget(self.pending)
        right.addWidget(self.told)
        for line in (self.change, self.words, self.more, self.weight, self.limits, self.name, self.before):
            right.addWidget(line)
        right.addStretch(1)
        below.addWidget(label("All shots played again, the hardest first; ↵ takes one", "caption"))
        below.addWidget(self.sets)
        self.help = label(HELP, "caption")
        below.addWidget(self.help)
        top = QHBoxLayout()
        top.setSpacing(8)
        top.addWidget(panel(left), 3)
        top.addWidget(panel(right), 2)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        layout.addLayout(top, 3)
        layout.addWidget(panel(below), 1)

    def show_set(
        self, made: AttemptSet, lines: tuple[SetLine, ...], spec: TableSpec, chosen: int | None = None
    ) -> None:
        """Show a set, and all of them in the list; `chosen` is the place of an earlier attempt."""
        figures = figures_of(made)
        self.title.setText(made.title or made.id)
        self.counter.setText(f"{figures.rate.made} of {figures.rate.of}")
        self.rate.setText(_rate_words(figures))
        self.first.setText(_first_words(figures, len(made.attempts or ()), made.before_count or 0))
        self.criteria.setText("\n".join(_criteria_words(made, figures, chosen)))
        self.told.setText(_told_words(made.attempts or (), chosen))
        self.effects.setText("\n".join(map(_effect_words, effects_of(made))))
        self.effects.setVisible(bool(effects_of(made)))
        self.strip.show_attempts(made.attempts or (), chosen)
        self.more.setVisible(not made.attempts)
        self.weight.setText("" if made.context_weight is None else f"{made.context_weight:g}")
        self.limits.setText(made.own_limits or "")
        balls = {ball: (float(p[0]), float(p[1])) for ball, p in (made.layout or {}).items()}
        target = made.target
        note = "" if balls else "Where the balls lay is not recorded"
        on = (target.ball,) if target and target.ball else ()
        over = rest_rings(spec, made.attempts or (), chosen)
        pocket = target.pocket if target else None
        under: list[Primitive] = []
        for criterion in made.criteria or ():
            zone = core_zone(criterion.zone, balls, spec) if criterion.zone is not None else None
            under += zone_primitives(spec, zone) if zone is not None else []
        self.table.show_scene(TableScene(spec, balls, on, pocket, note=note, under=tuple(under), over=over))
        self.model.show_lines(HEADINGS, [_cells(line) for line in lines])

    def show_pending(self, words: str) -> None:
        """What will have been changed at the next attempt."""
        self.pending.setText(f"Changed for the next: {words}" if words else "")
        set_property(self.pending, "tone", "plain")
        self.pending.setVisible(bool(words))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, text = event.key(), event.text().casefold()
        outcomes = {"g": (True, ""), "m": (False, ""), "c": (False, "thick"), "v": (False, "thin")}
        if text in outcomes:
            self.counted.emit(*outcomes[text])
        elif text and text in "123456789":
            self.criterion.emit(int(text) - 1)
        elif text == "x":
            self.relaxed.emit()
        elif text == "n":
            self.change.setFocus()
        elif text == "w":
            self.words.setFocus()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.stepped.emit(-1 if key == Qt.Key.Key_Left else 1)
        elif key == Qt.Key.Key_Backspace:
            self.took_back.emit()
        elif key == Qt.Key.Key_Delete:
            self.deleted.emit()
        else:
            super().keyPressEvent(event)

    def _say_change(self) -> None:
        self.changed.emit(self.change.text())
        self.change.clear()
        self.setFocus()

    def _say_words(self) -> None:
        self.said.emit(self.words.text())
        self.words.clear()
        self.setFocus()

    def _say_name(self) -> None:
        if self.name.text().strip():
            self.renamed.emit(self.name.text().strip())
        self.name.clear()
        self.setFocus()

    def _say_before(self) -> None:
        self.uncounted.emit(self.before.text().strip())
        self.before.clear()
        self.setFocus()

    def _say_more(self) -> None:
        if self.more.text().strip():
            self.added.emit(self.more.text().strip())
        self.more.clear()
        self.setFocus()

    def _say_weight(self) -> None:
        self.weighed.emit(self.weight.text().strip())
        self.setFocus()

    def _say_limits(self) -> None:
        self.limited.emit(self.limits.text().strip())
        self.setFocus()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.help.setText(HELP)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.help.setText(ELSEWHERE)


def _line(hint: str, keep: object) -> QLineEdit:
    line = QLineEdit()
    line.setPlaceholderText(hint)
    line.setAccessibleName(hint)
    line.setFocusPolicy(Qt.FocusPolicy.ClickFocus | Qt.FocusPolicy.TabFocus)
    line.returnPressed.connect(keep)  # type: ignore[arg-type]
    return line


def _percent(share: float | None) -> str:
    return "not known" if share is None else f"{100 * share:.0f} %"


def _rate_words(figures: AttemptFigures) -> str:
    found = figures.rate
    if found.rate is None:
        return "No attempt yet"
    return f"{_percent(found.rate)} ({_percent(found.low)} to {_percent(found.high)})"


def _first_words(figures: AttemptFigures, attempts: int, uncounted: int) -> str:
    before = f", at least {uncounted} before that nobody counted" if uncounted else ""
    if figures.until_first_success is None:
        return f"No success in {count(attempts, 'attempt')} yet{before}" if attempts else before.lstrip(", ")
    tries = figures.tries
    more = f"; a success takes {tries.value:.1f} tries" if tries.value else ""
    more += f" ({tries.low:.1f} to {tries.high:.1f})" if tries.low and tries.high else ""
    granted = f", {figures.relaxed} granted" if figures.relaxed else ""
    off = f", {figures.off_film} not on film" if figures.off_film else ""
    return f"First success at attempt {figures.until_first_success}{before}{more}{granted}{off}"


def _criteria_words(made: AttemptSet, figures: AttemptFigures, chosen: int | None) -> list[str]:
    attempts = made.attempts or ()
    here = -1 if chosen is None else chosen
    lines = []
    for place, criterion in enumerate(made.criteria or (), start=1):
        met = sum(bool((one.met or {}).get(criterion.id)) for one in attempts)
        first = figures.first_met.get(criterion.id)
        when = f", first at {first}" if first is not None else ""
        last = bool(attempts) and bool((attempts[here].met or {}).get(criterion.id))
        mark, found = "✓" if last else "–", rate(met, len(attempts))
        how_sure = f" ({_percent(found.low)} to {_percent(found.high)})" if attempts else ""
        words = f"{criterion.text or criterion.id}: {met} of {len(attempts)}{how_sure}{when}"
        lines.append(f"{mark} {place}  {words}")
    return lines


def _told_words(attempts: Sequence[Attempt], chosen: int | None) -> str:
    """What was said of the chosen attempt, or of the last."""
    if not attempts:
        return ""
    one = attempts[-1 if chosen is None else chosen]
    parts = [f"Attempt {one.number}: {one.outcome or 'not judged'}"]
    parts += [part for part in (one.miss, *map(word, one.every_cause), one.note) if part]
    if one.rest is not None:
        parts.append("rest placed")
    more = " · → goes on, G M C V correct it" if chosen is not None else ""
    return ", ".join(parts) + more


def rest_rings(spec: TableSpec, attempts: Sequence[Attempt], chosen: int | None) -> tuple[Primitive, ...]:
    """Where the cue ball stopped at each attempt: filled where it was a success."""
    drawn: list[Primitive] = []
    for place, one in enumerate(attempts):
        if one.rest is not None:
            at = (float(one.rest[0]), float(one.rest[1]))
            fill = "table.words" if one.outcome == "success" else None
            radius = spec.ball_radius * (0.9 if place == chosen else 0.5)
            drawn.append(Circle(at, radius, fill, "table.words"))
    return tuple(drawn)


def _effect_words(effect: ChangeEffect) -> str:
    return (
        f"{effect.what} at {effect.at}: {effect.before.made} of {effect.before.of} before, "
        f"{effect.after.made} of {effect.after.of} after"
    )


def _cells(line: SetLine) -> tuple[str, ...]:
    figures = line.figures
    tries = figures.tries.value
    return (
        line.title,
        str(figures.rate.of),
        _rate_words(figures) + (", few yet" if figures.rate.few and figures.rate.of else ""),
        "" if figures.until_first_success is None else str(figures.until_first_success),
        "" if tries is None else f"{tries:.1f}",
        "" if line.weight is None else f"{line.weight:g}",
    )
