"""Says where the camera stands: known points are clicked in a frame, the table is drawn back over it."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
)

from ripasso.core.table import table_spec
from ripasso.core.table.known_points import exactness_m
from ripasso.film import Picture
from ripasso.film.calibration.views import camera_of
from ripasso.film.decoding.still import whole_frame
from ripasso.review.language.vocabulary import clock, count
from ripasso.review.record.model import Recording, serialize
from ripasso.review.record.parts import View
from ripasso.review.recordings.views import copy_view, forget_view, set_view, view_at
from ripasso.ui.review.film.film_view import FilmView, Glass
from ripasso.ui.review.film.view_state import FEWEST, ViewState
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.services.background import Background
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label

NEAR_PX = 12.0


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


class CameraDialog(QDialog):
    """One frame, the points to be clicked beside it, and how well the camera fits."""

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
        self._dragged: str | None = None
        self._fit_number: int | None = None
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
        self.points.setAccessibleName("Known points of the table")
        self.points.setFixedWidth(theme.px(314))
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
        for part in (self._ask, self.points, self.skip, self.forget, self._quality, self.whole):
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
            self.state.load([serialize(point) for point in view.points or ()])
            self._fit()
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
        self._dragged = self.state.near(at, reach)
        if self._dragged is None:
            self._dragged = self.state.current
            self.state.put(at, self._dragged)
        self.refresh()

    def _move(self, pixel: QPointF) -> None:
        if self._dragged is not None:
            self.state.put((pixel.x(), pixel.y()), self._dragged)
            self.film.show_layers(self.state.drawing(), self.state.size)
        self._hover(pixel)

    def _release(self, pixel: QPointF, _also: bool) -> None:
        if self._dragged is None:
            return
        self.state.put((pixel.x(), pixel.y()), self._dragged)
        if self._dragged == self.state.current:
            self.state.go_on()
        self._dragged = None
        self._fit()
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
        self._fit()
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_N:
            self._skip()
        elif event is not None and event.key() == Qt.Key.Key_Delete:
            self._forget()
        else:
            super().keyPressEvent(event)

    # The camera

    def _fit(self) -> None:
        """Look for the camera in the background; an older answer is dropped."""
        if self._fit_number is not None:
            self._background.forget(self._fit_number)
            self._fit_number = None
        places, pixels = self.state.given()
        if len(places) < FEWEST:
            self.state.fitted, self.state.problem = None, ""
            return
        size, exact_m = self.state.size, exactness_m(self.state.spec, places)

        def work() -> Any:
            from ripasso.film.calibration.camera_fit import fit_view

            return fit_view(places, pixels, size, exact_m)

        self._fit_number = self._background.run(work, self._fitted, self._not_fitted)

    def _fitted(self, fitted: Any) -> None:
        self._fit_number = None
        self.state.fitted, self.state.problem = fitted, ""
        self.refresh()

    def _not_fitted(self, error: Exception) -> None:
        self._fit_number = None
        self.state.fitted, self.state.problem = None, str(error)
        self.refresh()

    def refresh(self) -> None:
        """Show the points, the camera and the table over the frame."""
        state = self.state
        every = state.current in state.clicked
        self._ask.setText("Drag a point that does not fit" if every else f"Click the {state.current}")
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
        self.keep.setEnabled(state.fitted is not None)
        self.film.show_layers(state.drawing(), state.size)

    def _quality_words(self) -> str:
        state = self.state
        missing = FEWEST - len(state.clicked)
        if state.problem:
            return state.problem
        if state.fitted is None:
            return f"{count(missing, 'more point')} needed." if missing > 0 else "Looking for the camera"
        sure = state.uncertainty_mm()
        where = (
            f" A ball is placed within {sure[0]:.0f} mm in the middle and {sure[1]:.0f} mm at the far end."
            if sure
            else ""
        )
        return f"Residual {state.fitted.residual_px:.1f} px over {len(state.clicked)} points.{where}"

    # What is kept

    def _keep(self) -> None:
        start = None if self.whole.isChecked() else self._start()
        record = self.state.record(start, self._end())
        recording, place = self._recording.id, self._replaces
        if self._controller.perform_session(lambda snapshot: set_view(snapshot, recording, record, place)):
            self._say("The view is kept; balls can be clicked on the film.", "good")
            self.accept()

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
        if self._fit_number is not None:
            self._background.forget(self._fit_number)
        super().done(result)
