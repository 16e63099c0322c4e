"""What is drawn on the table at this moment: each mark with a sample and what it means."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QFrame, QGridLayout, QLabel, QWidget

from ripasso.drawing.legend import Mark
from ripasso.review.language.vocabulary import word
from ripasso.ui.painting import picture_of
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label

SAMPLE_PX = 54


class LegendView(QFrame):
    """Stands over the window until a key or a click anywhere."""

    def __init__(self, theme: Theme, marks: Sequence[Mark], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("legend")
        self.words = [word(mark.word) for mark in marks]
        self.setAccessibleName("What is drawn on the table")
        self.setAccessibleDescription("; ".join(self.words))
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 10, 12, 10)
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(6)
        grid.addWidget(label("On the table now", "title"), 0, 0, 1, 2)
        for row, (mark, words) in enumerate(zip(marks, self.words, strict=True), start=1):
            sample = QLabel()
            sample.setPixmap(QPixmap.fromImage(picture_of(mark.sample, theme, theme.px(SAMPLE_PX))))
            grid.addWidget(sample, row, 0)
            grid.addWidget(label(words), row, 1)
        if not marks:
            grid.addWidget(label("Nothing but the balls."), 1, 0, 1, 2)

    def show_above(self, place: QPoint) -> None:
        """Show it with its lower left corner at a place of the screen, as far as it has room."""
        self.adjustSize()
        screen = self.screen()
        area = screen.availableGeometry() if screen is not None else None
        left, top = place.x(), place.y() - self.height()
        if area is not None:
            left = max(area.left(), min(left, area.right() - self.width()))
            top = max(area.top(), top)
        self.move(left, top)
        self.show()
