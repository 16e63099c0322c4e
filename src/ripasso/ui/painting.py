"""The painter that puts a drawing (a list of primitives in metres) on a Qt device."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QFont, QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QPolygonF

from ripasso.drawing import Circle, Drawing, Line, Polygon, Text
from ripasso.drawing.primitives import Point, Primitive
from ripasso.drawing.seats import ViewingSide, extent, place_seen, seen_from
from ripasso.ui.theme import CAPTION_PX, Theme

RIM_PX = 3.0
_WEIGHT_PX = {"hair": 1.0, "thin": 1.4, "bold": 2.2}


@dataclass(frozen=True)
class Zoom:
    """How a drawing is enlarged and pushed aside."""

    factor: float = 1.0
    right_px: float = 0.0
    down_px: float = 0.0

    def about(self, by: float, at: QPointF, middle: QPointF) -> Zoom:
        """Enlarged by a factor so that what is under a pixel stays there; never smaller than the whole."""
        factor = min(8.0, max(1.0, self.factor * by))
        share = factor / self.factor
        right = (at.x() - middle.x()) * (1 - share) + self.right_px * share
        down = (at.y() - middle.y()) * (1 - share) + self.down_px * share
        return Zoom(factor, right, down) if factor > 1.0 else Zoom()

    def moved(self, right_px: float, down_px: float) -> Zoom:
        """Pushed aside; the whole drawing stays where it is."""
        if self.factor <= 1.0:
            return self
        return Zoom(self.factor, self.right_px + right_px, self.down_px + down_px)


class Fit:
    """From table metres to pixels: as large as the area takes, as the table is seen from a seat."""

    def __init__(
        self,
        drawing: Drawing,
        area: QRectF,
        *,
        seat: ViewingSide = "side",
        zoom: Zoom | None = None,
        enlarged: float = 1.0,
    ) -> None:
        self._seat = seat
        zoom = zoom or Zoom()
        #: How much larger than the whole it is seen: words stay as large as they are.
        self.enlarged = zoom.factor * enlarged
        across, up = extent(drawing, seat)
        self.scale = zoom.factor * min(area.width() / across, area.height() / up)
        self._left = area.x() + (area.width() - across * self.scale) / 2 + zoom.right_px
        self._bottom = area.y() + (area.height() + up * self.scale) / 2 + zoom.down_px
        self._drawing = drawing

    def pixel(self, place: Point) -> QPointF:
        """The pixel of a place in metres."""
        across, up = seen_from(self._drawing, self._seat, place)
        return QPointF(self._left + across * self.scale, self._bottom - up * self.scale)

    def place(self, pixel: QPointF) -> Point:
        """The place in metres of a pixel."""
        across = (pixel.x() - self._left) / self.scale
        up = (self._bottom - pixel.y()) / self.scale
        return place_seen(self._drawing, self._seat, (across, up))


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


def _brush(theme: Theme, role: str | None, *, soft: bool) -> QBrush:
    if role is None:
        return QBrush(Qt.BrushStyle.NoBrush)
    colour = theme.colour(role)
    if soft:
        colour.setAlphaF(theme.soft(role))
    return QBrush(colour)


def _paint(painter: QPainter, primitive: Primitive, fit: Fit, theme: Theme) -> None:
    if isinstance(primitive, Line):
        painter.setPen(_pen(theme, primitive.role, primitive.weight, dashed=primitive.dashed))
        painter.drawPolyline(QPolygonF([fit.pixel(p) for p in primitive.points]))
    elif isinstance(primitive, Polygon):
        painter.setPen(_pen(theme, primitive.edge, "hair"))
        painter.setBrush(_brush(theme, primitive.fill, soft=primitive.soft))
        painter.drawPolygon(QPolygonF([fit.pixel(p) for p in primitive.points]))
    elif isinstance(primitive, Circle):
        painter.setPen(_pen(theme, primitive.edge, primitive.weight, dashed=primitive.dashed))
        painter.setBrush(_brush(theme, primitive.fill, soft=primitive.soft))
        radius = primitive.radius * fit.scale
        painter.drawEllipse(fit.pixel(primitive.centre), radius, radius)
    else:
        _paint_text(painter, primitive, fit, theme)


def _smallest(text: Text, theme: Theme) -> int:
    """Numbers on balls may be as small as the balls; words must be readable."""
    return 6 if text.role == "ball.number" else theme.px(CAPTION_PX)


def picture_of(drawing: Drawing, theme: Theme, width_px: int, *, seat: ViewingSide = "side") -> QImage:
    """A drawing as a picture of a width, as it is seen from a seat."""
    across, up = extent(drawing, seat)
    image = QImage(width_px, round(width_px * up / across), QImage.Format.Format_ARGB32)
    image.fill(theme.colour("raised"))
    painter = QPainter(image)
    paint_drawing(painter, drawing, Fit(drawing, QRectF(image.rect()), seat=seat), theme)
    painter.end()
    return image


def _paint_text(painter: QPainter, text: Text, fit: Fit, theme: Theme) -> None:
    font = QFont(theme.font(weight=600))
    scale = fit.scale if text.role == "ball.number" else fit.scale / fit.enlarged
    font.setPixelSize(max(_smallest(text, theme), round(text.height * scale)))
    painter.setFont(font)
    painter.setPen(theme.colour(text.role))
    centre = fit.pixel(text.at)
    if text.role == "ball.number":
        box = QRectF(centre.x() - 400, centre.y() - 40, 800, 80)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text.text)
        return
    # Words over lines and balls: a rim of the cloth's shade keeps them readable.
    size = QFontMetricsF(font).tightBoundingRect(text.text)
    path = QPainterPath()
    path.addText(centre.x() - size.center().x(), centre.y() - size.center().y(), font, text.text)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.colour("mark.rim"), RIM_PX, join=Qt.PenJoinStyle.RoundJoin))
    painter.drawPath(path)
    painter.fillPath(path, theme.colour(text.role))
