"""The Plan workspace: says that the simulator is being prepared until it is, then shows the desk."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer, pyqtBoundSignal, pyqtSignal
from PyQt6.QtWidgets import QStackedLayout, QWidget

from ripasso.review.record.people import PROGRAM
from ripasso.ui.plan.taken import Taken
from ripasso.ui.services.simulator import prepare
from ripasso.ui.widgets.basics import label
from ripasso.ui.workspace import Workspace

if TYPE_CHECKING:
    from ripasso.core.physics.players import Spreads
    from ripasso.review.document.command import Command
    from ripasso.review.document.snapshot import ShotRow, Snapshot
    from ripasso.ui.actions import ActionRegistry
    from ripasso.ui.plan.desk import PlanDesk


class PlanPage(QWidget):
    """`left` brings the session and the shot to go back to, `reported` those that go into the report."""

    left = pyqtSignal(str, str)
    reported = pyqtSignal(str, str)

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        self.desk: PlanDesk | None = None
        self._made: PlanDesk | None = None
        self._waiting: Taken | None = None
        self._stack = QStackedLayout(self)
        words = label("The simulator is being prepared.", "caption")
        words.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._stack.addWidget(words)
        workspace.background.run(self._load, lambda _done: self._build())

    @property
    def actions_book(self) -> ActionRegistry | None:
        """What can be done here; None until the simulator is there."""
        return self.desk.actions_book if self.desk is not None else None

    @staticmethod
    def _load() -> None:
        """In a thread: the simulator, and the modules of the desk."""
        prepare()
        import ripasso.ui.plan.desk  # noqa: F401

    def _build(self) -> None:
        from ripasso.ui.plan.desk import PlanDesk

        self._made = PlanDesk(self._workspace)
        # It is shown a moment after it is built: the window's thread is not held for both at once.
        QTimer.singleShot(0, self._show)

    def _show(self) -> None:
        assert self._made is not None
        self.desk = self._made
        self.desk.attached.connect(self._attach)
        self.desk.planned.connect(self._keep_plan)
        self.desk.layouts_wanted.connect(self._choose_layout)
        self.desk.left.connect(lambda: self._tell_source(self.left))
        self.desk.reported.connect(lambda: self._tell_source(self.reported))
        self._stack.addWidget(self.desk)
        self._stack.setCurrentWidget(self.desk)
        if self._waiting is not None:
            self.take(self._waiting)
        if self.hasFocus():
            self.take_focus()  # nobody went elsewhere meanwhile

    def take_focus(self) -> None:
        """The desk has the keys: arrows turn the aim."""
        (self.desk or self).setFocus()

    def take(self, taken: Taken) -> None:
        """Show a table; it waits until the simulator is there."""
        if self.desk is None:
            self._waiting = taken
            return
        from ripasso.ui.plan.plan_state import Source

        controller = self.desk.controller
        controller.stop_options()
        source = Source(taken.session, taken.shot, taken.title) if taken.shot else None
        state = controller.state
        if taken.feel is not None:
            state.feel = replace(state.feel, cloth=taken.feel[0], cushions=taken.feel[1])
        state.take(taken.game, taken.spec, taken.layout, taken.on, taken.call, source)
        state.zone, state.name = taken.zone, taken.title
        controller.renew()
        controller.explain(taken.seen)
        self._know_player(taken)

    def _choose_layout(self) -> None:
        """A layout that is kept in the library, on the table of Plan."""
        from ripasso.store.errors import LibraryError
        from ripasso.ui.layouts.choose_dialog import ChooseLayoutDialog
        from ripasso.ui.plan.taking import taken_layout
        from ripasso.ui.widgets.basics import run_dialog

        say = self._workspace.messages.say
        try:
            kept = self._workspace.library.layouts()
        except LibraryError as error:
            say(str(error), "bad")
            return
        if not kept:
            say("No layout is kept yet; Alt L in Review keeps the one in hand.", "unsure")
            return
        dialog = ChooseLayoutDialog(self._workspace.theme, kept, self)
        chosen = dialog.chosen if run_dialog(dialog) else None
        if chosen is None or self.desk is None:
            return
        taken = taken_layout(chosen, self.desk.controller.state.problem.game)
        if taken is None:
            say("A plan needs the cue ball and another one; this layout has not both.", "unsure")
            return
        self.take(taken)

    def _know_player(self, taken: Taken) -> None:
        """The spreads of the shot's player, from all his pots in the library, in the background."""
        if taken.person is None or self.desk is None:
            return
        person, controller, index = taken.person, self.desk.controller, self._workspace.index
        snooker = taken.spec.snooker

        def work() -> Spreads | None:
            from ripasso.core.figures.own_spreads import own_spreads

            return own_spreads(index.read().facts, person, snooker=snooker)

        def then(own: Spreads | None) -> None:
            source = controller.state.source
            if source is not None and source.shot == taken.shot:
                controller.take_own(own)

        self._workspace.background.run(work, then)

    def _tell_source(self, signal: pyqtBoundSignal) -> None:
        source = self.desk.controller.state.source if self.desk is not None else None
        if source is not None:
            signal.emit(source.session, source.shot)

    def _source(self) -> tuple[Snapshot, ShotRow] | None:
        """The session and the shot that the plan came from, as they are now; None, with a sentence."""
        state = self.desk.controller.state if self.desk is not None else None
        source = state.source if state is not None else None
        snapshot = self._workspace.document.session(source.session) if source is not None else None
        row = snapshot.shot(source.shot) if snapshot is not None and source is not None else None
        if snapshot is None or row is None:
            self._workspace.messages.say("The shot of this plan is not there any more.", "unsure")
            return None
        return snapshot, row

    def _run(self, command: Command, done: str) -> None:
        from ripasso.review.document.edits import RefusedEdit
        from ripasso.store.errors import LibraryError

        say = self._workspace.messages.say
        try:
            self._workspace.document.run(command)
        except (RefusedEdit, LibraryError) as error:
            say(str(error), "bad")
            return
        say(done, "good")

    def _attach(self) -> None:
        """The stroke in hand becomes an option of the shot it came from."""
        from ripasso.review.document.edits import set_values
        from ripasso.review.planner.planned_options import planned_option

        found = self._source()
        if found is None or self.desk is None:
            return
        (snapshot, row), state = found, self.desk.controller.state
        values = planned_option(row.record, state.problem, state.stroke, state.motion, state.expected)
        command = set_values(snapshot, "shot", row.key, values, "Keep a planned option")
        self._run(command, "Kept as an option of the shot; Alt W there weighs it.")

    def _keep_plan(self) -> None:
        """The plan shown becomes one more of the plans of the rack it came from."""
        from ripasso.review.planner.rack_plans import keep_plan

        found = self._source()
        state = self.desk.rack.state if self.desk is not None else None
        plan = state.shown if state is not None else None
        if found is None or state is None or plan is None:
            return
        snapshot, row = found
        rack = snapshot.rack(row.rack)
        if rack is not None:
            by = PROGRAM if plan is state.plan else None
            command = keep_plan(snapshot, rack, plan, shot=row.record.number, by=by)
            self._run(command, "Kept with the plans of the rack; Alt K in Review shows them side by side.")
