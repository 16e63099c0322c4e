"""The board of keys: everything one key can say of a shot, in groups, what is said filled in."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from ripasso.review.scoring.meant import POT_INTENTS
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label
from ripasso.ui.widgets.key_button import KeyButton

#: Columns of the board; each has a caption and its actions from top to bottom.
COLUMNS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Mark", ("strike", "rest", "take_back", "other_player", "note")),
    ("Shot", ("intent_safety", "intent_escape", "intent_push_out", "intent_two_way", "intent_break")),
    ("Result", ("potted", "missed", "missed_thick", "missed_thin", "luck_fluke")),
    (
        "Position",
        ("position_perfect", "position_good", "position_playable", "position_poor", "position_lost"),
    ),
    ("Missed by", ("pace_short", "pace_long", "side_wrong", "angle_too_straight", "angle_too_steep")),
    ("Judgement", ("decision_agree", "decision_other", "unforced", "forced", "words")),
    ("Foul", ("foul_scratch", "foul_first", "foul_no_contact", "foul_no_cushion", "other_foul_double_hit")),
)
#: What takes the place of pool's keys in a frame of snooker; rarer fouls have their keys on the sheet (F1).
IN_SNOOKER = {
    "intent_push_out": "free_ball",
    "intent_two_way": "replaced",
    "foul_no_cushion": "called_miss",
    "other_foul_double_hit": "other_foul_not_nominated",
}
_TONES = {
    "potted": "good",
    "missed": "bad",
    "missed_thick": "bad",
    "missed_thin": "bad",
    "position_perfect": "good",
    "position_good": "good",
    "position_poor": "bad",
    "position_lost": "bad",
    "pace_short": "bad",
    "pace_long": "bad",
    "side_wrong": "bad",
    "angle_too_straight": "bad",
    "angle_too_steep": "bad",
    "decision_agree": "good",
    "decision_other": "unsure",
    "luck_fluke": "unsure",
    "unforced": "bad",
    "called_miss": "bad",
}
_COMMANDS = ("strike", "rest", "take_back", "other_player", "note", "words")


class KeyBoard(QWidget):
    """Buttons for the keys of Review."""

    def __init__(self, theme: Theme, controller: ReviewController, actions: ActionRegistry) -> None:
        super().__init__()
        self._controller = controller
        self._buttons: dict[str, KeyButton] = {}
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(0)
        for column, (caption, names) in enumerate(COLUMNS):
            stack = QVBoxLayout()
            stack.setSpacing(3)
            stack.addWidget(label(caption, "caption"))
            for name in names:
                for shown in (name, IN_SNOOKER.get(name)):
                    if shown is not None:
                        stack.addWidget(self._button(theme, actions, shown))
            stack.addStretch(1)
            grid.addLayout(stack, 0, column, Qt.AlignmentFlag.AlignTop)
            grid.setColumnStretch(column, 1)

    def _button(self, theme: Theme, actions: ActionRegistry, name: str) -> KeyButton:
        tone = "bad" if "foul" in name else _TONES.get(name, "ink")
        button = KeyButton(theme, actions[name], actions.spec(name).hint, tone)
        self._buttons[name] = button
        return button

    def refresh(self) -> None:
        """Fill in what is said of the shot in hand."""
        shot = self._controller.shot
        has_shot = shot is not None
        # That nothing fell is a failure of a pot only.
        meant_pot = shot is None or shot.record.intent in (None, *POT_INTENTS)
        self._buttons["missed"].set_tone("bad" if meant_pot else "ink")
        snapshot = self._controller.snapshot
        is_snooker = snapshot is not None and snapshot.head.game == "snooker"
        for pool, snooker in IN_SNOOKER.items():
            self._buttons[pool].setVisible(not is_snooker)
            self._buttons[snooker].setVisible(is_snooker)
        for name, button in self._buttons.items():
            if name in _COMMANDS:
                button.setEnabled(has_shot or name in ("strike", "rest"))
            else:
                button.setEnabled(has_shot)
                button.set_chosen(self._controller.is_set(name))
                button.set_proposed(self._controller.is_proposed(name))

    def button(self, name: str) -> KeyButton:
        """The button of an action."""
        return self._buttons[name]
