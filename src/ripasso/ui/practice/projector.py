"""Balls and zone as bright circles on black, for a projector over the real table.

The four corners are dragged onto the table's corners; where they were is kept for the table.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ripasso.core.practice.projecting import homography, projected
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.review.practice.words import named_ball
from ripasso.ui.widgets.painted import painted

#: A corner is taken within this many pixels; arrow keys move the one in hand by so many.
REACH_PX, STEP_PX = 40, 1
#: Where the corners stand in a new window, as a share of its sides.
MARGIN = 0.08
ROUND = np.linspace(0, 2 * np.pi, 49)
HELP = "drag the corners onto the table's corners; 1–4 and arrows move one; H hides this; Esc closes"
Corners = tuple[tuple[float, float], ...]


class ProjectorWindow(QWidget):
    """Full screen or a window: `kept` is called with the corners, as shares of its sides, when they moved."""

    def __init__(
        self,
        spec: TableSpec,
        layout: Mapping[str, Place],
        zone: Sequence[Place] = (),
        corners: Corners | None = None,
        kept: Callable[[Corners], object] = lambda _corners: None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setWindowTitle("Projector")
        self.setAccessibleName("Projector: balls as circles on black")
        self._spec, self._layout, self._zone, self._kept = spec, dict(layout), tuple(zone), kept
        low, high = MARGIN, 1 - MARGIN
        usual: Corners = ((low, high), (high, high), (high, low), (low, low))
        self.corners: list[tuple[float, float]] = list(corners or usual)
        self._held: int | None = None
        self._shows_help = True
        self.resize(960, 540)

    @property
    def order(self) -> list[str]:
        """The balls in the order of putting them down, the cue ball last."""
        return sorted(self._layout, key=lambda ball: (ball == "cue", len(ball), ball))

    def pixels(self) -> list[tuple[float, float]]:
        """The corners in pixels: head right, foot right, foot left, head left."""
        return [(x * self.width(), y * self.height()) for x, y in self.corners]

    def matrix(self) -> np.ndarray | None:
        """From the table's metres to pixels; None where the corners lie on a line."""
        length, width = self._spec.length, self._spec.width
        table = ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))
        try:
            return homography(table, self.pixels())
        except ValueError:
            return None

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.fillRect(self.rect(), QColor("black"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        matrix = self.matrix()
        if matrix is not None:
            self._paint_table(painter, matrix)
        if self._shows_help:
            self._paint_corners(painter)

    def _paint_table(self, painter: QPainter, matrix: np.ndarray) -> None:
        if len(self._zone) > 2:
            painter.setPen(QPen(QColor("#ffd060"), 3, Qt.PenStyle.DashLine))
            painter.drawPolygon(_polygon(projected(matrix, self._zone)))
        painter.setFont(QFont(self.font().family(), 16))
        for number, ball in enumerate(self.order, start=1):
            x, y = self._layout[ball]
            ring = np.column_stack((np.cos(ROUND), np.sin(ROUND))) * self._spec.ball_radius + (x, y)
            painter.setPen(QPen(QColor("white"), 4))
            painter.drawPolygon(_polygon(projected(matrix, [tuple(one) for one in ring])))
            at = projected(matrix, [(x, y + 2.6 * self._spec.ball_radius)])[0]
            words = f"{number}. {named_ball(ball)}"
            wide = painter.fontMetrics().horizontalAdvance(words)
            painter.drawText(QPointF(float(at[0]) - wide / 2, float(at[1])), words)

    def _paint_corners(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        points = [QPointF(x, y) for x, y in self.pixels()]
        painter.setPen(QPen(QColor("#60a0ff"), 2))
        painter.drawPolygon(QPolygonF(points))
        painter.setFont(QFont(self.font().family(), 13))
        for number, point in enumerate(points):
            held = number == self._held
            painter.setPen(QPen(QColor("#ffffff" if held else "#60a0ff"), 4 if held else 2))
            painter.drawEllipse(point, 14, 14)
            painter.drawText(point + QPointF(18, 6), str(number + 1))
        painter.setPen(QColor("#a0a0a0"))
        painter.drawText(QPointF(20, 28), HELP)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        x, y = event.position().x(), event.position().y()
        away = [np.hypot(x - a, y - b) for a, b in self.pixels()]
        nearest = int(np.argmin(away))
        self._held = nearest if away[nearest] <= REACH_PX else None
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._move(self._held, event.position().x(), event.position().y())

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        self._kept(tuple(self.corners))

    def _move(self, number: int, x: float, y: float) -> None:
        share = (min(max(x / self.width(), 0.0), 1.0), min(max(y / self.height(), 0.0), 1.0))
        self.corners[number] = share
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = Qt.Key(event.key())
        steps = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Down: (0, 1),
        }
        if key == Qt.Key.Key_Escape:
            self.close()
        elif key == Qt.Key.Key_H:
            self._shows_help = not self._shows_help
        elif event.text() in ("1", "2", "3", "4"):
            self._held = int(event.text()) - 1
        elif key in steps and self._held is not None:
            x, y = self.pixels()[self._held]
            dx, dy = steps[key]
            self._move(self._held, x + STEP_PX * dx, y + STEP_PX * dy)
            self._kept(tuple(self.corners))
        else:
            super().keyPressEvent(event)
        self.update()


def _polygon(points: np.ndarray) -> QPolygonF:
    return QPolygonF([QPointF(float(x), float(y)) for x, y in points])
