"""What is known of a plan's rack: maps, the chosen ball, a lesson, the reading; no window."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.geometry.zones import Zone, distance_outside
from ripasso.core.physics.players import Spreads
from ripasso.core.planning.backward.deciding import rack_after
from ripasso.core.planning.backward.levels import areas
from ripasso.core.planning.backward.orders import Choice, State
from ripasso.core.planning.backward.plans import RackPlan, Step, best_place, zone_share
from ripasso.core.planning.backward.solving import Rack
from ripasso.core.planning.backward.working_out import Worked, key_of
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.planning.reading.table_reading import TableReading
from ripasso.core.table.places import Place


@dataclass
class Lesson:
    """Working backwards, step by step: so many steps from the end are shown; then a question is open."""

    shown: int = 0
    asked: bool = True


class RackState:
    """Changed by its methods; belongs to one problem and player, and is nothing for another one."""

    def __init__(self) -> None:
        self.worked: Worked | None = None
        self.chosen = 0
        self.shows_map = True
        self.lesson: Lesson | None = None
        self.reading: TableReading | None = None
        self.decides: str | None = None
        #: An order of somebody's own, and the plan in it once that is known.
        self.own_order: tuple[str, ...] | None = None
        self.own_plan: RackPlan | None = None
        self._key: object = None

    def belongs_to(self, problem: Problem, spreads: Spreads) -> bool:
        """What is known is about this problem and player; else it is forgotten."""
        key = key_of(problem, spreads)
        if key != self._key:
            self._key = key
            self.forget()
            return False
        return self.worked is not None

    def forget(self) -> None:
        """Nothing is known."""
        self.worked, self.chosen, self.lesson, self.reading = None, 0, None, None
        self.decides, self.own_order, self.own_plan = None, None, None

    @property
    def plan(self) -> RackPlan | None:
        """The program's plan."""
        return self.worked.plan if self.worked is not None else None

    @property
    def shown(self) -> RackPlan | None:
        """The plan on the table: somebody's own once it is known, in a lesson and else the program's."""
        own, plan = self.own_plan, self.plan
        is_own = own is not None and plan is not None and len(own.steps) == len(plan.steps)
        return own if is_own and self.lesson is None else plan

    @property
    def steps(self) -> tuple[Step, ...]:
        """The steps of the plan that are shown: all, in a lesson from the last one as far as it has come."""
        plan = self.shown
        if plan is None:
            return ()
        if self.lesson is not None:
            return plan.steps[len(plan.steps) - self.lesson.shown :] if self.lesson.shown else ()
        return plan.steps

    def choose(self, number: int) -> None:
        """Another ball of the chain in hand."""
        count = len(self.steps)
        self.chosen = max(0, min(number, count - 1)) if count else 0

    @property
    def step(self) -> Step | None:
        """The step in hand."""
        steps = self.steps
        return steps[self.chosen] if self.chosen < len(steps) else None

    def _walked(self) -> list[tuple[Rack, State]]:
        """Before each step of the plan shown the rack (with its clusters open or not) and its state."""
        plan = self.shown
        if self.worked is None or plan is None:
            return []
        rack, state = self.worked.rack, self.worked.rack.order.start
        found = []
        for step in plan.steps:
            found.append((rack, state))
            choice = _choice(rack, state, step)
            if choice is None or choice.then is None:
                break
            rack, state = rack_after(rack, choice), choice.then
        return found

    def _in_hand(self) -> tuple[Rack, State] | None:
        walked = self._walked()
        plan = self.shown
        if plan is None:
            return None
        place = self.chosen + len(plan.steps) - len(self.steps)
        return walked[place] if place < len(walked) else None

    def shaded(self) -> list[tuple[float, list[tuple[Place, ...]]]]:
        """The map of the ball in hand: from where it and all after it are cleared best."""
        here = self._in_hand()
        if here is None or not self.shows_map:
            return []
        return areas(*here)

    def best_here(self) -> float:
        """The best chance from anywhere before the ball in hand."""
        here = self._in_hand()
        return best_place(*here)[1] if here is not None else 0.0

    def place_in_hand(self) -> tuple[Place, float] | None:
        """The best place of the cue ball in hand and its chance."""
        if self.worked is None:
            return None
        return best_place(self.worked.rack, self.worked.rack.order.start)

    def value_of_zone(self, zone: Zone) -> float | None:
        """What a zone holds of the best place after the step in hand, None after the last one."""
        step, walked, plan = self.step, self._walked(), self.shown
        if step is None or plan is None:
            return None
        after = plan.steps.index(step) + 1
        if after >= len(walked):
            return None
        rack, state = walked[after]
        inside = [
            (float(x), float(y))
            for x, y in rack.net.places
            if distance_outside(zone, (float(x), float(y))) == 0
        ]
        return zone_share(rack, state, np.array(inside).reshape(-1, 2), step.rest)

    def curve(self) -> list[tuple[str, float]]:
        """Before each ball the chance to clear; 1 behind the last one."""
        steps = self.steps
        return [(step.ball, step.value) for step in steps] + ([("", 1.0)] if steps else [])

    def teach(self) -> bool:
        """The next of a lesson: the answer to its question, or the next question; False at its end."""
        plan = self.plan
        if plan is None:
            return False
        if self.lesson is None:
            self.lesson, self.chosen = Lesson(), 0
            return True
        if self.lesson.asked:
            self.lesson = Lesson(self.lesson.shown + 1, asked=False)
            self.chosen = 0
            return True
        if self.lesson.shown == len(plan.steps):
            self.lesson = None
            return False
        self.lesson = Lesson(self.lesson.shown, asked=True)
        return True

    def asked_about(self) -> Step | None:
        """The step that a lesson asks about, or has just shown."""
        plan = self.plan
        if plan is None or self.lesson is None:
            return None
        back = self.lesson.shown + (1 if self.lesson.asked else 0)
        return plan.steps[len(plan.steps) - back]

    def lesson_layout(self, layout: Mapping[str, Place]) -> dict[str, Place]:
        """What stands on the table where a lesson has come to; the cue ball is not known there."""
        plan = self.plan
        count = self.lesson.shown + self.lesson.asked if self.lesson is not None else 0
        gone = {step.ball for step in plan.steps[: len(plan.steps) - count]} if plan is not None else set()
        return {ball: place for ball, place in layout.items() if ball not in gone and ball != "cue"}

    def moved(self, by: int) -> tuple[str, ...] | None:
        """The order with the ball in hand earlier or later; None where there is no such place."""
        order = list(self.own_order or (self.plan.order if self.plan is not None else ()))
        to = self.chosen + by
        if not 0 <= to < len(order):
            return None
        order[self.chosen], order[to] = order[to], order[self.chosen]
        return tuple(order)


def _choice(rack: Rack, state: State, step: Step) -> Choice | None:
    return next(
        (one for one in rack.order.choices[state] if one.ball == step.ball and one.opens == step.opens), None
    )


def other_group(problem: Problem) -> tuple[str, ...] | None:
    """The balls of the other group at eight-ball; None in another game or while both are on."""
    numbers = [int(ball) for ball in problem.on if ball.isdecimal() and ball != "8"]
    if problem.game != "eight_ball" or not numbers:
        return None
    other = "stripes" if max(numbers) < 8 else "solids"
    found: Sequence[str] = balls_on("eight_ball", problem.layout, other)
    return tuple(found) if found and "8" not in found else None
