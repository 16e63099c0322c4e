"""Balls placed on a table by clicks: the ball in hand goes where the click is, and the next one follows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.core.table.placing import ImpossiblePlace, settle
from ripasso.drawing import TableScene
from ripasso.review.language.vocabulary import ball_word
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, save_or_cancel, set_property
from ripasso.ui.widgets.pointer_handler import ClickHandler
from ripasso.ui.widgets.table_view import TableView

COLUMNS = 12


class PlaceBallsDialog(GuidedDialog):
    """`placed` are the balls with their places, in metres."""

    place = "asks how the next rack begins"

    def __init__(
        self,
        theme: Theme,
        spec: TableSpec,
        balls: Sequence[str],
        placed: Mapping[str, Place],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Balls on the table")
        self._spec, self._balls = spec, ("cue", *balls)
        self.placed: dict[str, Place] = dict(placed)
        self._order: list[str] = list(placed)
        self.table = TableView(theme)
        self.table.hand = ClickHandler(self._place)
        self.told = label("", "caption", wrap=True)
        self._group = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        grid = QGridLayout()
        grid.setSpacing(4)
        for place, ball in enumerate(self._balls):
            button = self.buttons[ball] = QPushButton(_button_words(ball))
            button.clicked.connect(lambda _checked=False: self._show())
            button.setCheckable(True)
            button.setAutoDefault(False)
            self._group.addButton(button)
            grid.addWidget(button, place // COLUMNS, place % COLUMNS)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(10)
        layout.addWidget(label("Click where each ball lies", "title"))
        layout.addWidget(label("Backspace takes the last one back; a ball that is chosen moves.", "caption"))
        layout.addWidget(self.table, 1)
        layout.addLayout(grid)
        layout.addWidget(self.told)
        layout.addWidget(save_or_cancel(self, "Take these balls"))
        self.resize(theme.px(940), theme.px(640))
        self._choose_next()

    @property
    def ball(self) -> str | None:
        """The ball that the next click places."""
        return next((ball for ball, button in self.buttons.items() if button.isChecked()), None)

    def _choose_next(self) -> None:
        waiting = next((ball for ball in self._balls if ball not in self.placed), None)
        self.buttons[waiting or self._balls[0]].setChecked(True)
        self._show()

    def _show(self) -> None:
        for ball, button in self.buttons.items():
            mark = "✓ " if ball in self.placed else ""
            button.setText(f"{mark}{_button_words(ball)}")
            set_property(button, "main", button.isChecked())
        left = len(self._balls) - len(self.placed)
        set_property(self.told, "tone", "plain")
        self.told.setText(f"{len(self.placed)} placed; {left} are not on the table, or not placed yet.")
        held = self.ball if self.ball in self.placed else None
        self.table.show_scene(TableScene(self._spec, dict(self.placed), held=held))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Backspace and self._order:
            ball = self._order.pop()
            del self.placed[ball]
            self.buttons[ball].setChecked(True)
            self._show()
            return
        super().keyPressEvent(event)

    def _place(self, place: Place) -> None:
        """The ball in hand lies here."""
        ball = self.ball
        if ball is None:
            return
        others = {name: at for name, at in self.placed.items() if name != ball}
        try:
            at = settle(self._spec, others, ball, place).place
        except ImpossiblePlace as error:
            set_property(self.told, "tone", "bad")
            self.told.setText(str(error))
            return
        self.placed[ball] = at
        self._order = [name for name in self._order if name != ball] + [ball]
        self._choose_next()


def _button_words(ball: str) -> str:
    """Reds are told apart by their numbers."""
    if ball == "cue":
        return "cue ball"
    return f"red {ball.removeprefix('red')}" if ball.startswith("red") else ball_word(ball)
