"""A ball as a small token: its colour, a stripe where it has one, and its number or letter."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from ripasso.drawing.table import LETTERS as COLOUR_LETTERS
from ripasso.drawing.table import paint_of, sign_of
from ripasso.ui.theme import CAPTION_PX, Theme

#: On a token a red has its letter too: alone it has no neighbours to be told by.
LETTERS = {**COLOUR_LETTERS, "red": "R"}


def can_paint(ball: str) -> bool:
    """Whether a ball's name is one that has a token."""
    return ball.isdigit() or ball in LETTERS


def paint_ball(
    painter: QPainter, theme: Theme, centre: QPointF, radius: float, ball: str, text: str | None = None
) -> None:
    """Paint a ball by its name (a number, a colour, or red); `text` stands in for its number or letter."""
    role, striped = paint_of(ball)
    painter.setPen(QPen(theme.colour("ball.edge"), 1))
    painter.setBrush(theme.colour("ball.ivory" if striped else role))
    painter.drawEllipse(centre, radius, radius)
    if striped:
        disc = QPainterPath()
        disc.addEllipse(centre, radius - 0.5, radius - 0.5)
        painter.save()
        painter.setClipPath(disc)
        band = QRectF(centre.x() - radius, centre.y() - radius * 0.6, 2 * radius, radius * 1.2)
        painter.fillRect(band, theme.colour(role))
        painter.restore()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("ball.ivory"))
    painter.drawEllipse(centre, radius * 0.68, radius * 0.68)
    words = text or LETTERS.get(ball) or sign_of(ball)
    font = theme.font(CAPTION_PX - (0 if len(words) == 1 else 3), weight=600)
    font.setPixelSize(max(6, min(font.pixelSize(), int(radius * 1.3))))
    painter.setFont(font)
    painter.setPen(theme.colour("ball.number"))
    box = QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
