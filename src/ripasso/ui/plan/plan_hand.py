"""The mouse on Plan's table: a drag from the cloth turns the aim, a drag from a ball moves it."""

from __future__ import annotations

import math

from ripasso.core.table.places import Place
from ripasso.ui.plan.plan_controller import PlanController


class PlanHand:
    """Takes gestures as the diagram of Review does; clicks go on to balls and pockets."""

    looking = True

    def __init__(self, controller: PlanController) -> None:
        self._controller = controller
        self._ball: str | None = None

    def grasp(self, place: Place, *, reach_m: float = 0.0) -> bool:
        """A drag begins: on a ball it takes the ball along, elsewhere it turns the aim."""
        layout = self._controller.state.problem.layout
        near = min(layout, key=lambda ball: math.dist(layout[ball], place), default=None)
        is_on = near is not None and math.dist(layout[near], place) <= reach_m
        self._ball = near if is_on else None
        return True

    def move(self, place: Place) -> None:
        """The mouse is dragged."""
        if self._ball is None:
            self._controller.point(place)
        else:
            self._controller.balls.place(self._ball, place)

    def release(self, place: Place) -> None:
        """The button goes up."""
        self.move(place)
        self._ball = None

    def press(self, place: Place, *, also: bool = False, reach_m: float = 0.0) -> None:
        """Only drags and clicks mean something."""

    def hover(self, place: Place) -> None:
        """Nothing."""

    def finish(self) -> None:
        """Nothing."""
