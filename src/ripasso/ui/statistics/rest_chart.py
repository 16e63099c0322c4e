"""The chart of rest points about the aim point: each dot is a shot, and opens it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from ripasso.core.measures.rest_points import RestPoints, region_outline
from ripasso.ui.speech import said
from ripasso.ui.theme import CAPTION_PX, TEXT_PX, Theme

#: Steps of the rings, metres; how far the outermost points may lie outside (share of points).
RINGS_M, OUTSIDE = (0.1, 0.2, 0.3, 0.5, 1.0), 0.02
REACH_PX = 9  # of the mouse


class RestChart(QWidget):
    """Across to the sides, along upwards; `opened` carries the place of a shot in the columns."""

    opened = pyqtSignal(int)

    def __init__(self, theme: Theme, words_of: Callable[[int], str]) -> None:
        super().__init__()
        self._theme, self._words_of = theme, words_of
        self.found: RestPoints | None = None
        self._title = ""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(theme.px(250))
        self.setMouseTracking(True)
        self.setAccessibleName("Rest points around the aim point")

    def show_points(self, found: RestPoints, title: str) -> None:
        """Show these; `title` names the player."""
        self.found, self._title = found, title
        self.setAccessibleDescription(f"{title}: {self.sentence()}")
        self.update()

    def sentence(self) -> str:
        """The middle of the points in words."""
        if self.found is None or not len(self.found.points):
            return "no made pot with an aim point"
        across, along = (100 * value for value in self.found.middle)
        ways = f"{abs(along):.0f} cm {'long' if along >= 0 else 'short'}"
        sides = f"{abs(across):.0f} cm {'left' if across >= 0 else 'right'}"
        return f"median {ways}, {sides}; {len(self.found.points)} shots"

    def _scale(self) -> tuple[float, QPointF, float]:
        """Pixels a metre, the middle of the picture, the step of the rings."""
        assert self.found is not None
        far = np.abs(self.found.points).max(axis=1) if len(self.found.points) else np.array([0.3])
        reach = max(0.2, float(np.quantile(far, 1 - OUTSIDE)) * 1.1)
        box = QRectF(self.rect()).adjusted(0, self._theme.px(34), 0, -self._theme.px(22))
        step = next((one for one in RINGS_M if 3 * one >= reach), RINGS_M[-1])
        return box.height() / 2 / reach, box.center(), step

    def at(self, place: int) -> QPointF:
        """Where the point of that number is drawn."""
        assert self.found is not None
        scale, middle, _ = self._scale()
        across, along = self.found.points[place]
        # Left of the way is left: across grows to the left.
        return QPointF(middle.x() - scale * float(across), middle.y() - scale * float(along))

    def paintEvent(self, _event: object) -> None:
        painter, theme = QPainter(self), self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(TEXT_PX, weight=600))
        painter.setPen(theme.colour("ink"))
        painter.drawText(QPointF(theme.px(8), theme.px(18)), said("Rest points around the aim point"))
        painter.setFont(theme.font(CAPTION_PX))
        painter.setPen(theme.colour("quiet"))
        line = QRectF(theme.px(8), theme.px(6), self.width() - theme.px(16), theme.px(18))
        painter.drawText(line, Qt.AlignmentFlag.AlignRight, f"{self._title}: {self.sentence()}")
        if self.found is None or not len(self.found.points):
            return
        scale, middle, step = self._scale()
        self._paint_rings(painter, scale, middle, step)
        outline = [
            QPointF(middle.x() - scale * x, middle.y() - scale * y)
            for x, y in region_outline(self.found).tolist()
        ]
        if outline:
            painter.setPen(QPen(theme.colour("accent"), 1.4, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolygon(QPolygonF(outline))
        for place, hit in enumerate(self.found.hit.tolist()):
            colour = theme.colour("accent" if hit == 1 else "bad" if hit == 0 else "ghost")
            painter.setPen(QPen(colour, 1.4))
            painter.setBrush(colour if hit == 1 else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(self.at(place), 3.2, 3.2)
        self._paint_middle(painter, scale, middle)
        painter.setPen(theme.colour("quiet"))
        legend = "filled: in the zone; hollow: outside; grey: no zone; dashed: nine in ten"
        painter.drawText(QPointF(theme.px(8), self.height() - theme.px(6)), said(legend))

    def _paint_rings(self, painter: QPainter, scale: float, middle: QPointF, step: float) -> None:
        theme = self._theme
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        high = self.height() / 2
        painter.drawLine(QPointF(middle.x(), theme.px(30)), QPointF(middle.x(), self.height() - theme.px(20)))
        painter.drawLine(QPointF(theme.px(60), middle.y()), QPointF(self.width() - theme.px(60), middle.y()))
        for ring in (1, 2, 3):
            radius = ring * step * scale
            if radius < high:
                painter.setPen(QPen(theme.colour("line"), 1))
                painter.drawEllipse(middle, radius, radius)
                painter.setPen(theme.colour("quiet"))
                place = middle + QPointF(theme.px(3), -radius - 2)
                painter.drawText(place, f"{100 * ring * step:.0f} cm")
        painter.setPen(theme.colour("quiet"))
        for words, place in (
            ("long", QPointF(middle.x() - theme.px(30), theme.px(40))),
            ("short", QPointF(middle.x() - theme.px(34), self.height() - theme.px(24))),
            ("left", QPointF(theme.px(30), middle.y() + theme.px(4))),
            ("right", QPointF(self.width() - theme.px(54), middle.y() + theme.px(4))),
        ):
            painter.drawText(place, said(words))

    def _paint_middle(self, painter: QPainter, scale: float, middle: QPointF) -> None:
        assert self.found is not None
        across, along = self.found.middle
        cross = QPointF(middle.x() - scale * across, middle.y() - scale * along)
        painter.setPen(QPen(self._theme.colour("ink"), 2.4))
        for dx, dy in ((7, 0), (0, 7)):
            painter.drawLine(cross - QPointF(dx, dy), cross + QPointF(dx, dy))

    def nearest(self, place: QPointF) -> int | None:
        """The point under the mouse, by its number."""
        if self.found is None or not len(self.found.points):
            return None
        gaps = [
            (self.at(i) - place).x() ** 2 + (self.at(i) - place).y() ** 2
            for i in range(len(self.found.points))
        ]
        best = int(np.argmin(gaps))
        return best if gaps[best] <= REACH_PX**2 else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        found = self.nearest(event.position()) if event is not None else None
        if found is not None and self.found is not None:
            self.opened.emit(int(self.found.places[found]))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            over = self.nearest(event.position()) is not None
            self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and self.found is not None:
            found = self.nearest(QPointF(event.pos()))
            if found is not None:
                QToolTip.showText(event.globalPos(), self._words_of(int(self.found.places[found])), self)
                return True
            QToolTip.hideText()
        return super().event(event)
