"""Asks for an exercise: its kind, what it asks for, how long it takes; new, or one that is changed."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QLineEdit,
    QPlainTextEdit,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.json_data import JsonObject
from ripasso.review.practice.exercises import ATTEMPTS, MINUTES, SHARE
from ripasso.review.practice.words import KINDS
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.practice import Exercise
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.widgets.basics import label, save_or_cancel

CARE_KINDS = "A ladder has a line for each rung, a decision one for each of its two ways."


class ExerciseDialog(GuidedDialog):
    """`values()` is what was asked for; `player()` whose it is (only asked for a new one)."""

    place = "makes the shot in hand an exercise"

    def __init__(
        self,
        players: Sequence[str] = (),
        exercise: Exercise | None = None,
        parent: QWidget | None = None,
        layouts: Sequence[KeptLayout] = (),
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("New exercise" if exercise is None else "Change the exercise")
        self._exercise = exercise
        self.title = QLineEdit(exercise.title if exercise is not None else "")
        self.title.setPlaceholderText("such as: stun from the 5 to the 6")
        self.kind = QComboBox()
        for kind, words in KINDS.items():
            self.kind.addItem(words, kind)
        self.layouts = QComboBox()
        self.layouts.addItem("none", None)
        for one in layouts:
            self.layouts.addItem(one.title, one)
        self.layouts.activated.connect(self._take_layout)
        self.players = QComboBox()
        self.players.setEditable(True)
        self.players.addItems(players)
        self.share, self.made, self.of = _number(0, 100, " %"), _number(0, 100), _number(0, 200)
        self.attempts, self.minutes = _number(0, 500), _number(1, 180, " min")
        self.parts = QPlainTextEdit()
        self.parts.setPlaceholderText(CARE_KINDS)
        self.parts.setFixedHeight(4 * self.fontMetrics().lineSpacing() + 12)
        self.parts.setTabChangesFocus(True)
        self.warning = label("", "warning", wrap=True)
        self._fill(exercise)
        self._compose()
        self.kind.currentIndexChanged.connect(self._follow_kind)
        self._follow_kind()

    def _compose(self) -> None:
        form = QFormLayout()
        if self._exercise is None:
            form.addRow("Pl&ayer", self.players)
        if self.layouts.count() > 1:
            form.addRow("Kept &layout", self.layouts)
        for words, field in (
            ("&Title", self.title),
            ("&Kind", self.kind),
            ("&Share asked (lower end)", self.share),
            ("or &made", self.made),
            ("&of so many in a row", self.of),
            ("Atte&mpts a set", self.attempts),
            ("Mi&nutes", self.minutes),
            ("&Rungs or ways", self.parts),
        ):
            form.addRow(words, field)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.addLayout(form)
        layout.addWidget(self.warning)
        layout.addWidget(save_or_cancel(self, "Save", self._save))
        self.setMinimumWidth(460)
        self.title.setFocus()

    def _fill(self, exercise: Exercise | None) -> None:
        goal = exercise.goal if exercise is not None else None
        share = (goal.share if goal is not None else None) or 0
        self.share.setValue(round(100 * float(SHARE if exercise is None else share)))
        self.made.setValue((goal.made if goal is not None else None) or 0)
        self.of.setValue((goal.of if goal is not None else None) or 0)
        self.attempts.setValue(ATTEMPTS if exercise is None else exercise.attempts or 0)
        self.minutes.setValue(MINUTES if exercise is None else exercise.minutes or MINUTES)
        if exercise is not None:
            self.kind.setCurrentIndex(max(0, self.kind.findData(exercise.kind)))
            self.parts.setPlainText("\n".join(exercise.rungs or exercise.ways or ()))

    def _follow_kind(self) -> None:
        self.parts.setEnabled(self.kind.currentData() in ("ladder", "two_ways"))

    def _take_layout(self) -> None:
        """A kept layout lends its name to an exercise that has none."""
        kept: KeptLayout | None = self.layouts.currentData()
        if kept is not None and not self.title.text().strip():
            self.title.setText(kept.title)

    def _save(self) -> None:
        if not self.title.text().strip():
            self.warning.setText("An exercise has a title.")
            self.title.setFocus()
            return
        if self._exercise is None and not self.player():
            self.warning.setText("An exercise belongs to a player.")
            self.players.setFocus()
            return
        self.accept()

    def player(self) -> str:
        """The name of the player."""
        return " ".join(self.players.currentText().split())

    def values(self) -> JsonObject:
        """The values of the exercise; None takes one away."""
        goal: JsonObject = {}
        if self.share.value():
            goal["share"] = self.share.value() / 100
        if self.made.value():
            goal["made"] = self.made.value()
            if self.of.value():
                goal["of"] = self.of.value()
        kind = self.kind.currentData()
        parts = [line.strip() for line in self.parts.toPlainText().splitlines() if line.strip()]
        kept: KeptLayout | None = self.layouts.currentData()
        placed = {ball: list(place) for ball, place in kept.layout.items()} if kept is not None else None
        return {
            **({"layout": placed, "from_layout": kept.id} if kept is not None else {}),
            "title": self.title.text().strip(),
            "kind": kind,
            "goal": goal or None,
            "attempts": self.attempts.value() or None,
            "minutes": self.minutes.value(),
            "rungs": parts if kind == "ladder" and parts else None,
            "ways": parts[:2] if kind == "two_ways" and parts else None,
        }


def _number(low: int, high: int, suffix: str = "") -> QSpinBox:
    box = QSpinBox()
    box.setRange(low, high)
    box.setSuffix(suffix)
    box.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
    if low == 0:
        box.setSpecialValueText("none")
    return box
