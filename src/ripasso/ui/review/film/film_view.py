"""The picture of the film with its time, frame number and what is missing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QImage,
    QMouseEvent,
    QNativeGestureEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget
from PyQt6.sip import voidptr

from ripasso.drawing import Drawing
from ripasso.film import Picture
from ripasso.review.language.vocabulary import clock
from ripasso.ui.painting import Fit, Zoom, paint_drawing
from ripasso.ui.review.film.light import Light
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.painted import painted

GLASS_PX, GLASS_TIMES = 150, 4.0
#: So long after the last step of the wheel pictures are decoded for the new size.
SETTLE_MS = 150


@dataclass(frozen=True)
class Glass:
    """What a magnifying glass shows: the pixel under the mouse, a frame, the outline of a ball there."""

    at: QPointF
    pixels: Any
    outline: tuple[tuple[float, float], ...] = ()


def _image(pixels: Any) -> QImage:
    """A picture that looks at its pixels; they must live as long as it is painted."""
    height, width = pixels.shape[:2]
    return QImage(voidptr(pixels.data), width, height, 4 * width, QImage.Format.Format_RGB32)  # type: ignore[call-overload, no-any-return]


def _held(event: QMouseEvent) -> bool:
    held = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier
    return bool(event.modifiers() & held)


class FilmView(QWidget):
    """Paints the newest picture, the whole of it, as large as the place allows."""

    resized = pyqtSignal(int, int)
    #: Gestures, in pixels of the whole film picture: place, and whether Shift or Ctrl is held.
    pressed = pyqtSignal(QPointF, bool)
    moved = pyqtSignal(QPointF)
    released = pyqtSignal(QPointF, bool)
    hovered = pyqtSignal(QPointF)
    finished = pyqtSignal()
    left = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._picture: Picture | None = None
        self._words = self._title = ""
        self._late = False
        self._film_size = (1280, 720)
        self._layers: Drawing | None = None
        self._glass: Glass | None = None
        self._zoom = Zoom()
        self._light = Light()
        self._lit: tuple[Picture, Any] | None = None
        self._pushed: QPointF | None = None
        # Pictures are decoded for the size at which they are seen: not anew for every step of the wheel.
        self._settled = QTimer(self)
        self._settled.setSingleShot(True)
        self._settled.setInterval(SETTLE_MS)
        self._settled.timeout.connect(self._tell_size)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Film")

    @property
    def picture(self) -> Picture | None:
        """The picture on screen."""
        return self._picture

    def show_picture(self, picture: Picture, *, late: bool) -> None:
        """Show a picture; `late` marks one that is not yet the frame asked for."""
        self._picture, self._late, self._words = picture, late, ""
        self.setAccessibleDescription(f"Frame {picture.number} at {clock(picture.time_s)}")
        self.update()

    def show_light(self, light: Light) -> None:
        """In which brightness and contrast the picture is seen."""
        self._light, self._lit = light, None
        self.update()

    def _pixels(self, picture: Picture) -> Any:
        """The picture in its light, made once for each picture."""
        if self._lit is None or self._lit[0] is not picture:
            self._lit = picture, self._light.on(picture.pixels)
        return self._lit[1]

    def show_layers(self, layers: Drawing | None, film_size: tuple[int, int]) -> None:
        """Lines over the picture, in pixels of a film of this size; None for none."""
        if layers != self._layers or film_size != self._film_size:
            self._layers, self._film_size = layers, film_size
            self.update()

    @property
    def layers(self) -> Drawing | None:
        """The lines over the picture."""
        return self._layers

    def show_glass(self, glass: Glass | None) -> None:
        """A magnifying glass beside the mouse, or none."""
        if glass is not None or self._glass is not None:
            self._glass = glass
            self.update()

    def whole_area(self) -> QRectF:
        """Where the whole picture lies in the widget while it is not enlarged."""
        if self._picture is None:
            return QRectF(self.rect())
        height, width = self._picture.pixels.shape[:2]
        scale = min(self.width() / width, self.height() / height)
        place = QRectF(0, 0, width * scale, height * scale)
        place.moveCenter(QPointF(self.width() / 2, self.height() / 2))
        return place

    def picture_area(self) -> QRectF:
        """Where the picture lies, enlarged and pushed aside; most of it may be outside the widget."""
        whole, zoom = self.whole_area(), self._zoom
        place = QRectF(0, 0, whole.width() * zoom.factor, whole.height() * zoom.factor)
        place.moveCenter(whole.center() + QPointF(zoom.right_px, zoom.down_px))
        return place

    @property
    def enlarged(self) -> float:
        """How many times as large as the whole the picture is seen."""
        return self._zoom.factor

    def enlarge(self, by: float, at: QPointF | None = None) -> None:
        """Enlarge about a place of the widget (else its middle), or make smaller, down to the whole."""
        middle = QRectF(self.rect()).center()
        self._look(self._zoom.about(by, at or middle, middle))

    def show_all(self) -> None:
        """The whole picture again."""
        self._look(Zoom())

    def _look(self, zoom: Zoom) -> None:
        whole = self.whole_area()
        # The picture covers the place as far as it can: nothing is pushed out of sight.
        most_right = max(0.0, (whole.width() * zoom.factor - self.width()) / 2)
        most_down = max(0.0, (whole.height() * zoom.factor - self.height()) / 2)
        self._zoom = Zoom(
            zoom.factor,
            min(most_right, max(-most_right, zoom.right_px)),
            min(most_down, max(-most_down, zoom.down_px)),
        )
        self._settled.start()
        self.update()

    def _tell_size(self) -> None:
        ratio = self.devicePixelRatioF() * self._zoom.factor
        self.resized.emit(round(self.width() * ratio), round(self.height() * ratio))

    def film_pixel(self, at: QPointF) -> QPointF:
        """The pixel of the whole film picture under a place of the widget."""
        area = self.picture_area()
        scale = area.width() / self._film_size[0]
        return QPointF((at.x() - area.x()) / scale - 0.5, (at.y() - area.y()) / scale - 0.5)

    def widget_place(self, pixel: QPointF) -> QPointF:
        """The place of the widget at which a pixel of the film is seen."""
        area = self.picture_area()
        scale = area.width() / self._film_size[0]
        return QPointF(area.x() + (pixel.x() + 0.5) * scale, area.y() + (pixel.y() + 0.5) * scale)

    def still(self) -> QImage | None:
        """The picture with the lines over it, as it is seen."""
        if self._picture is None:
            return None
        area = self.whole_area()
        whole = QImage(area.size().toSize(), QImage.Format.Format_RGB32)
        painter = QPainter(whole)
        painter.translate(-area.topLeft())
        self._paint_picture(painter, area)
        painter.end()
        return whole

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.MiddleButton:
            self._pushed = event.position()
        if event is not None and event.button() == Qt.MouseButton.LeftButton and self._picture is not None:
            self.pressed.emit(self.film_pixel(event.position()), _held(event))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._picture is None:
            return
        if self._pushed is not None:
            by, self._pushed = event.position() - self._pushed, event.position()
            self._look(self._zoom.moved(by.x(), by.y()))
            return
        pressed = event.buttons() & Qt.MouseButton.LeftButton
        (self.moved if pressed else self.hovered).emit(self.film_pixel(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.MiddleButton:
            self._pushed = None
        if event is not None and event.button() == Qt.MouseButton.LeftButton and self._picture is not None:
            self.released.emit(self.film_pixel(event.position()), _held(event))

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
        self.finished.emit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and self._picture is not None:
            self.enlarge(1.25 ** (event.angleDelta().y() / 120), event.position())
            event.accept()

    def event(self, event: QEvent | None) -> bool:
        """Two fingers on a touch pad enlarge as well."""
        if (
            isinstance(event, QNativeGestureEvent)
            and event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture
        ):
            self.enlarge(1.0 + event.value(), event.position())
            return True
        return super().event(event)

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        self.left.emit()

    def set_title(self, title: str) -> None:
        """Words under the time, such as whose shot it is."""
        self._title = title
        self.update()

    def show_words(self, words: str) -> None:
        """Show a sentence in the place of a picture."""
        self._picture, self._words = None, words
        self.setAccessibleDescription(words)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(640, 360)

    def minimumSizeHint(self) -> QSize:
        return QSize(320, 180)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._look(self._zoom)
        self._settled.stop()
        self._tell_size()

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.fillRect(self.rect(), self._theme.colour("film"))
        painter.setPen(self._theme.colour("film_ink"))
        painter.setFont(self._theme.font())
        if self._picture is None:
            box = self.rect().adjusted(24, 24, -24, -24)
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(box, int(flags), self._words)
            return
        self._paint_picture(painter, self.picture_area())
        self._paint_glass(painter)
        painter.setPen(self._theme.colour("film_ink"))
        painter.setFont(self._theme.font())
        self._paint_place(painter)

    def _paint_picture(self, painter: QPainter, area: QRectF) -> None:
        if self._picture is None:
            return
        larger = area.width() > 1.01 * self._picture.pixels.shape[1]
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, larger)
        painter.drawImage(area, _image(self._pixels(self._picture)))
        if self._layers is not None:
            painter.save()
            enlarged = area.width() / max(1.0, self.whole_area().width())
            painter.setClipRect(area.intersected(QRectF(self.rect())))
            paint_drawing(painter, self._layers, Fit(self._layers, area, enlarged=enlarged), self._theme)
            painter.restore()

    def _paint_glass(self, painter: QPainter) -> None:
        glass = self._glass
        if glass is None:
            return
        half = GLASS_PX / GLASS_TIMES / 2
        source = QRectF(glass.at.x() + 0.5 - half, glass.at.y() + 0.5 - half, 2 * half, 2 * half)
        at = self.widget_place(glass.at)
        right = at.x() + 24 + GLASS_PX < self.width()
        below = at.y() + 24 + GLASS_PX < self.height()
        place = QRectF(0, 0, GLASS_PX, GLASS_PX)
        place.moveTo(
            at.x() + 24 if right else at.x() - 24 - GLASS_PX,
            at.y() + 24 if below else at.y() - 24 - GLASS_PX,
        )
        painter.save()
        painter.setClipRect(place)
        painter.fillRect(place, self._theme.colour("film"))
        painter.drawImage(place, _image(glass.pixels), source)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self._theme.colour("mark.frame"), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        outline = [
            QPointF(
                place.center().x() + (u - glass.at.x()) * GLASS_TIMES,
                place.center().y() + (v - glass.at.y()) * GLASS_TIMES,
            )
            for u, v in glass.outline
        ]
        if outline:
            painter.drawPolygon(QPolygonF(outline))
        x, y = place.center().x(), place.center().y()
        painter.drawLine(QPointF(x - 6, y), QPointF(x + 6, y))
        painter.drawLine(QPointF(x, y - 6), QPointF(x, y + 6))
        painter.drawRect(place.adjusted(0.5, 0.5, -0.5, -0.5))
        painter.restore()

    def _paint_place(self, painter: QPainter) -> None:
        if self._picture is None:
            return
        text = f"{clock(self._picture.time_s)}   frame {self._picture.number}"
        if self._late:
            text += "   on its way"
        self._paint_line(painter, text, 10)
        if self._title:
            self._paint_line(painter, self._title, 40)

    def _paint_line(self, painter: QPainter, text: str, top: int) -> None:
        """A line of words in the corner of the picture."""
        box = painter.fontMetrics().boundingRect(text).adjusted(-8, -4, 8, 4)
        box.moveTo(12, top)
        shade = self._theme.colour("film")
        shade.setAlpha(190)
        painter.fillRect(box, shade)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
