"""The running exercise in letters read from three metres: what is asked, how it stands, two large areas."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ripasso.core.practice.ladder import LadderRule, rungs
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.drawing import TableScene
from ripasso.drawing.layers import zone_primitives
from ripasso.drawing.primitives import Primitive
from ripasso.review.entry.attempts import change_words, effects_of, figures_of, outcomes_of
from ripasso.review.language.vocabulary import count
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.practice.run_words import run_lines
from ripasso.review.practice.words import CARE, KINDS, ball_lines, standing_words
from ripasso.review.record.practice import Attempt, AttemptSet, Exercise
from ripasso.ui.practice.practice_controller import PracticeController
from ripasso.ui.review.again.again_page import AttemptStrip
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.table_view import TableView

NOTHING = "N makes an exercise, W shows what costs most racks, and Ctrl ⇧ A in Review takes a shot here."
#: Sizes of letters in a view of `PLAIN_WIDTH_PX`, before the theme's scale; in a wider one they grow.
COUNTER_PX, SAID_PX, MORE_PX, AREA_PX = 110, 24, 13, 26
PLAIN_WIDTH_PX, MOST_GROWTH = 840, 1.8
AREA_HEIGHT_PX = 92


class ExerciseView(QWidget):
    """Shows a controller's exercise; its two large buttons count."""

    def __init__(self, theme: Theme, controller: PracticeController) -> None:
        super().__init__()
        self._theme, self._controller = theme, controller
        self._grown = 0.0
        self.table = TableView(theme)
        self.set_up = label("", "caption", wrap=True)
        self.set_up.setAccessibleName("How the balls are put down")
        self.title = label("", "title", wrap=True)
        self.counter = label("", "counter")
        self.counter.setAccessibleName("Made of attempts")
        self.said = label("", "", wrap=True)
        self.strip = AttemptStrip(theme)
        self.more = label("", "caption", wrap=True)
        self.pending = label("", "title", wrap=True)
        self.change = QLineEdit()
        self.change.setPlaceholderText("C: one thing changed next: aim 2 mm, pace 10 %, side 1/4 ball")
        self.change.setAccessibleName("What is changed next")
        self.change.returnPressed.connect(self._say_change)
        self.balls = QLineEdit()
        self.balls.setPlaceholderText("B: the balls of a run, such as 23")
        self.balls.setAccessibleName("Balls of the run")
        self.balls.returnPressed.connect(self._say_balls)
        self.made, self.missed = self._area("made   G", True), self._area("missed   M", False)
        self._compose()
        self._fit_letters()

    def _area(self, text: str, success: bool) -> QPushButton:
        button = QPushButton(text)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        button.clicked.connect(lambda _checked=False: self._controller.count(success))
        return button

    def _compose(self) -> None:
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(self.table, 1)
        left.addWidget(self.set_up)
        areas = QHBoxLayout()
        areas.addWidget(self.made, 1)
        areas.addWidget(self.missed, 1)
        for part in (self.title, self.counter, self.said, self.strip, self.more):
            right.addWidget(part)
        right.addStretch(1)
        right.addWidget(self.pending)
        right.addWidget(self.balls)
        right.addWidget(self.change)
        right.addLayout(areas)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(panel(left), 1)
        row.addWidget(panel(right), 1)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit_letters()

    def _fit_letters(self) -> None:
        """Letters grow with the view: a large screen stands far away."""
        plain = self._theme.px(PLAIN_WIDTH_PX)
        grown = min(MOST_GROWTH, max(1.0, self.width() / plain))
        if grown == self._grown:
            return
        self._grown = grown
        sizes = ((self.counter, COUNTER_PX, 600), (self.said, SAID_PX, 400), (self.pending, SAID_PX, 600))
        for part, size, weight in sizes:
            part.setStyleSheet(f"font-size: {round(grown * self._theme.px(size))}px; font-weight: {weight}")
        for part in (self.more, self.set_up):
            part.setStyleSheet(f"font-size: {round(grown * self._theme.px(MORE_PX))}px")
        for area, role in ((self.made, "good"), (self.missed, "bad")):
            size, colour = round(grown * self._theme.px(AREA_PX)), self._theme.colour(role).name()
            area.setStyleSheet(f"font-size: {size}px; font-weight: 600; border: 3px solid {colour}")
            area.setMinimumHeight(round(grown * self._theme.px(AREA_HEIGHT_PX)))

    def _say_change(self) -> None:
        self._controller.change(self.change.text())
        self.change.clear()
        self.setFocus()

    def _say_balls(self) -> None:
        if self._controller.count_run(self.balls.text()):
            self.balls.clear()
            self.setFocus()

    def show_exercise(self, spec: TableSpec, unit: str) -> None:
        """Show what is in hand; without an exercise how one is made."""
        exercise, running = self._controller.exercise, self._controller.running
        for area in (self.made, self.missed, self.change):
            area.setEnabled(exercise is not None)
        self.balls.setVisible(exercise is not None and exercise.kind == "run")
        self._show_table(spec, unit, exercise)
        if exercise is None:
            self.title.setText("No exercise yet")
            self.said.setText(NOTHING)
            for part in (self.counter, self.more, self.pending):
                part.setText("")
            self.strip.show_attempts(())
            return
        figures = figures_of(running) if running is not None else None
        done = figures.rate if figures is not None else None
        self.title.setText(f"{exercise.title} ({KINDS[exercise.kind]})")
        self.counter.setText(f"{done.made} of {done.of}" if done is not None else "0 of 0")
        self.said.setText(standing_words(exercise, running))
        attempts = (running.attempts if running is not None else None) or ()
        self.strip.show_attempts(attempts)
        lines = more_lines(exercise, running)
        if exercise.kind == "run":
            lines = [*run_lines(exercise, self._controller.sets), *lines]
        self.more.setText("\n".join(lines) or CARE)
        waiting = Attempt.model_validate({"number": 1, "changed": tuple(self._controller.state.changes)})
        words = change_words(waiting)
        self.pending.setText(f"Changed for the next: {words}" if words else "")

    def _show_table(self, spec: TableSpec, unit: str, exercise: Exercise | None) -> None:
        balls: dict[str, Place] = {}
        if exercise is not None and exercise.layout:
            balls = {ball: (float(p[0]), float(p[1])) for ball, p in exercise.layout.items()}
        under: list[Primitive] = []
        if exercise is not None and exercise.zone is not None:
            zone = core_zone(exercise.zone, balls, spec)
            under += zone_primitives(spec, zone) if zone is not None else []
        target = exercise.target if exercise is not None else None
        on = (target.ball,) if target is not None and target.ball else ()
        pocket = target.pocket if target is not None else None
        note = "" if balls else "No layout: played from where the balls lie"
        self.table.show_scene(TableScene(spec, balls, on, pocket, note=note, under=tuple(under)))
        self.set_up.setText("\n".join(ball_lines(spec, balls, unit)))


