"""The picture of the film with its time, frame number and what is missing."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget
from PyQt6.sip import voidptr

from ripasso.film import Picture
from ripasso.review.vocabulary import clock
from ripasso.ui.theme import Theme


class FilmView(QWidget):
    """Paints the newest picture, the whole of it, as large as the place allows."""

    resized = pyqtSignal(int, int)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._picture: Picture | None = None
        self._words = ""
        self._late = False
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
        ratio = self.devicePixelRatioF()
        self.resized.emit(round(self.width() * ratio), round(self.height() * ratio))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._theme.colour("film"))
        painter.setPen(self._theme.colour("film_ink"))
        painter.setFont(self._theme.font())
        if self._picture is None:
            box = self.rect().adjusted(24, 24, -24, -24)
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(box, int(flags), self._words)
            return
        height, width = self._picture.pixels.shape[:2]
        pixels = self._picture.pixels
        # The picture keeps its pixels alive while it is painted, so none are copied.
        image = QImage(voidptr(pixels.data), width, height, 4 * width, QImage.Format.Format_RGB32)  # type: ignore[call-overload]
        scale = min(self.width() / width, self.height() / height)
        place = QRectF(0, 0, width * scale, height * scale)
        place.moveCenter(QPointF(self.width() / 2, self.height() / 2))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale > 1.01)
        painter.drawImage(place, image)
        self._paint_place(painter)

    def _paint_place(self, painter: QPainter) -> None:
        if self._picture is None:
            return
        text = f"{clock(self._picture.time_s)}   frame {self._picture.number}"
        if self._late:
            text += "   on its way"
        box = painter.fontMetrics().boundingRect(text).adjusted(-8, -4, 8, 4)
        box.moveTo(12, 10)
        shade = self._theme.colour("film")
        shade.setAlpha(190)
        painter.fillRect(box, shade)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
