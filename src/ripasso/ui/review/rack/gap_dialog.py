"""Asks for the score at which a film goes on after racks it does not show."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QDialog,
    QFormLayout,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.vocabulary import rack_word
from ripasso.review.present.describing import player_name
from ripasso.ui.widgets.basics import label, save_or_cancel


class GapDialog(QDialog):
    """One number a side; `score()` is what was stated."""

    def __init__(self, snapshot: Snapshot, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        what = rack_word(snapshot.head.game)
        self.setWindowTitle(f"{what.capitalize()}s not shown")
        now = dict(snapshot.score.score) if snapshot.score else {}
        sides = list(now) or [p.id for p in snapshot.head.players or ()]
        self._fields = {side: QSpinBox() for side in sides}
        form = QFormLayout()
        for side, field in self._fields.items():
            field.setRange(-999, 9999)
            field.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
            field.setValue(now.get(side, 0))
            field.setAccessibleName(f"Score of {player_name(snapshot.head, side)}")
            form.addRow(label(player_name(snapshot.head, side)), field)
        buttons = save_or_cancel(self, "Go on")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addWidget(label("The score when the film goes on", "title"))
        layout.addWidget(label("No streak, run or pace is counted across the gap.", "caption"))
        layout.addLayout(form)
        layout.addWidget(buttons)
        first = next(iter(self._fields.values()), None)
        if first is not None:
            first.setFocus()
            first.selectAll()

    def score(self) -> dict[str, int]:
        """The stated score by side."""
        return {side: field.value() for side, field in self._fields.items()}
