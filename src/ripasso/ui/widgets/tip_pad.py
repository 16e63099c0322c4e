"""A drawn cue ball on which the tip is placed, in quarters of its own width; by mouse or arrow keys."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ripasso.ui.theme import Theme
from ripasso.ui.widgets.own_keys import claims_arrow
from ripasso.ui.widgets.painted import painted

STEP = 0.25  # of a tip's width
#: A cue ball is not struck farther from its middle than this, in radii: beyond it the tip slips.
FARTHEST = 0.6
_ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}


class TipPad(QWidget):
    """`chosen` brings where the tip is: widths of the tip to the right and up."""

    chosen = pyqtSignal(float, float)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._tip: tuple[float, float] | None = None
        self._width = 0.45  # of the ball's radius
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Where the tip meets the ball; arrow keys move it")

    def show_tip(self, tip: tuple[float, float] | None, width: float) -> None:
        """Show the tip (widths right and up; None: not said) and its width in ball radii."""
        self._tip, self._width = tip, width
        self.setAccessibleDescription(self.words())
        self.update()

    def words(self) -> str:
        """Where the tip is, in words."""
        if self._tip is None:
            return "not said"
        right, up = (round(value / STEP) * STEP for value in self._tip)
        parts = [
            f"{abs(value):g} {word}"
            for value, word in ((right, "right" if right > 0 else "left"), (up, "high" if up > 0 else "low"))
            if value
        ]
        return ", ".join(parts) + (" (widths of the tip)" if parts else "") or "in the middle"

    def sizeHint(self) -> QSize:
        return QSize(self._theme.px(150), self._theme.px(150))

    def _radius(self) -> float:
        return min(self.width(), self.height()) / 2 - 6

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, middle, radius = self._theme, QPointF(self.width() / 2, self.height() / 2), self._radius()
        painter.setBrush(theme.colour("ball.ivory"))
        edge = "accent" if self.hasFocus() else "ball.edge"
        painter.setPen(QPen(theme.colour(edge), 2 if self.hasFocus() else 1))
        painter.drawEllipse(middle, radius, radius)
        painter.setPen(QPen(theme.colour("ghost"), 1, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(middle, radius * FARTHEST, radius * FARTHEST)
        painter.drawLine(middle - QPointF(radius, 0), middle + QPointF(radius, 0))
        painter.drawLine(middle - QPointF(0, radius), middle + QPointF(0, radius))
        if self._tip is None:
            return
        at = middle + QPointF(self._tip[0], -self._tip[1]) * (self._width * radius)
        size = self._width * radius / 2
        painter.setBrush(theme.colour("ball.2"))
        painter.setPen(QPen(theme.colour("ball.edge"), 1))
        painter.drawEllipse(at, size, size)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self._point(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        self._point(event)

    def _point(self, event: QMouseEvent | None) -> None:
        if event is None or not event.buttons():
            return
        away = event.position() - QPointF(self.width() / 2, self.height() / 2)
        self._choose(away.x() / self._radius() / self._width, -away.y() / self._radius() / self._width)

    def _choose(self, right: float, up: float) -> None:
        reach = (right**2 + up**2) ** 0.5 * self._width
        share = min(1.0, FARTHEST / reach) if reach else 1.0
        tip = (round(right * share / STEP) * STEP + 0.0, round(up * share / STEP) * STEP + 0.0)
        if tip != self._tip:
            self.chosen.emit(*tip)

    def event(self, event: QEvent | None) -> bool:
        return claims_arrow(event) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = _ARROWS.get(Qt.Key(event.key())) if event is not None else None
        if step is None:
            super().keyPressEvent(event)
            return
        right, up = self._tip or (0.0, 0.0)
        self._choose(right + step[0] * STEP, up + step[1] * STEP)
