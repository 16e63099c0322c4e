"""A small button that is a ball: chosen it has a ring; its key stands below where it is not the number."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton

from ripasso.ui.theme import CAPTION_PX, Theme
from ripasso.ui.widgets.ball_paint import paint_ball
from ripasso.ui.widgets.basics import as_it_stands
from ripasso.ui.widgets.own_keys import claims_return
from ripasso.ui.widgets.painted import painted


class BallButton(QAbstractButton):
    """Paints a ball by its name; `hint` is the key that names it."""

    def __init__(self, theme: Theme, ball: str, words: str, hint: str = "") -> None:
        super().__init__()
        self._theme, self.ball, self._hint = theme, ball, hint
        self.setAccessibleName(f"{words}, key {hint}" if hint else words)
        self.setToolTip(as_it_stands(self.accessibleName()))
        self.setCheckable(True)
        # Reached by Tab, never by a click: a clicked button must not swallow the next key.
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(self._theme.px(22), self._theme.px(36 if self._hint else 24))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def event(self, event: QEvent | None) -> bool:
        return claims_return(event) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, radius = self._theme, self._theme.px(8)
        centre = QPointF(self.width() / 2, self._theme.px(12))
        if self.isChecked() or self.hasFocus() or self.underMouse():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("ink" if self.isChecked() else "accent"), 2))
            painter.drawEllipse(centre, radius + 2, radius + 2)
        paint_ball(painter, theme, centre, radius, self.ball)
        if self._hint:
            painter.setFont(theme.font(CAPTION_PX))
            painter.setPen(theme.colour("quiet"))
            below = QRectF(0, theme.px(22), self.width(), theme.px(13))
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter, self._hint)
