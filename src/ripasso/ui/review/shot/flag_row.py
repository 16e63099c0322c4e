"""The six usual causes and flags of a shot, each with its key; what is said is filled in."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QWidget

from ripasso.ui.actions import ActionRegistry
from ripasso.ui.review.state.keys import FLAG_ACTIONS
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.key_button import KeyButton

COLUMNS = 3


class FlagRow(QWidget):
    """Reads the controller."""

    def __init__(self, theme: Theme, controller: ReviewController, actions: ActionRegistry) -> None:
        super().__init__()
        self._controller = controller
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(theme.px(4))
        self.buttons: dict[str, KeyButton] = {}
        for place, spec in enumerate(FLAG_ACTIONS):
            button = KeyButton(theme, actions[spec.id], actions.spec(spec.id).hint, "unsure")
            self.buttons[spec.id] = button
            grid.addWidget(button, place // COLUMNS, place % COLUMNS)

    def refresh(self) -> None:
        """Fill in what is said of the shot in hand."""
        for name, button in self.buttons.items():
            button.setEnabled(self._controller.shot is not None)
            button.set_chosen(self._controller.is_said(name))
