"""The bar under the film: play, speed, and a strip of the whole film with its shots as blocks."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QSizePolicy, QWidget
from PyQt6.sip import voidptr

from ripasso.film.decoding.overview import Overview
from ripasso.review.language.vocabulary import clock
from ripasso.review.recordings.film_parts import StretchLine, line_words
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.review.film.film_blocks import Block
from ripasso.ui.review.film.film_player import SPEEDS
from ripasso.ui.theme import CAPTION_PX, Theme
from ripasso.ui.widgets.basics import as_it_stands, label
from ripasso.ui.widgets.painted import painted

TIP = "Click or drag to go to a place of the film"
#: How a stretch that is not live is hatched.
HATCHES = {
    "replay": Qt.BrushStyle.BDiagPattern,
    "slow": Qt.BrushStyle.Dense6Pattern,
    "paused": Qt.BrushStyle.DiagCrossPattern,
}

#: The time of the film is said from this width on.
TIME_FROM_PX = 560
#: Heights of the two rows of the strip: small pictures, shots.
PICTURES_PX, BLOCKS_PX = 26, 18


def _loudness_line(overview: Overview | None) -> tuple[float, ...]:
    if overview is None or overview.loudness is None:
        return ()
    return tuple(float(value) for value in overview.loudness)


class FilmStrip(QWidget):
    """The film from start to end. A click or a drag seeks (`sought` brings the time)."""

    sought = pyqtSignal(float)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._overview: Overview | None = None
        self._loud: tuple[float, ...] = ()
        self._duration_s = 0.0
        self._time_s = 0.0
        self._blocks: tuple[Block, ...] = ()
        self._ground: QPixmap | None = None  # what stays while the film runs
        self._selected: str | None = None
        self._parts: tuple[StretchLine, ...] = ()
        self._begun_s: float | None = None
        self._loop: tuple[float, float] | None = None
        self._read_s = 0.0
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Shots on the film")
        self.setToolTip(TIP)

    def show_film(self, duration_s: float) -> None:
        """The length of the film, 0 for none."""
        self._duration_s, self._ground = duration_s, None
        self.updateGeometry()
        self.update()

    def show_overview(self, overview: Overview | None) -> None:
        """Small pictures and loudness of the film, None while they are not known."""
        self._overview, self._ground = overview, None
        self._loud = _loudness_line(overview)
        self.update()

    def show_time(self, time_s: float) -> None:
        """Where the film is."""
        self._time_s = time_s
        self.update()

    def show_blocks(self, blocks: tuple[Block, ...], selected: str | None) -> None:
        """The shots, one of them in hand."""
        if blocks is self._blocks and selected == self._selected:
            return
        if blocks is not self._blocks:
            self._blocks, self._ground = blocks, None
            self._describe()
        self._selected = selected
        self.update()

    def show_parts(self, parts: tuple[StretchLine, ...]) -> None:
        """Replays, pauses, cuts and further views, as they were said."""
        if parts != self._parts:
            self._parts = parts
            self._describe()
            self.update()

    def _describe(self) -> None:
        words = [f"{len(self._blocks)} shots marked", *(line_words(part) for part in self._parts)]
        self.setAccessibleDescription("; ".join(words))

    def show_loop(self, loop: tuple[float, float] | None) -> None:
        """The stretch that is played again and again."""
        if loop != self._loop:
            self._loop = loop
            self.update()

    def show_read(self, to_s: float) -> None:
        """Up to where the film is read while it is being read, 0 for not at all."""
        self._read_s = to_s
        self.update()

    def show_begun(self, begun_s: float | None) -> None:
        """Where a stretch was begun that has no end yet."""
        if begun_s != self._begun_s:
            self._begun_s = begun_s
            self.update()

    def sizeHint(self) -> QSize:
        pictures = PICTURES_PX if self._duration_s else 8  # without a film there are none
        return QSize(300, self._theme.px(pictures + BLOCKS_PX))

    def _blocks_top(self) -> float:
        """Where the shots begin, under the small pictures."""
        return self.height() - self._theme.px(BLOCKS_PX)

    def _x(self, time_s: float) -> float:
        return time_s / self._duration_s * self.width() if self._duration_s else 0.0

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, height = self._theme, self.height()
        if self._ground is None or self._ground.deviceIndependentSize().toSize() != self.size():
            self._ground = self._painted_ground()
        painter.drawPixmap(0, 0, self._ground)
        if not self._duration_s:
            return
        if self._read_s:
            painter.fillRect(QRectF(0, height - 2, self._x(self._read_s), 2), theme.colour("accent"))
        for block in self._blocks:
            if block.key == self._selected:
                self._paint_block(painter, block, "accent")
        for part in self._parts:
            self._paint_part(painter, part)
        if self._begun_s is not None:
            start, now = sorted((self._x(self._begun_s), self._x(self._time_s)))
            painter.setPen(QPen(theme.colour("accent"), 1, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(start, 1, max(1.0, now - start), height - 2))
        if self._loop is not None:
            left, right = (self._x(end) for end in self._loop)
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(left, 1, max(3.0, right - left), height - 2), 3, 3)
        x = int(self._x(self._time_s))
        for role, width in (("raised", 4), ("ink", 2)):  # seen on dark pictures and on light ground
            painter.setPen(QPen(theme.colour(role), width))
            painter.drawLine(x, 0, x, height)

    def _painted_ground(self) -> QPixmap:
        """What stays while the film runs and keys are pressed: small pictures, loudness, the shots."""
        scale = self.devicePixelRatioF()
        made = QPixmap(self.size() * scale)
        made.setDevicePixelRatio(scale)
        made.fill(Qt.GlobalColor.transparent)
        painter = QPainter(made)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._theme.colour("sunken"))
        painter.drawRoundedRect(QRectF(self.rect()), 4, 4)
        if self._duration_s:
            self._paint_overview(painter)
            for block in self._blocks:
                self._paint_block(painter, block, "control")
        painter.end()
        return made

    def _paint_block(self, painter: QPainter, block: Block, role: str) -> None:
        top, height = self._blocks_top(), self.height()
        end = block.end_s if block.end_s is not None else block.start_s + 0.6
        left, right = self._x(block.start_s), self._x(max(end, block.start_s))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._theme.colour(role))
        painter.drawRoundedRect(QRectF(left, top + 3, max(3.0, right - left), height - top - 6), 2, 2)

    def _paint_overview(self, painter: QPainter) -> None:
        """Small pictures side by side, as many as have room, and over them how loud it is."""
        overview, height = self._overview, self._blocks_top()
        if overview is None or not overview.pictures or height < 8:
            return
        rows, columns = overview.pictures[0].shape[:2]
        wide = height * columns / rows
        slots = max(1, round(self.width() / wide))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        for slot in range(slots):
            middle_s = (slot + 0.5) / slots * self._duration_s
            near = min(range(len(overview.times_s)), key=lambda i: abs(overview.times_s[i] - middle_s))
            place = QRectF(slot * self.width() / slots, 0, self.width() / slots, height)
            pixels = overview.pictures[near]
            image = QImage(voidptr(pixels.data), columns, rows, 4 * columns, QImage.Format.Format_RGB32)  # type: ignore[call-overload]
            painter.drawImage(place.adjusted(0, 0, -1, 0), image)
        if self._loud:
            step = self.width() / len(self._loud)
            painter.setPen(QPen(self._theme.colour("mark.next"), 1))
            for i, loud in enumerate(self._loud):
                x = (i + 0.5) * step
                painter.drawLine(QPointF(x, height), QPointF(x, height - loud * height * 0.7))

    def _paint_part(self, painter: QPainter, part: StretchLine) -> None:
        """Not live is hatched, each kind its own way; a cut is a gap between two walls."""
        theme, height = self._theme, self.height()
        box = QRectF(self._x(part.start_s), 0, max(2.0, self._x(part.end_s) - self._x(part.start_s)), height)
        if part.kind == "cut_out":
            painter.fillRect(box, theme.colour("raised"))
            style = Qt.PenStyle.DashLine if part.proposed else Qt.PenStyle.SolidLine
            painter.setPen(QPen(theme.colour("bad"), 2, style))
            painter.drawLine(box.topLeft(), box.bottomLeft())
            painter.drawLine(box.topRight(), box.bottomRight())
            return
        style = Qt.PenStyle.DashLine if part.proposed else Qt.PenStyle.SolidLine
        painter.setPen(QPen(theme.colour("ink"), 1, style))
        hatch = Qt.BrushStyle.NoBrush if part.proposed else HATCHES.get(part.kind, Qt.BrushStyle.NoBrush)
        painter.setBrush(QBrush(theme.colour("ink"), hatch))
        painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self._seek(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons():
            self._seek(event)
        elif event is not None and self.width():
            time_s = event.position().x() / self.width() * self._duration_s
            here = [line_words(p) for p in self._parts if p.start_s <= time_s <= p.end_s]
            self.setToolTip(as_it_stands("\n".join(here) or TIP))

    def _seek(self, event: QMouseEvent | None) -> None:
        if event is not None and self._duration_s and self.width():
            share = min(1.0, max(0.0, event.position().x() / self.width()))
            self.sought.emit(share * self._duration_s)


class Transport(QWidget):
    """Play button, steps, speed, strip and time."""

    speed_chosen = pyqtSignal(float)

    def __init__(self, theme: Theme, actions: ActionRegistry) -> None:
        super().__init__()
        self._theme = theme
        self.strip = FilmStrip(theme)
        self._time = label("", "caption")
        self._time.setMinimumWidth(theme.px(72))
        layout = QHBoxLayout(self)
        layout.setContentsMargins(8, 4, 8, 4)
        layout.setSpacing(4)
        self._play = self._button(actions, "play", "play")
        for name, icon in (("frame_back", "step-back"), ("frame_forward", "step-forward")):
            layout.addWidget(self._button(actions, name, icon))
        layout.insertWidget(1, self._play)
        self._speed = QComboBox()
        self._speed.setAccessibleName("Speed of the film")
        self._speed.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        for speed in SPEEDS:
            names = {0.125: "⅛×", 0.25: "¼×", 0.5: "½×"}
            self._speed.addItem(names.get(speed, f"{speed:g}×"), speed)
        self._speed.setCurrentIndex(SPEEDS.index(1.0))
        self._speed.activated.connect(lambda i: self.speed_chosen.emit(SPEEDS[i]))
        layout.addWidget(self._speed)
        self._read = self._button(actions, "read_film", None)
        self._read_text, self._read_tip = f"read  {self._read.text()}", self._read.toolTip()
        self._read.setText(self._read_text)
        layout.addWidget(self._read)
        layout.addWidget(self.strip, 1)
        layout.addWidget(self._time)

    def _button(self, actions: ActionRegistry, name: str, icon: str | None) -> QPushButton:
        action = actions[name]
        button = QPushButton(actions.spec(name).hint)
        button.setFont(self._theme.font(CAPTION_PX))
        if icon is not None:
            button.setIcon(self._theme.icon(icon))
        button.setToolTip(action.toolTip())
        button.setAccessibleName(action.toolTip())
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.clicked.connect(lambda _checked=False: action.trigger())
        return button

    def show_playing(self, playing: bool) -> None:
        """The button shows what it would do."""
        self._play.setIcon(self._theme.icon("pause" if playing else "play"))

    def show_reading(self, to_s: float, left: str, tip: str) -> None:
        """Up to where the film is read while it is being read (0: it is not), and how much is left."""
        self.strip.show_read(to_s)
        self._read.setText(left or self._read_text)
        self._read.setToolTip(f"{self._read_tip} {tip}".strip())

    def show_film_open(self, is_open: bool) -> None:
        """Only a film that is open can be read."""
        self._read.setVisible(is_open)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Where it is narrow the strip has the place: the time stands over the film as well."""
        super().resizeEvent(event)
        self._time.setVisible(self.width() >= self._theme.px(TIME_FROM_PX))

    def show_no_film(self) -> None:
        """There is nothing to play."""
        self.strip.show_film(0.0)
        self._time.setText("")

    def show_time(self, time_s: float) -> None:
        """Where the film is."""
        self.strip.show_time(time_s)
        self._time.setText(clock(time_s))