def more_lines(exercise: Exercise, made: AttemptSet | None) -> list[str]:
    """What is said besides: how many are left, the rung, whose turn a way has, what followed a change."""
    attempts = (made.attempts if made is not None else None) or ()
    lines = []
    if exercise.attempts and len(attempts) < exercise.attempts:
        lines.append(f"{count(exercise.attempts - len(attempts), 'attempt')} left in the set.")
    elif exercise.attempts and attempts:
        lines.append("The set is whole: E ends it.")
    outcomes = outcomes_of(attempts)
    if exercise.kind == "ladder" and exercise.rungs:
        rung = rungs(outcomes, LadderRule(len(exercise.rungs) - 1))[-1]
        lines.append(f"Rung {rung + 1} of {len(exercise.rungs)}: {exercise.rungs[rung]}")
    if exercise.kind == "two_ways":
        lines += _ways(exercise, attempts)
    if made is not None and attempts and len(made.criteria or ()) > 1:
        lines += [criterion_line(made, number) for number in range(len(made.criteria or ()))]
    for effect in effects_of(made) if made is not None else ():
        before, after = (f"{one.made} of {one.of}" for one in (effect.before, effect.after))
        lines.append(f"{effect.what} at attempt {effect.at}: {before} before, {after} since")
    return lines


def criterion_line(made: AttemptSet, number: int) -> str:
    """How often a criterion was met, and at which attempt first."""
    criterion = (made.criteria or ())[number]
    met = [one.met.get(criterion.id) for one in made.attempts or () if one.met is not None]
    said = [one for one in met if one is not None]
    first = figures_of(made).first_met.get(criterion.id)
    words = f"Alt {number + 1} {criterion.text or criterion.id}: {sum(said)} of {len(said)}"
    return f"{words}, first at {first}" if first is not None else words


def _ways(exercise: Exercise, attempts: tuple[Attempt, ...]) -> list[str]:
    """How each of two ways went, and which is next."""
    names = [*(exercise.ways or ()), "one way", "the other way"][:2]
    lines = [f"Next: {names[len(attempts) % 2]}."]
    for number, name in enumerate(names):
        own = [one.outcome == "success" for one in attempts if one.way == number and one.outcome]
        lines.append(f"{name}: {sum(own)} of {len(own)}")
    return lines
