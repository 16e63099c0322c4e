"""The rack worked out: the order with its curve, what a coach would say of it, and a lesson's question."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ripasso.core.planning.backward.plans import Step
from ripasso.review.language.vocabulary import pocket_letters
from ripasso.review.present.rack_plan_words import own_order_words, plan_lines
from ripasso.review.present.reading_words import reading_lines
from ripasso.ui.plan.chain_view import ChainBall, ChainView
from ripasso.ui.plan.rack_controller import RackController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label

NOTHING_YET = "C works the rack out backwards: order, pockets, zones and the chance to clear."
BEING_DONE = "The rack is being worked out."
UNREAD = "T reads the table: pockets, clusters, links, groups, break balls."


class RackPage(QWidget):
    """Shows what a controller knows of its rack."""

    def __init__(self, theme: Theme, controller: RackController, game: str) -> None:
        super().__init__()
        self._controller, self.game = controller, game
        self.chain = ChainView(theme)
        self.chain.chosen.connect(controller.choose)
        self.chain.moved.connect(self._reorder)
        self._lines = label("", wrap=True)
        self._lines.setAccessibleName("The plan in words")
        column = QVBoxLayout(self)
        column.setContentsMargins(4, 2, 4, 2)
        column.addWidget(self.chain)
        self._lines.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(self._lines, 1)

    def _reorder(self, old: int, new: int) -> None:
        state = self._controller.state
        order = list(state.own_order or (state.plan.order if state.plan is not None else ()))
        if old < len(order) and new < len(order) and state.lesson is None:
            order.insert(new, order.pop(old))
            self._controller.set_order(tuple(order))

    def _chain_ball(self, step: Step) -> ChainBall:
        return ChainBall(step.ball, pocket_letters(step.pocket, self.game), step.value, step.hard)

    def _own_balls(self, order: Sequence[str]) -> list[ChainBall]:
        """Somebody's own order, with its chances as far as they are known."""
        own = self._controller.state.own_plan
        known = [self._chain_ball(step) for step in own.steps] if own is not None else []
        return [*known, *(ChainBall(ball, "", None) for ball in order[len(known) :])]

    def text(self) -> str:
        """What is said, line by line."""
        return self._lines.text()

    def refresh(self) -> None:
        """Show what is known now."""
        controller, state = self._controller, self._controller.state
        plan = state.plan
        self.chain.setVisible(plan is not None)
        if plan is None:
            self.chain.show_balls((), 0)
            self._lines.setText(BEING_DONE if controller.share is not None else NOTHING_YET)
            return
        if state.own_order is not None and state.lesson is None:
            beside = [step.value for step in plan.steps]
            self.chain.show_balls(self._own_balls(state.own_order), state.chosen, beside)
        else:
            self.chain.show_balls([self._chain_ball(step) for step in state.steps], state.chosen)
        lines = plan_lines(plan, self.game, state.decides)
        if state.worked is not None and not state.worked.fine:
            lines[0] = f"First answer, on a wide net. {lines[0]}"
        if state.own_order is not None:
            own = state.own_plan.clear if state.own_plan is not None else None
            lines.insert(0, own_order_words(state.own_order, own, plan))
        if zone := controller.zone_words():
            lines.append(zone)
        if state.lesson is not None:
            lines = [controller.lesson_words()]
        self._lines.setText("\n".join(lines))


class ReadingPage(QWidget):
    """The sentences of a table's reading."""

    def __init__(self, controller: RackController, game: str) -> None:
        super().__init__()
        self._controller, self.game = controller, game
        self._lines = label("", wrap=True)
        self._lines.setAccessibleName("The table in words")
        column = QVBoxLayout(self)
        column.setContentsMargins(4, 2, 4, 2)
        self._lines.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(self._lines)

    def text(self) -> str:
        """What is said, line by line."""
        return self._lines.text()

    def refresh(self) -> None:
        """Show what is known now."""
        reading = self._controller.state.reading
        self._lines.setText("\n".join(reading_lines(reading, self.game)) if reading is not None else UNREAD)
