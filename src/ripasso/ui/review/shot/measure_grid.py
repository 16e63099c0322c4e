"""The measures of a shot in the slip: names and values in two columns, each with its definition as a tip."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QSizePolicy, QWidget

from ripasso.review.present.measure_words import MeasureLine
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import as_it_stands, empty, label

#: Values longer than this take the whole width.
WIDE = 25
#: Below this width there is one column.
NARROW_PX = 400


class MeasureGrid(QWidget):
    """Shows measures; nothing takes the focus, a screen reader reads the whole as one description."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._lines: list[MeasureLine] = []
        self._narrow = False
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(1)
        self._grid.setColumnStretch(1, 1)
        self._grid.setColumnStretch(3, 1)
        self.setAccessibleName("Measures")

    def show_lines(self, lines: Sequence[MeasureLine]) -> None:
        """Show these measures."""
        if list(lines) != self._lines:
            self._lines = list(lines)
            self._lay()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        narrow = self.width() < self._theme.px(NARROW_PX)
        if narrow != self._narrow:
            self._narrow = narrow
            self._lay()

    def _lay(self) -> None:
        """Put the lines in their places: two columns, one where the window is narrow."""
        lines = self._lines
        empty(self._grid)
        row, column = 0, 0
        for line in lines:
            wide = self._narrow or len(line.value) > WIDE
            if wide and column:
                row, column = row + 1, 0
            self._show_line(line, row, column, wide=wide)
            row, column = (row, 2) if not wide and column == 0 else (row + 1, 0)
        self.setVisible(bool(lines))
        self.setAccessibleDescription("; ".join(f"{line.name}: {line.value}" for line in lines))

    def _show_line(self, line: MeasureLine, row: int, column: int, *, wide: bool) -> None:
        name, value = label(line.name, "caption"), label(line.value, "measure", wrap=wide)
        for part in (name, value):
            part.setToolTip(as_it_stands(f"{line.name}: {line.value}\n{line.tip}"))
        if not wide:  # in a narrow window a value is cut rather than the whole slip
            value.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        if line.tone != "ink":
            value.setStyleSheet(f"color: {self._theme.hex(line.tone)}")
        self._grid.addWidget(name, row, column)
        self._grid.addWidget(value, row, column + 1, 1, 3 if wide else 1)

    def text(self, name: str) -> str:
        """The value shown for a measure, empty where it is not shown."""
        return next((line.value for line in self._lines if line.name == name), "")
