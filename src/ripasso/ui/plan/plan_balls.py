"""The balls on Plan's table: put elsewhere, called otherwise, taken away, pasted from text; no widgets."""

from __future__ import annotations

from collections.abc import Callable

from ripasso.core.table.places import Place
from ripasso.core.table.placing import ImpossiblePlace
from ripasso.review.table.layouts import NoLayout, ball_name, layout_text, read_layout
from ripasso.ui.plan.plan_state import PlanState


class PlanBalls:
    """Changes the balls of a plan; `then` is called after each change."""

    def __init__(self, state: PlanState, say: Callable[..., None], then: Callable[[], None]) -> None:
        self._state, self._say, self._then = state, say, then

    def place(self, ball: str, place: Place) -> None:
        """Put a ball elsewhere."""
        try:
            self._state.place(ball, place)
        except ImpossiblePlace as error:
            self._say(str(error), "unsure")
        self._then()

    def in_hand(self) -> str | None:
        """The object ball that is meant, else the first one that is on."""
        problem = self._state.problem
        meant = problem.call[0] if problem.call else next(iter(problem.on), None)
        return meant if meant in problem.layout else None

    def rename(self, ball: str, text: str) -> None:
        """Another name for a ball, as somebody writes it."""
        try:
            name = ball_name(text.strip())
        except NoLayout as error:
            self._say(str(error), "unsure")
            return
        if "cue" in (ball, name):
            self._say("The cue ball keeps its name.", "unsure")
            return
        swapped = name in self._state.problem.layout and name != ball
        self._state.rename(ball, name)
        self._say(f"The {ball} is the {name} now{f', and the {name} the {ball}' if swapped else ''}.")
        self._then()

    def remove(self) -> None:
        """Take the ball that is meant off the table; the last one stays."""
        ball = self.in_hand()
        if ball is None or len(self._state.problem.layout) <= 2:
            self._say("One object ball stays on the table.", "unsure")
            return
        self._state.remove(ball)
        self._say(f"The {ball} is off the table.")
        self._then()

    def paste(self, text: str) -> None:
        """A layout from text, on the table in hand."""
        try:
            layout = read_layout(text)
        except NoLayout as error:
            self._say(str(error), "unsure")
            return
        if "cue" not in layout:
            self._say("A plan needs a cue ball: a line such as “cue 0.6 0.4”.", "unsure")
            return
        now = self._state.problem
        self._state.take(now.game, now.spec, layout, (), None, None)
        self._then()

    def text(self) -> str:
        """The layout as text."""
        return layout_text(self._state.problem.layout)
