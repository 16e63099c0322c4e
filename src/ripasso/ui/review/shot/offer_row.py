"""The first line of the slip: what the state allows, as balls to click and choices with their keys."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from ripasso.core.rules.snooker import COLOURS
from ripasso.review.language.vocabulary import ball_word
from ripasso.review.present.offers import CHOICES, Offers, offers_for
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.ball_button import BallButton
from ripasso.ui.widgets.basics import label
from ripasso.ui.widgets.key_button import KeyButton

#: As many balls leave room for what is to be done with them.
ROOM = 10


class OfferRow(QWidget):
    """Reads the controller; a click says what the ball's digits, or the choice's key, would say."""

    def __init__(self, theme: Theme, controller: ReviewController, actions: ActionRegistry) -> None:
        super().__init__()
        self._theme, self._controller = theme, controller
        self._shown: tuple[str, ...] = ()
        self.balls: list[BallButton] = []
        self._lead, self._hint = label("", "caption"), label("", "caption")
        line = QHBoxLayout()
        line.setSpacing(0)
        line.addWidget(self._lead)
        line.addSpacing(theme.px(6))
        self._places = QHBoxLayout()
        self._places.setSpacing(theme.px(1))
        line.addLayout(self._places)
        line.addSpacing(theme.px(8))
        line.addWidget(self._hint)
        line.addStretch(1)
        self._choices = QWidget()
        row = QHBoxLayout(self._choices)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(6))
        self.choices: dict[str, KeyButton] = {}
        for action in dict.fromkeys(CHOICES.values()):
            button = KeyButton(theme, actions[action], actions.spec(action).hint)
            self.choices[action] = button
            row.addWidget(button)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(theme.px(4))
        layout.addLayout(line)
        layout.addWidget(self._choices)

    def refresh(self) -> None:
        """Show what is allowed for the shot in hand."""
        snapshot, shot = self._controller.snapshot, self._controller.shot
        offers = Offers()
        if snapshot is not None and shot is not None:
            offers = offers_for(snapshot.head, shot.record, self._controller.shot_score)
        self._lead.setText(offers.lead)
        self._hint.setText(offers.hint)
        # Beside a whole table of balls there is no room for words.
        self._hint.setVisible(len(offers.balls) <= ROOM)
        self._lead.setToolTip(offers.hint)
        self._show_balls(offers.balls)
        for button in self.balls:
            button.setChecked(button.ball == offers.chosen)
        for action, choice in self.choices.items():
            choice.setVisible(action in offers.actions)
            choice.set_chosen(action != "other_player" and self._controller.is_set(action))
        self._choices.setVisible(bool(offers.actions))
        self.setVisible(bool(offers.balls or offers.actions))

    def _show_balls(self, balls: tuple[str, ...]) -> None:
        if balls == self._shown:
            return
        self._shown = balls
        for old in self.balls:
            self._places.removeWidget(old)
            old.hide()
            old.deleteLater()
        self.balls = [self._ball(ball) for ball in balls]
        for button in self.balls:
            self._places.addWidget(button)

    def _ball(self, ball: str) -> BallButton:
        value = str(COLOURS.index(ball) + 2) if ball in COLOURS else ""
        if ball == "red":
            value = "1"
        words = ball_word(ball) if value else f"ball {ball}"
        button = BallButton(self._theme, ball, words, value)
        button.clicked.connect(lambda: self._say(ball))
        return button

    def _say(self, ball: str) -> None:
        if ball == "red":
            self._controller.digit("1")
        else:
            self._controller.meant_ball(ball)
        self.refresh()
