"""The table diagram on screen: painted from a drawing, clicked for balls and pockets, described in words."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ripasso.core.table import pocket_centres
from ripasso.drawing import Drawing, TableScene, table_drawing
from ripasso.drawing.seats import UPRIGHT, ViewingSide
from ripasso.ui.painting import Fit, Zoom, paint_drawing
from ripasso.ui.theme import CAPTION_PX, Theme
from ripasso.ui.widgets.own_keys import arrow_step, claims_arrow
from ripasso.ui.widgets.painted import painted
from ripasso.ui.widgets.pointer_handler import PointerHandler

READABLE_PX = 8.5  # the radius at which a ball's number can be read
REACH_M = 0.07  # how near a click must come to a ball or a pocket
DRAG_PX = 5  # a press that moves less is a click


class TableView(QWidget):
    """Shows a scene. `ball_clicked` and `pocket_clicked` bring names; arrow keys walk the balls.

    A `hand` takes drags, and with a tool in it every gesture. The wheel enlarges, the middle button pushes.
    """

    ball_clicked = pyqtSignal(str)
    pocket_clicked = pyqtSignal(str)
    #: The right button on a ball: which one it is may have to be said.
    ball_asked = pyqtSignal(str, QPoint)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._scene: TableScene | None = None
        self._seat: ViewingSide = "side"
        self._hints: Mapping[str, str] = {}
        self._walked: str | None = None
        self.hand: PointerHandler | None = None
        self._zoom = Zoom()
        self._pressed: QPointF | None = None
        self._dragging = False
        self._pushing = False
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Table diagram")

    def show_scene(self, scene: TableScene) -> None:
        """Show this scene."""
        if scene != self._scene:
            self._scene = scene
            self._walked = self._walked if self._walked in scene.balls else None
            self._describe()
            self.update()

    @property
    def scene(self) -> TableScene | None:
        """The scene on show."""
        return self._scene

    def set_seat(self, seat: ViewingSide, hints: Mapping[str, str]) -> None:
        """See the table from one of its sides; `hints` are the pockets' letters."""
        self._seat, self._hints = seat, hints
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(480, 260)

    def minimumSizeHint(self) -> QSize:
        return QSize(260, 140)

    def fit(self) -> Fit | None:
        """How metres and pixels go together now."""
        if self._scene is None:
            return None
        area = QRectF(self.rect()).adjusted(4, 4, -4, -4)
        return Fit(self.drawing(), area, seat=self._seat, zoom=self._zoom)

    def drawing(self) -> Drawing:
        """What is painted, in table metres."""
        return self._drawing(self._scene) if self._scene is not None else Drawing((), 0, 0, 1, 1, "")

    @property
    def seat(self) -> ViewingSide:
        """From where the table is seen."""
        return self._seat

    def _drawing(self, scene: TableScene) -> Drawing:
        """The scene with balls large enough for their numbers to be read at this size of the widget."""
        return table_drawing(self._scaled(scene))

    def _scaled(self, scene: TableScene) -> TableScene:
        long_side = (self.height() if self._seat in UPRIGHT else self.width()) * self._zoom.factor
        true_px = scene.spec.ball_radius * long_side / (scene.spec.length * 1.1)
        wanted = self._theme.px(READABLE_PX) / max(1.0, true_px)
        return replace(scene, ball_scale=max(1.0, wanted))

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        fit = self.fit()
        if fit is None or self._scene is None:
            return
        paint_drawing(painter, self._drawing(self._scene), fit, self._theme)
        self._paint_hints(painter, fit)
        if self._walked is not None and self.hasFocus():
            radius = self._scene.spec.ball_radius * fit.scale * 2
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(self._theme.colour("table.on"))
            painter.drawEllipse(fit.pixel(self._scene.balls[self._walked]), radius, radius)

    def _paint_hints(self, painter: QPainter, fit: Fit) -> None:
        """The letters of the pockets, in the pockets."""
        if self._scene is None:
            return
        painter.setFont(self._theme.font(CAPTION_PX, weight=600))
        painter.setPen(self._theme.colour("table.sight"))
        for pocket, centre in pocket_centres(self._scene.spec).items():
            at = fit.pixel(centre)
            box = QRectF(at.x() - 12, at.y() - 10, 24, 20)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self._hints.get(pocket, ""))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        fit = self.fit()
        if event is None or fit is None:
            return
        self._pressed = event.position()
        self._pushing = event.button() == Qt.MouseButton.MiddleButton
        tool = self.hand is not None and not self.hand.looking
        if tool and not self._pushing and self.hand is not None:
            self._dragging = True
            also = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.hand.press(fit.place(event.position()), also=also, reach_m=self._reach())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        fit = self.fit()
        if event is None or fit is None:
            return
        at = event.position()
        if self._pressed is not None and self._pushing:
            self._push(at)
        elif self._dragging and self.hand is not None:
            self.hand.move(fit.place(at))
        elif self._pressed is not None:
            self._begin_drag(fit, at)
        elif self.hand is not None and not self.hand.looking:
            self.hand.hover(fit.place(at))

    def _begin_drag(self, fit: Fit, at: QPointF) -> None:
        """A press that moves: it takes a ball along, or pushes the enlarged table."""
        start = self._pressed
        if start is None or math.dist((start.x(), start.y()), (at.x(), at.y())) < DRAG_PX:
            return
        if self.hand is not None and self.hand.grasp(fit.place(start), reach_m=self._reach()):
            self._dragging = True
            self.hand.move(fit.place(at))
        elif self._zoom.factor > 1:
            self._pushing = True

    def _push(self, at: QPointF) -> None:
        if self._pressed is not None:
            self._zoom = self._zoom.moved(at.x() - self._pressed.x(), at.y() - self._pressed.y())
            self._pressed = at
            self.update()

    def _reach(self) -> float:
        """How near a press must come to a drawn ball to be on it."""
        return self._scaled(self._scene).drawn_radius * 1.1 if self._scene is not None else 0.0

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        fit = self.fit()
        if event is None or fit is None:
            return
        clicked = self._pressed is not None and not self._pushing and not self._dragging
        dragging, self._dragging, self._pushing, self._pressed = self._dragging, False, False, None
        if dragging and self.hand is not None:
            self.hand.release(fit.place(event.position()))
        elif clicked:
            self._click(fit.place(event.position()))

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        fit, scene = self.fit(), self._scene
        if event is None or fit is None or scene is None:
            return
        place = fit.place(QPointF(event.pos()))
        near = {name: math.dist(at, place) for name, at in scene.balls.items()}
        ball = min(near, key=lambda name: near[name], default=None)
        if ball is not None and near[ball] < REACH_M:
            self.ball_asked.emit(ball, event.globalPos())

    def _click(self, place: tuple[float, float]) -> None:
        scene = self._scene
        if scene is None:
            return
        balls = {n: math.dist(p, place) for n, p in scene.balls.items() if n != "cue"}
        pockets = {n: math.dist(p, place) for n, p in pocket_centres(scene.spec).items()}
        nearest_ball = min(balls, key=lambda n: balls[n], default=None)
        nearest_pocket = min(pockets, key=lambda n: pockets[n])
        if nearest_ball is not None and balls[nearest_ball] < REACH_M:
            self.ball_clicked.emit(nearest_ball)
        elif pockets[nearest_pocket] < REACH_M * 1.5:
            self.pocket_clicked.emit(nearest_pocket)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if self.hand is not None and not self.hand.looking:
            self.hand.finish()
        else:
            self.show_all()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None:
            return
        middle = QRectF(self.rect()).center()
        self._zoom = self._zoom.about(1.25 ** (event.angleDelta().y() / 120), event.position(), middle)
        self.update()

    def show_all(self) -> None:
        """The whole table again."""
        self._zoom = Zoom()
        self.update()

    def event(self, event: QEvent | None) -> bool:
        return claims_arrow(event) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        by = arrow_step(event)
        if self._scene is None or not by or not self._scene.balls:
            super().keyPressEvent(event)
            return
        names = list(self._scene.balls)
        place = names.index(self._walked) + by if self._walked in names else 0
        self._walked = names[place % len(names)]
        self._describe()
        self.update()

    def _describe(self) -> None:
        if self._scene is None:
            return
        words = table_drawing(self._scene).words
        if self._walked is not None:
            x, y = self._scene.balls[self._walked]
            words = f"{self._walked}: {x:.2f} m from the head end, {y:.2f} m from the right. {words}"
        self.setAccessibleDescription(words)
