"""The six usual causes and flags of a shot, each with its key; what is said is filled in."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QWidget

from ripasso.ui.actions import ActionBook
from ripasso.ui.review.desk import ReviewDesk
from ripasso.ui.review.keys import FLAG_ACTIONS
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.key_button import KeyButton

COLUMNS = 3


class FlagRow(QWidget):
    """Reads the desk."""

    def __init__(self, theme: Theme, desk: ReviewDesk, actions: ActionBook) -> None:
        super().__init__()
        self._desk = desk
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
            button.setEnabled(self._desk.shot is not None)
            button.set_chosen(self._desk.is_said(name))
