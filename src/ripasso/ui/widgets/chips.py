"""A row of chips that wraps: what was said, each with its tone."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ripasso.review.present.describing import Chip
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.painted import painted

GAP = 6


class ChipRow(QWidget):
    """Paints chips from left to right, on as many lines as they need."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._chips: tuple[Chip, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName("What was said of the shot")

    def show_chips(self, chips: Sequence[Chip]) -> None:
        """Show these chips."""
        shown = tuple(chips)
        if shown != self._chips:
            self._chips = shown
            self.setAccessibleDescription(
                ", ".join(f"{chip.text}, proposed" if chip.proposed else chip.text for chip in chips)
            )
            self.setMinimumHeight(self._height(max(1, self.width())))
            self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.setMinimumHeight(self._height(max(1, self.width())))

    def sizeHint(self) -> QSize:
        return QSize(200, self._height(max(200, self.width())))

    def _row_px(self) -> int:
        return self._theme.px(24)

    def _places(self, width: int) -> list[tuple[Chip, QRectF]]:
        metrics = self.fontMetrics()
        x, y, row = 0.0, 0.0, self._row_px()
        places = []
        for chip in self._chips:
            wide = metrics.horizontalAdvance(chip.text) + self._theme.px(20)
            wide += row if chip.tip is not None else 0
            if x > 0 and x + wide > width:
                x, y = 0.0, y + row + GAP
            places.append((chip, QRectF(x + 0.5, y + 0.5, min(wide, width) - 1, row - 1)))
            x += wide + GAP
        return places

    def _height(self, width: int) -> int:
        places = self._places(width)
        return int(places[-1][1].bottom()) + 2 if places else self._row_px()

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self._theme
        painter.setFont(theme.font())
        if not self._chips:
            painter.setPen(theme.colour("quiet"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, "Nothing is said of this shot yet")
            return
        for chip, box in self._places(self.width()):
            plain = chip.tone == "plain"
            role = "ink" if plain else chip.tone
            # A proposal is an outline only: nobody has said it yet.
            painter.setBrush(theme.colour("raised" if chip.proposed else role))
            style = Qt.PenStyle.DashLine if chip.proposed else Qt.PenStyle.SolidLine
            painter.setPen(QPen(theme.colour(role), 1, style))
            painter.drawRoundedRect(box, box.height() / 2, box.height() / 2)
            painter.setPen(theme.colour(role if chip.proposed else "on_accent"))
            words = box
            if chip.tip is not None:
                self._paint_tip(painter, box, chip.tip)
                words = box.adjusted(self._row_px(), 0, 0, 0)
            painter.drawText(words, Qt.AlignmentFlag.AlignCenter, chip.text)

    def _paint_tip(self, painter: QPainter, box: QRectF, tip: tuple[float, float]) -> None:
        """A small cue ball as the player sees it, and where the tip met it."""
        radius = 0.36 * box.height()
        centre = QPointF(box.left() + 0.62 * box.height(), box.center().y())
        pen = painter.pen()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._theme.colour("ball.cue"))
        painter.drawEllipse(centre, radius, radius)
        painter.setBrush(self._theme.colour("bad"))
        at = QPointF(centre.x() + tip[0] * radius, centre.y() - tip[1] * radius)
        painter.drawEllipse(at, 0.3 * radius, 0.3 * radius)
        painter.setPen(pen)
