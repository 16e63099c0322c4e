"""Says where the camera stands: known points are clicked in a frame, the table is drawn back over it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
)

from ripasso.core.json_data import JsonObject
from ripasso.core.table import table_spec
from ripasso.drawing.primitives import Line
from ripasso.film import Picture
from ripasso.film.calibration.moving import TIME_DECIMALS, camera_at, rebased
from ripasso.film.calibration.views import camera_of
from ripasso.film.decoding.still import whole_frame
from ripasso.review.language.vocabulary import clock, count
from ripasso.review.record.model import Recording, serialize
from ripasso.review.record.parts import View
from ripasso.review.recordings.views import copy_view, forget_view, set_view, view_at
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.painting import picture_of
from ripasso.ui.review.film.film_view import FilmView, Glass
from ripasso.ui.review.film.view_state import CIRCLES_ENLARGED, FEWEST, ViewState
from ripasso.ui.review.film.view_work import ViewWork
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.services.background import Background
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label

NEAR_PX, PLAN_WIDTH = 12.0, 314
#: From this on a press is a drag, pixels of the film; so near the cloth's edge lines lie on it.
DRAG_PX, ON_EDGE_PX = 2.0, 1.5


def open_camera_dialog(context: ReviewContext) -> CameraDialog | None:
    """The dialog for the frame on screen; None, with a sentence, where there is no film."""
    recording, index, picture = (
        context.film_controller.recording,
        context.player.index,
        context.player.picture,
    )
    if recording is None or index is None or picture is None:
        context.say("A view needs a film; there is none open here.")
        return None
    context.player.pause()
    return CameraDialog(context, recording, picture)


class CameraDialog(GuidedDialog):
    """One frame, the points to be clicked beside it, and how well the camera fits."""

    place = "The camera."

    def __init__(self, context: ReviewContext, recording: Recording, picture: Picture) -> None:
        super().__init__(context.window)
        self.setWindowTitle("Camera")
        self._theme: Theme = context.theme
        self._controller: ReviewController = context.controller
        self._background: Background = context.background
        self._say = context.say
        self._recording, self._picture = recording, picture
        index = context.player.index
        assert index is not None
        self._index = index
        snapshot = self._controller.snapshot
        self.state = ViewState(
            table_spec(snapshot.head.table if snapshot else None), (index.width, index.height)
        )
        self.work = ViewWork(self._background, self.state, (index, picture.number), self.refresh)
        self._dragged: str | None = None
        #: Of a view without clicked points: which of them the mouse took, and where.
        self._taken: tuple[str, QPointF] | None = None
        self._replaces = self._stored_place()
        self.film = FilmView(self._theme)
        self.points = QListWidget()
        self._compose()
        self._connect()
        self._load()
        self.refresh()
        number = picture.number
        self._background.run(lambda: whole_frame(index, number), self._show_frame)

    # Building

    def _compose(self) -> None:
        theme = self._theme
        self.resize(theme.px(1180), theme.px(700))
        self._ask = label("", "title", wrap=True)
        self._quality = label("", wrap=True)
        self._plan = QLabel()
        self._plan.setAccessibleName("The table from above, with the point to be clicked")
        self.points.setAccessibleName("Known points of the table")
        self.points.setFixedWidth(theme.px(PLAN_WIDTH))
        self.skip = QPushButton("Not in the picture")
        self.forget = QPushButton("Delete this point")
        self.whole = QCheckBox("Holds for the whole film")
        self.whole.setToolTip("Otherwise from this frame on, until another view begins.")
        self._others = QComboBox()
        self._others.setAccessibleName("Views that can be copied")
        self.copy = QPushButton("Apply")
        self.drop = QPushButton("Delete")
        self.keep = QPushButton("Save")
        self.keep.setProperty("main", True)
        for button in (self.skip, self.forget, self.copy, self.drop, self.keep):
            button.setAutoDefault(False)
        side = QVBoxLayout()
        side.setSpacing(8)
        for part in (self._ask, self._plan, self.points, self.skip, self.forget, self._quality, self.whole):
            side.addWidget(part)
        row = QHBoxLayout()
        row.addWidget(self._others, 1)
        row.addWidget(self.copy)
        side.addWidget(label("The same camera in another film or part", "caption"))
        side.addLayout(row)
        side.addWidget(self.drop)
        side.addWidget(self.keep)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(16, 16, 16, 16)
        whole.setSpacing(16)
        whole.addWidget(self.film, 1)
        whole.addLayout(side)

    def _connect(self) -> None:
        self.film.pressed.connect(self._press)
        self.film.moved.connect(self._move)
        self.film.released.connect(self._release)
        self.film.hovered.connect(self._hover)
        self.film.left.connect(lambda: self.film.show_glass(None))
        self.points.itemClicked.connect(self._choose)
        self.skip.clicked.connect(self._skip)
        self.forget.clicked.connect(self._forget)
        self.copy.clicked.connect(self._copy)
        self.drop.clicked.connect(self._drop)
        self.keep.clicked.connect(self._keep)

    def _stored_place(self) -> int | None:
        """The number of the view that holds at this frame."""
        views = self._recording.views or ()
        holds = view_at(self._recording, self._picture.time_s)
        return next((i for i, view in enumerate(views) if view is holds), None)

    def _load(self) -> None:
        views = self._recording.views or ()
        view = views[self._replaces] if self._replaces is not None else None
        self.whole.setChecked(view is None or view.from_ is None)
        if view is not None:
            # Points of a camera that moved since were clicked on another picture.
            same = not view.motion or view.at is None or view.at == round(self._picture.time_s, TIME_DECIMALS)
            self.state.load([serialize(point) for point in view.points or ()] if same else [])
            self.state.found = camera_at(view, self._picture.time_s)
        if self.state.clicked:
            self.work.fit()
        elif self.state.found is not None:
            self.work.check()
        else:
            self.work.find()
        self._sources: list[View] = []
        snapshot = self._controller.snapshot
        for recording in (snapshot.head.recordings if snapshot else None) or ():
            for i, other in enumerate(recording.views or ()):
                if other is not view and camera_of(other.camera) is not None:
                    start = f", from {clock(other.from_)}" if other.from_ is not None else ""
                    self._sources.append(other)
                    self._others.addItem(f"{recording.id}, view {i + 1}{start}")
        self.copy.setEnabled(bool(self._sources))
        self.drop.setEnabled(view is not None)

    def _show_frame(self, pixels: Any) -> None:
        self._picture = Picture(self._picture.number, self._picture.time_s, pixels)
        self.film.show_picture(self._picture, late=False)
        self.refresh()

    # Points

    def _press(self, pixel: QPointF, _also: bool) -> None:
        at = (pixel.x(), pixel.y())
        reach = NEAR_PX * self.state.size[0] / max(1.0, self.film.picture_area().width())
        seen = self.state.seen_near(at, reach)
        self._taken = (seen, pixel) if seen is not None else None
        self._dragged = self.state.near(at, reach)
        if self._dragged is None and self._taken is None:
            self._dragged = self.state.current
            self.state.put(at, self._dragged)
        self.refresh()

    def _move(self, pixel: QPointF) -> None:
        if self._dragged is not None:
            self.state.put((pixel.x(), pixel.y()), self._dragged)
            self.film.show_layers(self.state.drawing(), self.state.size)
        elif self._taken is not None:
            shift = Line(
                ((self._taken[1].x(), -self._taken[1].y()), (pixel.x(), -pixel.y())), "mark.error", "thin"
            )
            drawn = self.state.drawing()
            self.film.show_layers(replace(drawn, primitives=(*drawn.primitives, shift)), self.state.size)
        self._hover(pixel)

    def _release(self, pixel: QPointF, _also: bool) -> None:
        at, taken, self._taken = (pixel.x(), pixel.y()), self._taken, None
        if taken is not None and (pixel - taken[1]).manhattanLength() >= DRAG_PX:
            self.work.mend(taken[0], at)
            return
        if taken is not None:
            self._dragged = self.state.current
        if self._dragged is None:
            return
        self.state.put(at, self._dragged)
        if self._dragged == self.state.current:
            self.state.go_on()
        self._dragged = None
        self.work.fit()
        self.refresh()

    def _hover(self, pixel: QPointF) -> None:
        self.film.show_glass(Glass(pixel, self._picture.pixels) if self.film.picture is not None else None)

    def _choose(self, item: QListWidgetItem) -> None:
        self.state.current = str(item.data(Qt.ItemDataRole.UserRole))
        self.refresh()

    def _skip(self) -> None:
        self.state.skip()
        self.refresh()

    def _forget(self) -> None:
        self.state.forget(self.state.current)
        self.work.fit()
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_N:
            self._skip()
        elif event is not None and event.key() == Qt.Key.Key_Delete:
            self._forget()
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.keep.isEnabled():
                self._keep()
        else:
            super().keyPressEvent(event)

    # The camera

    def refresh(self) -> None:
        """Show the points, the camera and the table over the frame."""
        state = self.state
        self._ask.setText(self._ask_words())
        residuals = state.residuals()
        self.points.clear()
        for point in state.points:
            mark = "●" if point.name in state.clicked else "○"
            off = f"   {residuals[point.name]:.1f} px" if point.name in residuals else ""
            item = QListWidgetItem(f"{mark} {point.name}{off}")
            item.setData(Qt.ItemDataRole.UserRole, point.name)
            self.points.addItem(item)
            if point.name == state.current:
                self.points.setCurrentItem(item)
        self._quality.setText(self._quality_words())
        self.forget.setEnabled(state.current in state.clicked)
        self.keep.setEnabled(state.camera is not None)
        picture = picture_of(state.plan(), self._theme, self._theme.px(PLAN_WIDTH))
        self._plan.setPixmap(QPixmap.fromImage(picture))
        self.film.show_layers(state.drawing(), state.size)

    def _ask_words(self) -> str:
        state = self.state
        if state.found is not None and not state.clicked:
            return "Do the lines lie on the table?"
        return (
            "Drag a point that does not fit"
            if state.current in state.clicked
            else f"Click the {state.current}"
        )

    def _quality_words(self) -> str:
        state = self.state
        if state.problem:
            return state.problem
        if not state.clicked:
            if state.found is None:
                return "Looking for the table" if self.work.busy else f"{FEWEST} points needed."
            return f"{self._edge_words()} Return keeps this view; one point dragged to its place mends it."
        missing = FEWEST - len(state.clicked)
        if missing > 0:
            return f"{count(missing, 'more point')} needed."
        if state.fitted is None:
            return "Looking for the camera"
        sure = state.uncertainty_mm()
        where = (
            f" A ball is placed within {sure[0]:.0f} mm in the middle and {sure[1]:.0f} mm at the far end "
            f"(circles, {CIRCLES_ENLARGED} times as large)."
            if sure
            else ""
        )
        points = f"Residual {state.fitted.residual_px:.1f} px over {len(state.clicked)} points."
        return f"{points}{where} {self._edge_words()}".strip()

    def _edge_words(self) -> str:
        off = self.state.off_px
        if off is None:
            return "" if self.work.busy else "The edge of the cloth is not to be told in this picture."
        if off <= ON_EDGE_PX:
            return f"Its lines lie on the cloth ({off:.1f} px)."
        return f"Its lines are {off:.1f} px off the cloth's edge."

    # What is kept

    def _keep(self) -> None:
        start = None if self.whole.isChecked() else self._start()
        record = self.state.record(start, self._end()) | self._motion()
        recording, place = self._recording.id, self._replaces
        if self._controller.perform_session(lambda snapshot: set_view(snapshot, recording, record, place)):
            self._say("The view is kept; balls can be clicked on the film.", "good")
            self.accept()

    def _motion(self) -> JsonObject:
        """Of which frame the view is, and what its camera does beside it as far as it was followed before."""
        view = (self._recording.views or ())[self._replaces] if self._replaces is not None else None
        time_s = self._picture.time_s
        moved = rebased(view.motion, time_s) if view is not None and view.motion else ()
        at = {"at": round(time_s, TIME_DECIMALS)}
        return at | {"motion": [list(row) for row in moved]} if moved else at

    def _start(self) -> float:
        view = (self._recording.views or ())[self._replaces] if self._replaces is not None else None
        kept = view.from_ if view is not None else None
        return float(kept) if kept is not None else self._picture.time_s

    def _end(self) -> float | None:
        view = (self._recording.views or ())[self._replaces] if self._replaces is not None else None
        return float(view.to) if view is not None and view.to is not None else None

    def _copy(self) -> None:
        source, recording = self._sources[self._others.currentIndex()], self._recording.id
        if self._controller.perform_session(lambda snapshot: copy_view(snapshot, recording, source)):
            self._say("The view is taken over for this film.", "good")
            self.accept()

    def _drop(self) -> None:
        recording, place = self._recording.id, self._replaces
        if place is not None and self._controller.perform_session(lambda s: forget_view(s, recording, place)):
            self.accept()

    def done(self, result: int) -> None:
        """Closed: an answer that is still on its way is not wanted."""
        self.work.stop()
        super().done(result)
