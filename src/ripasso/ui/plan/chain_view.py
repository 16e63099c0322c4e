"""The order of a plan as a row of balls, the chance to clear over each; a drag changes the order.

Beside somebody's own order the curve of the program's is drawn faintly.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ripasso.ui.theme import CAPTION_PX, Theme
from ripasso.ui.widgets.ball_paint import paint_ball
from ripasso.ui.widgets.painted import painted

HEIGHT, RADIUS, STEP, MARGIN = 108, 13, 66, 40


@dataclass(frozen=True)
class ChainBall:
    """One ball of the row: its pocket in short, the chance before it (None: not known), a hard link."""

    ball: str
    pocket: str
    chance: float | None
    hard: bool = False


class ChainView(QWidget):
    """`chosen` brings a ball's place in the order, `moved` its old and its new one."""

    chosen = pyqtSignal(int)
    moved = pyqtSignal(int, int)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._balls: Sequence[ChainBall] = ()
        self._in_hand = 0
        self._beside: Sequence[float] = ()
        self._dragged: int | None = None
        self._pointer = 0.0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Order of the plan")

    def show_balls(self, balls: Sequence[ChainBall], in_hand: int, beside: Sequence[float] = ()) -> None:
        """Show an order with the ball in hand, `beside` it the chances before each ball of another one."""
        self._balls, self._in_hand, self._beside = tuple(balls), in_hand, tuple(beside)
        told = [
            f"{one.ball} {one.pocket} {100 * one.chance:.0f} %" if one.chance is not None else one.ball
            for one in self._balls
        ]
        if beside:
            told.append(f"the program's order {' '.join(f'{100 * value:.0f} %' for value in beside)}")
        self.setAccessibleDescription(", ".join(told))
        self.update()

    def sizeHint(self) -> QSize:
        """Wide enough for nine balls."""
        return QSize(self._theme.px(9 * STEP), self._theme.px(HEIGHT))

    def _step(self) -> float:
        room = self.width() - 2 * self._theme.px(MARGIN)
        return min(self._theme.px(STEP), room / max(1, len(self._balls) - 1))

    def _x(self, number: int) -> float:
        return self._theme.px(MARGIN) + number * self._step()

    def _at(self, x: float) -> int:
        found = round((x - self._theme.px(MARGIN)) / self._step())
        return max(0, min(len(self._balls) - 1, found))

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        """The curve above, the balls below."""
        theme, px = self._theme, self._theme.px
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font = painter.font()
        font.setPixelSize(px(CAPTION_PX))
        painter.setFont(font)
        top, bottom, row = px(20), px(58), px(76)
        known = [one.chance for one in self._balls if one.chance is not None]
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.drawLine(QPointF(self._x(0), bottom), QPointF(self._x(max(0, len(self._balls) - 1)), bottom))
        painter.setPen(QPen(theme.colour("ghost"), 1.2, Qt.PenStyle.DashLine))
        painter.drawPolyline(self._curve(self._beside, top, bottom))
        painter.setPen(QPen(theme.colour("ink"), 1.6))
        painter.drawPolyline(self._curve(known, top, bottom))
        for number, one in enumerate(self._balls):
            self._paint_ball(painter, number, one, row, (top, bottom))

    def _curve(self, chances: Sequence[float], top: float, bottom: float) -> QPolygonF:
        """Chances before the balls as a line over them."""
        heights = [bottom - chance * (bottom - top) for chance in chances]
        return QPolygonF([QPointF(self._x(i), height) for i, height in enumerate(heights)])

    def _paint_ball(
        self, painter: QPainter, number: int, one: ChainBall, row: float, curve: tuple[float, float]
    ) -> None:
        theme, px = self._theme, self._theme.px
        x = self._pointer if number == self._dragged else self._x(number)
        if number == self._in_hand:
            painter.setPen(QPen(theme.colour("ink"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(x, row), px(RADIUS + 4), px(RADIUS + 4))
        paint_ball(painter, theme, QPointF(x, row), px(RADIUS), one.ball)
        painter.setPen(theme.colour("ghost"))
        painter.drawText(self._box(x, row + px(RADIUS + 3)), Qt.AlignmentFlag.AlignCenter, one.pocket)
        if one.hard and number + 1 < len(self._balls):
            middle = 0.5 * (self._x(number) + self._x(number + 1))
            painter.setPen(QPen(theme.colour("bad"), 3))
            painter.drawLine(QPointF(middle - px(9), row), QPointF(middle + px(9), row))
        if one.chance is not None:
            top, bottom = curve
            y = bottom - one.chance * (bottom - top)
            painter.setPen(theme.colour("ink"))
            painter.setBrush(theme.colour("ink"))
            painter.drawEllipse(QPointF(self._x(number), y), 2.5, 2.5)
            # Above both curves, so that neither runs through it.
            higher = max([one.chance, *self._beside[number : number + 1]])
            painter.drawText(
                self._box(self._x(number), bottom - higher * (bottom - top) - px(18)),
                Qt.AlignmentFlag.AlignCenter,
                f"{100 * one.chance:.0f} %",
            )

    def _box(self, x: float, y: float) -> QRectF:
        return QRectF(x - self._theme.px(34), y, self._theme.px(68), self._theme.px(16))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A ball is taken."""
        if event is not None and self._balls:
            self._dragged, self._pointer = self._at(event.position().x()), event.position().x()
            self.chosen.emit(self._dragged)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """It goes along with the pointer."""
        if event is not None and self._dragged is not None:
            self._pointer = event.position().x()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """It is put down at another place of the order."""
        if event is None or self._dragged is None:
            return
        old, new = self._dragged, self._at(event.position().x())
        self._dragged = None
        self.update()
        if old != new:
            self.moved.emit(old, new)
