"""The painter that puts a drawing (a list of primitives in metres) on a Qt device."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QFont, QPainter, QPen, QPolygonF

from ripasso.drawing import Circle, Drawing, Line, Polygon, Text
from ripasso.drawing.primitives import Place, Primitive
from ripasso.ui.theme import Theme

_WEIGHT_PX = {"hair": 1.0, "thin": 1.4, "bold": 2.2}


class Fit:
    """From table metres to pixels: as large as the area takes, head end at the left (or below, `turned`)."""

    def __init__(self, drawing: Drawing, area: QRectF, *, turned: bool = False) -> None:
        self._turned = turned
        across, up = (drawing.height, drawing.width) if turned else (drawing.width, drawing.height)
        self.scale = min(area.width() / across, area.height() / up)
        self._left = area.x() + (area.width() - across * self.scale) / 2
        self._bottom = area.y() + (area.height() + up * self.scale) / 2
        self._drawing = drawing

    def pixel(self, place: Place) -> QPointF:
        """The pixel of a place in metres."""
        x, y = place
        if self._turned:  # seen from the head end: x goes up, the player's left stays left
            across, up = self._drawing.top - y, x - self._drawing.left
        else:
            across, up = x - self._drawing.left, y - self._drawing.bottom
        return QPointF(self._left + across * self.scale, self._bottom - up * self.scale)

    def place(self, pixel: QPointF) -> Place:
        """The place in metres of a pixel."""
        across = (pixel.x() - self._left) / self.scale
        up = (self._bottom - pixel.y()) / self.scale
        if self._turned:
            return (self._drawing.left + up, self._drawing.top - across)
        return (self._drawing.left + across, self._drawing.bottom + up)


def paint_drawing(painter: QPainter, drawing: Drawing, fit: Fit, theme: Theme) -> None:
    """Paint every primitive in its order."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for primitive in drawing.primitives:
        _paint(painter, primitive, fit, theme)


def _pen(theme: Theme, role: str | None, weight: str, *, dashed: bool = False) -> QPen:
    if role is None:
        return QPen(Qt.PenStyle.NoPen)
    style = Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine
    return QPen(theme.colour(role), _WEIGHT_PX[weight], style)


def _paint(painter: QPainter, primitive: Primitive, fit: Fit, theme: Theme) -> None:
    if isinstance(primitive, Line):
        painter.setPen(_pen(theme, primitive.role, primitive.weight, dashed=primitive.dashed))
        painter.drawPolyline(QPolygonF([fit.pixel(p) for p in primitive.points]))
    elif isinstance(primitive, Polygon):
        painter.setPen(_pen(theme, primitive.edge, "hair"))
        painter.setBrush(QBrush(theme.colour(primitive.fill)))
        painter.drawPolygon(QPolygonF([fit.pixel(p) for p in primitive.points]))
    elif isinstance(primitive, Circle):
        painter.setPen(_pen(theme, primitive.edge, primitive.weight))
        fill = primitive.fill
        painter.setBrush(QBrush(theme.colour(fill)) if fill else QBrush(Qt.BrushStyle.NoBrush))
        radius = primitive.radius * fit.scale
        painter.drawEllipse(fit.pixel(primitive.centre), radius, radius)
    else:
        _paint_text(painter, primitive, fit, theme)


def _paint_text(painter: QPainter, text: Text, fit: Fit, theme: Theme) -> None:
    font = QFont(theme.font(weight=600))
    font.setPixelSize(max(6, round(text.height * fit.scale)))
    painter.setFont(font)
    painter.setPen(theme.colour(text.role))
    centre = fit.pixel(text.at)
    box = QRectF(centre.x() - 400, centre.y() - 40, 800, 80)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text.text)
