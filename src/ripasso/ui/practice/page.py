"""The Practice workspace: what is due, and beside it the exercise, its progress, the weeks, the table."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import cached_property, partial
from pathlib import Path

from PyQt6.QtCore import QItemSelection, Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QStackedWidget, QTabBar, QVBoxLayout, QWidget

from ripasso.core.json_data import JsonObject
from ripasso.core.practice.timetable import Timetable
from ripasso.core.table import TableSpec, table_spec
from ripasso.review.practice.calendar import calendar_of
from ripasso.review.practice.exercises import DAY_MINUTES, DAYS, due_on, plan_of
from ripasso.review.practice.table_records import add_roll, add_typed_check, take_back_check, use_checks
from ripasso.review.practice.weeks import planned_weeks
from ripasso.review.practice.words import KINDS, due_words, goal_words
from ripasso.review.record.model import Player
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.practice.actions import ACTIONS
from ripasso.ui.practice.exercise_dialog import ExerciseDialog
from ripasso.ui.practice.exercise_view import ExerciseView
from ripasso.ui.practice.practice_controller import PracticeController
from ripasso.ui.practice.progress_view import ProgressView
from ripasso.ui.practice.setting_up import show_projector, write_page
from ripasso.ui.practice.table_checks_view import TableChecksView
from ripasso.ui.practice.timetable_view import TimetableView
from ripasso.ui.practice.weak_spot_work import WeakSpotWork
from ripasso.ui.widgets.basics import choose_file, label, panel, run_dialog
from ripasso.ui.widgets.key_button import KeyButton
from ripasso.ui.widgets.lines import LinesModel, lines_view
from ripasso.ui.workspace import Workspace

HEADINGS = ("Exercise", "Due", "Level")
VIEWS = ("view_exercise", "view_progress", "view_timetable", "view_table")
BUTTONS = ("new_exercise", "weak_spots", "put_off", "end_set")
WIDTH_PX = 336


class PracticePage(QWidget):
    """`played` brings the shots behind a weak spot; `reported` wants the list in the report."""

    played = pyqtSignal(list)
    reported = pyqtSignal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        self.controller = PracticeController(workspace)
        self.spots = WeakSpotWork(workspace, self.controller, self)
        self.spots.played.connect(self.played)
        theme = workspace.theme
        self.actions_book = ActionRegistry(self, ACTIONS, workspace.settings.get("keys"))
        self.plans = QComboBox()
        self.plans.setAccessibleName("Whose practice")
        self.plans.activated.connect(lambda row: self.controller.choose_plan(self.plans.itemData(row)))
        self.model = LinesModel(self)
        self.list = lines_view(theme, "Exercises", self.model, lambda _row: self._edit(), narrow=(1,))
        self.summary = label("", "caption", wrap=True)
        self.exercise = ExerciseView(theme, self.controller)
        self.tabs, self._stack = QTabBar(), QStackedWidget()
        self._bind()
        self._compose()
        self._showing = False
        selection = self.list.selectionModel()
        assert selection is not None
        selection.selectionChanged.connect(self._select)
        self.controller.changed.connect(lambda _none: self._show())
        self.controller.refresh()

    def _bind(self) -> None:
        controller = self.controller
        self.actions_book.bind(
            {
                "attempt_made": partial(controller.count, True),
                "attempt_missed": partial(controller.count, False),
                "attempt_granted": controller.grant,
                "attempt_back": controller.take_back,
                "attempt_change": self.exercise.change.setFocus,
                "attempt_balls": self._count_balls,
                "attempt_on_film": controller.count_on_film,
                "end_set": controller.end,
                "put_off": controller.put_off,
                "new_exercise": self._new,
                "weak_spots": self.spots.begin,
                "edit_exercise": self._edit,
                "delete_exercise": controller.delete,
                "next_exercise": partial(controller.step, 1),
                "previous_exercise": partial(controller.step, -1),
                **{name: partial(self.show_view, place) for place, name in enumerate(VIEWS)},
                "projector": self._project,
                "set_up_page": self._print,
                "save_calendar": self._save_calendar,
                "report": self.reported.emit,
                **{f"criterion_{n}": partial(controller.say_criterion, n - 1) for n in range(1, 5)},
            }
        )
        for name in ("next_exercise", "previous_exercise", "edit_exercise"):
            self.actions_book.keep_to(name, self.list)

    # The views beside the exercise are built when they are first shown: the page itself is seen sooner.

    @cached_property
    def progress(self) -> ProgressView:
        """How the exercise went over time."""
        return ProgressView(self._workspace.theme)

    @cached_property
    def weeks(self) -> TimetableView:
        """The timetable."""
        view = TimetableView(self._workspace.theme)
        view.timed.connect(self.controller.set_time)
        view.tree.moved.connect(self.controller.move_to)
        return view

    @cached_property
    def checks(self) -> TableChecksView:
        """What is measured of the table."""
        view, run = TableChecksView(self._workspace.theme), self.controller.run
        view.rolled.connect(lambda start, stop, spin: run(lambda now: add_roll(now, start, stop, spin)))
        view.typed.connect(lambda text: run(lambda now: add_typed_check(now, text)))
        view.taken_back.connect(lambda: run(take_back_check))
        view.used.connect(lambda: run(use_checks, "The table is what was measured from now on."))
        return view

    def _compose(self) -> None:
        theme = self._workspace.theme
        left = QVBoxLayout()
        left.addWidget(self.plans)
        left.addWidget(self.summary)
        left.addWidget(self.list, 1)
        for name in BUTTONS:
            left.addWidget(KeyButton(theme, self.actions_book[name], self.actions_book.spec(name).hint))
        side = panel(left)
        side.setFixedWidth(theme.px(WIDTH_PX))
        self.tabs.setDrawBase(False)
        self.tabs.setExpanding(False)
        self.tabs.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        for name in VIEWS:
            spec = self.actions_book.spec(name)
            self.tabs.addTab(f"{spec.text.capitalize()}  {spec.hint}")
        self._stack.addWidget(self.exercise)
        self.tabs.currentChanged.connect(self._turn)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self.tabs)
        right.addWidget(self._stack, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 8, 10, 8)
        row.setSpacing(8)
        row.addWidget(side)
        row.addLayout(right, 1)

    def take_focus(self) -> None:
        """Look at what is there now; keys count attempts."""
        self.controller.look_again()
        self.list.setFocus()

    def show_view(self, place: int) -> None:
        """Show one of the views: exercise, progress, timetable, table."""
        self.tabs.setCurrentIndex(place)

    def _turn(self, _place: int) -> None:
        view = self._view()
        if self._stack.indexOf(view) < 0:
            self._stack.addWidget(view)
        self._stack.setCurrentWidget(view)
        self._show()

    def _view(self) -> QWidget:
        """The view whose tab is chosen."""
        made: tuple[Callable[[], QWidget], ...] = (
            lambda: self.exercise,
            lambda: self.progress,
            lambda: self.weeks,
            lambda: self.checks,
        )
        return made[self.tabs.currentIndex()]()

    def _select(self, _chosen: QItemSelection, _left: QItemSelection) -> None:
        rows = self.list.selectionModel()
        row = rows.currentIndex().row() if rows is not None else -1
        exercises = self.controller.exercises
        if not self._showing and 0 <= row < len(exercises):
            self.controller.choose(exercises[row].id)

    @property
    def spec(self) -> TableSpec:
        """The table of the plan's session."""
        snapshot = self.controller.snapshot
        return table_spec(snapshot.head.table if snapshot is not None else None)

    def _show(self) -> None:
        self._showing = True
        try:
            self._show_list()
            self._show_view()
        finally:
            self._showing = False

    def _show_list(self) -> None:
        controller = self.controller
        plans = controller.plans()
        self.plans.clear()
        for key, title in plans:
            self.plans.addItem(title, key)
        self.plans.setCurrentIndex(self.plans.findData(controller.state.session))
        self.plans.setVisible(bool(plans))
        today, exercises = controller.today, controller.exercises
        due = [one for one in exercises if due_on(one, today) <= today]
        minutes = sum(one.minutes or 0 for one in due)
        self.summary.setText(
            f"Due today: {len(due)} of {len(exercises)}, {minutes} min" if exercises else "Nothing is due."
        )
        lines = [(one.title, due_words(due_on(one, today), today), str(one.level or 0)) for one in exercises]
        self.model.show_lines(HEADINGS, lines)
        names = [one.id for one in exercises]
        if controller.state.exercise in names:
            self.list.selectRow(names.index(controller.state.exercise))

    def _show_view(self) -> None:
        controller = self.controller
        place = self.tabs.currentIndex()
        if place == 0:
            self.exercise.show_exercise(self.spec, self._unit)
        elif place == 1:
            self.progress.show_progress(controller.exercise, controller.sets, None)
            self.spots.compare(self.progress.show_progress)
        elif place == 2:
            self._show_weeks()
        else:
            snapshot = controller.snapshot
            self.checks.show_checks(self.spec, (snapshot.head.table_checks if snapshot else None) or ())

    @property
    def _unit(self) -> str:
        return str(self._workspace.settings.get("unit"))

    def planned(self) -> Timetable:
        """The weeks from today on."""
        controller, snapshot = self.controller, self.controller.snapshot
        if snapshot is None:
            return Timetable((), ())
        return planned_weeks(snapshot, controller.today)

    def _show_weeks(self) -> None:
        snapshot = self.controller.snapshot
        plan = plan_of(snapshot) if snapshot is not None else None
        done: dict[date, set[str]] = {}
        for one in (plan.done if plan is not None else None) or ():
            done.setdefault(date.fromisoformat(one.date), set()).add(one.exercise)
        self.weeks.show_timetable(
            self.planned(),
            self._titles(),
            (plan.minutes if plan is not None else None) or DAY_MINUTES,
            tuple((plan.days if plan is not None else None) or DAYS),
            done,
        )

    def _titles(self) -> dict[str, str]:
        return {one.id: one.title for one in self.controller.exercises}

    def _new(self) -> None:
        names = list(dict.fromkeys(n for line in self._workspace.session_lines() for n in line.players))
        head = self.controller.snapshot.head if self.controller.snapshot is not None else None
        own = head.players[0].name if head is not None and head.players else None
        kept = [layout for _key, layout in self._workspace.library.layouts()]
        dialog = ExerciseDialog(sorted(names, key=lambda name: name != own), parent=self, layouts=kept)
        if run_dialog(dialog):
            values = {key: value for key, value in dialog.values().items() if value is not None}
            today = self.controller.today.isoformat()
            player = Player.model_validate({"id": dialog.player().casefold(), "name": dialog.player()})
            self.controller.add({**values, "level": 0, "due": today}, player)

    def add_exercise(
        self, values: JsonObject, player: Player, game: str | None, table: JsonObject | None
    ) -> None:
        """An exercise that was made elsewhere, such as from a shot in Review."""
        self.controller.add(values, player, game, table)

    def _count_balls(self) -> None:
        """Ask for the balls of a run; another exercise says that it has none."""
        if self.exercise.balls.isVisible():
            self.exercise.balls.setFocus()
        else:
            self.controller.count_run("")

    def _edit(self) -> None:
        exercise = self.controller.exercise
        if exercise is None:
            self._new()
            return
        dialog = ExerciseDialog(exercise=exercise, parent=self)
        if run_dialog(dialog):
            self.controller.edit(dialog.values())

    def _project(self) -> None:
        show_projector(self, self._workspace.settings, self.spec, self.controller.exercise)

    def _print(self) -> None:
        exercise = self.controller.exercise
        if exercise is None:
            self._workspace.messages.say("No exercise is in hand.", "plain")
            return
        file = choose_file(
            self, "Save the set-up page", str(Path.home()), "PDF (*.pdf)", save=f"{exercise.title}.pdf"
        )
        if file:
            asked = f"{KINDS[exercise.kind]}; asked: {goal_words(exercise)}"
            said = write_page(file, self._workspace.theme, self.spec, exercise, self._unit, asked)
            self._workspace.messages.say(*said)

    def _save_calendar(self) -> None:
        file = choose_file(
            self, "Save the timetable", str(Path.home()), "Calendars (*.ics)", save="practice.ics"
        )
        if not file:
            return
        head = self.controller.snapshot.head if self.controller.snapshot is not None else None
        name = (head.players[0].name if head is not None and head.players else None) or "practice"
        found = self.planned()
        try:
            Path(file).write_bytes(calendar_of(found, self._titles(), name))
        except OSError as error:
            self._workspace.messages.say(f"{file} cannot be written: {error.strerror}.", "bad")
            return
        self._workspace.messages.say(f"{len(found.sessions)} sessions are in {file}.", "good")
