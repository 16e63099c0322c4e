"""The break sheet on screen: a digit a line, Return or Escape closes it. Every press is stored at once."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ripasso.core.table import table_spec
from ripasso.review.entry.break_sheet import digit_of, measured_values, places_words, sheet_for, value_of
from ripasso.review.language.vocabulary import sentence, word
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label


class BreakDialog(GuidedDialog):
    """Shows the lines of the shot in hand; digits go through their values."""

    place = "opens the break sheet"

    def __init__(
        self,
        theme: Theme,
        controller: ReviewController,
        parent: QWidget | None = None,
        leave: float | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Break sheet")
        self._controller = controller
        shot, snapshot = controller.shot, controller.snapshot
        self._lines = sheet_for(snapshot.head.game, shot.record) if shot and snapshot else ()
        self._values: list[QLabel] = []
        self._measured = measured_values(snapshot.head, shot.record, leave) if shot and snapshot else {}
        grid = QGridLayout()
        grid.setHorizontalSpacing(theme.px(16))
        grid.setVerticalSpacing(theme.px(6))
        for row, line in enumerate(self._lines):
            button = QPushButton(digit_of(row))
            button.setAccessibleName(f"{word('sheet_' + line.name)}, key {digit_of(row)}")
            button.setAutoDefault(False)
            button.setFixedWidth(theme.px(34))
            button.clicked.connect(lambda _checked=False, place=row: self._press(place))
            value = label("", "title")
            value.setMinimumWidth(theme.px(120))
            self._values.append(value)
            grid.addWidget(button, row, 0)
            grid.addWidget(label(sentence(word(f"sheet_{line.name}"))), row, 1)
            grid.addWidget(value, row, 2)
            if line.name in self._measured:
                button.setEnabled(False)
                button.setToolTip("Measured from the layouts, which wins over what is said")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addWidget(label("A digit goes through the values of its line; Return closes", "caption"))
        layout.addLayout(grid)
        places = places_words(self._measured, table_spec(snapshot.head.table) if snapshot else None)
        if places:
            layout.addWidget(label(places, wrap=True))
        self._refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape):
            self.accept()
            return
        digits = [digit_of(row) for row in range(len(self._lines))]
        if event.text() in digits and self._lines[digits.index(event.text())].name not in self._measured:
            self._press(digits.index(event.text()))
        else:
            super().keyPressEvent(event)

    def _press(self, place: int) -> None:
        self._controller.break_line(self._lines[place])
        self._refresh()

    def _refresh(self) -> None:
        shot = self._controller.shot
        for line, shown in zip(self._lines, self._values, strict=True):
            if line.name in self._measured:
                shown.setText(f"{line.shown(self._measured[line.name])}, measured")
            else:
                shown.setText(line.shown(value_of(shot.record, line)) if shot else "")
