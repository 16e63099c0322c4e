"""Works a plan's rack out: in the background, a first answer soon; chooses, moves, teaches; no widgets."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from threading import Event

from PyQt6.QtCore import QObject, pyqtSignal

from ripasso.core.planning.backward.plans import RackPlan, plan_in_order
from ripasso.core.planning.backward.solving import Stopped
from ripasso.core.planning.backward.working_out import Worked, known, what_decides, work_out
from ripasso.core.planning.in_hand import placed
from ripasso.core.planning.reading.table_reading import TableReading, read_table
from ripasso.review.language.vocabulary import ball_word
from ripasso.review.present.rack_plan_words import answer_words, percent, question_words
from ripasso.ui.plan.plan_controller import PlanController
from ripasso.ui.plan.rack_state import RackState, other_group
from ripasso.ui.services.background import Background

Say = Callable[..., None]


class _Bell(QObject):
    """Brings what was found from its thread to the window's."""

    told = pyqtSignal(object, float, object)


class RackController(QObject):
    """`changed` says that there is something else to be seen of the rack."""

    changed = pyqtSignal()

    def __init__(self, plan: PlanController, background: Background, say: Say) -> None:
        super().__init__()
        self.state = RackState()
        self.share: float | None = None
        self._plan, self._background, self._say = plan, background, say
        self._stop: Event | None = None
        self._bell = _Bell()
        self._bell.told.connect(self._told)

    def is_known(self) -> bool:
        """The rack of the table in hand is worked out, at least at first."""
        state = self._plan.state
        return self.state.belongs_to(state.problem, state.spreads)

    def work_out(self) -> None:
        """Work the rack out; while that goes on, stop it."""
        if self._stop is not None:
            self.stop()
            self._say("Working out is stopped; what was found stays.")
            self.changed.emit()
            return
        state = self._plan.state
        problem, spreads = state.problem, state.spreads
        self.state.belongs_to(problem, spreads)
        if not problem.on:
            self._say("A plan needs a ball that is on.", "unsure")
            return
        before = known(problem, spreads)
        if before is not None:
            self._take(before)
            return
        stop = self._stop = self._background.stoppable()
        self.share = 0.0

        def progress(share: float, first: Worked | None) -> bool:
            self._bell.told.emit(stop, share, first)
            return not stop.is_set()

        def work() -> Worked | None:
            try:
                return work_out(problem, spreads, progress)
            except Stopped:
                return None

        self._background.run(work, lambda found: self._ended(stop, found))
        self.changed.emit()

    def _told(self, stop: Event, share: float, first: Worked | None) -> None:
        if stop is not self._stop or not self._is_about(first):
            return
        self.share = share
        if first is not None:
            self._take(first)
        self.changed.emit()

    def _is_about(self, found: Worked | None) -> bool:
        state = self._plan.state
        if found is None:
            return True
        return found.rack.problem.layout == state.problem.layout and found.rack.problem.on == state.problem.on

    def _ended(self, stop: Event, found: Worked | None) -> None:
        if stop is not self._stop:
            return
        self._stop, self.share = None, None
        if found is not None and self._is_about(found):
            self._take(found)
            self._ask_what_decides(found)
        self.changed.emit()

    def _take(self, found: Worked) -> None:
        state = self._plan.state
        self.state.belongs_to(state.problem, state.spreads)
        self.state.worked = found
        self.state.choose(self.state.chosen)
        if found.plan is None:
            self._say("Nothing can be potted from here.", "unsure")
        self.changed.emit()

    def _ask_what_decides(self, found: Worked) -> None:
        problem, spreads = found.rack.problem, found.rack.setting.spreads
        stop = self._background.stoppable()

        def work() -> str | None:
            try:
                return what_decides(problem, spreads, lambda: not stop.is_set())
            except Stopped:
                return None

        def then(decides: str | None) -> None:
            if self.state.worked is found:
                self.state.decides = decides
                self.changed.emit()

        self._background.run(work, then)

    def stop(self) -> None:
        """Nothing is worked out any more."""
        if self._stop is not None:
            self._stop.set()
        self._stop, self.share = None, None

    def choose(self, number: int) -> None:
        """A ball of the chain in hand, the first is 0."""
        if self._needs_plan():
            self.state.choose(number)
            self.changed.emit()

    def step(self, by: int) -> None:
        """The next ball of the chain, or the one before."""
        self.choose(self.state.chosen + by)

    def take(self) -> None:
        """The stroke of the first step of the plan shown in hand, with its ball and pocket."""
        plan = self.state.shown
        if not self._needs_plan() or plan is None:
            return
        first, state = plan.steps[0], self._plan.state
        if not state.has_cue:
            state.problem = placed(state.problem, first.cue)
        state.problem = replace(state.problem, call=(first.ball, first.pocket))
        state.set_stroke(first.stroke)
        self._plan.renew()

    def show_map(self) -> None:
        """The map under the balls, or away."""
        if self._needs_plan():
            self.state.shows_map = not self.state.shows_map
            self.changed.emit()

    def put_down(self) -> None:
        """The cue ball in hand at the best place."""
        if not self._needs_plan():
            return
        found = self.state.place_in_hand()
        if found is not None:
            place, chance = found
            self._plan.balls.place("cue", place)
            self._say(f"Ball in hand: from here the rack is cleared in {percent(chance)}.")
            self.work_out()

    def other_group(self) -> None:
        """At eight-ball the other group."""
        state = self._plan.state
        on = other_group(state.problem)
        if on is None:
            self._say("There is no other group.", "unsure")
            return
        self.stop()
        state.problem = replace(state.problem, on=on, call=None)
        state.options = []
        state.aim_at_best()
        self._plan.renew()
        self._say(f"Now the {', '.join(ball_word(ball) for ball in on)}.")
        self.work_out()

    def teach(self) -> None:
        """Work backwards, step by step: a question, then its answer."""
        if not self._needs_plan():
            return
        if not self.state.teach():
            self._say("That is the whole rack.", "good")
        self.changed.emit()

    def zone_words(self) -> str:
        """What the zone that is drawn holds of the best one after the ball in hand; empty without one."""
        zone = self._plan.state.zone
        held = self.state.value_of_zone(zone) if zone is not None else None
        return f"Your zone holds {percent(min(1.0, held))} of the best." if held is not None else ""

    def lesson_words(self) -> str:
        """What the lesson asks or answers; empty without one."""
        state, step = self.state, self.state.asked_about()
        if step is None or state.lesson is None:
            return ""
        if state.lesson.asked:
            return question_words(step, last=state.lesson.shown == 0)
        return answer_words(step, state.best_here(), self._plan.state.problem.game)

    def move(self, by: int) -> None:
        """The ball in hand earlier or later in the order; its chance is worked out."""
        order, worked = self.state.moved(by), self.state.worked
        if not self._needs_plan() or worked is None or order is None:
            return
        self.set_order(order)
        self.state.chosen += by
        self.changed.emit()

    def set_order(self, order: tuple[str, ...]) -> None:
        """An order of somebody's own."""
        worked = self.state.worked
        if worked is None or not worked.fine:
            self._say("The plan is still being worked out.", "unsure")
            return
        self.state.own_order, self.state.own_plan = order, None

        def then(plan: RackPlan | None) -> None:
            if self.state.own_order == order and self.state.worked is worked:
                self.state.own_plan = plan
                if plan is None:
                    self._say("The rules do not let the balls be played in this order.", "unsure")
                self.changed.emit()

        self._background.run(lambda: plan_in_order(worked.rack, worked.cue, order), then)
        self.changed.emit()

    def read(self) -> None:
        """Read the table, with flags on the balls in trouble; again, they go."""
        state = self._plan.state
        self.state.belongs_to(state.problem, state.spreads)
        if self.state.reading is not None:
            self.state.reading = None
            self.changed.emit()
            return
        problem, spreads = state.problem, state.spreads
        if not problem.on:
            self._say("A reading needs a ball that is on.", "unsure")
            return

        def then(found: TableReading) -> None:
            now = self._plan.state
            if now.problem.layout == problem.layout and now.problem.on == problem.on:
                self.state.belongs_to(now.problem, now.spreads)
                self.state.reading = found
                self.changed.emit()

        self._say("The table is being read.")
        self._background.run(lambda: read_table(problem, spreads), then)

    def _needs_plan(self) -> bool:
        if self.is_known() and self.state.plan is not None:
            return True
        self._say("Work the rack out first (C).")
        return False
