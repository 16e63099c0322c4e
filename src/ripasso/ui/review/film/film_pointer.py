"""Clicks on the film, brought to the table through its view; a click on a ball snaps to its edge."""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from PyQt6.QtCore import QPointF

from ripasso.core.table.places import Place
from ripasso.drawing import Drawing
from ripasso.drawing.layers import Layers
from ripasso.drawing.primitives import Circle, Primitive, Text
from ripasso.drawing.through import through_view
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.moving import camera_at
from ripasso.film.decoding.still import whole_frame
from ripasso.review.record.model import Shot
from ripasso.review.recordings.views import view_at
from ripasso.ui.review.film.film_controller import FilmController
from ripasso.ui.review.film.film_player import FilmPlayer
from ripasso.ui.review.film.film_view import FilmView, Glass
from ripasso.ui.review.state.selection import Say
from ripasso.ui.review.table.picture_controller import PictureController, proposed_balls
from ripasso.ui.services.background import Background

if TYPE_CHECKING:
    from ripasso.film.calibration.snap import Snap

Frame = tuple[Path, int]
#: Clicks farther than this outside the cushions mean nothing on the table (metres).
OUTSIDE_M = 0.12
#: How near to a mark the film must be for the balls at it to be ringed, seconds.
NEAR_S = 0.05


class FilmPointer:
    """Listens to the film's view; answers with places for the picture controller."""

    def __init__(
        self,
        view: FilmView,
        player: FilmPlayer,
        controller: FilmController,
        pictures: PictureController,
        services: tuple[Background, Say],
    ) -> None:
        self._view, self._player, self._controller, self._pictures = view, player, controller, pictures
        self._background, self._say = services
        self._whole: tuple[Frame, Any] | None = None
        self._fetching: Frame | None = None
        self._is_snapping = False
        self._waiting: list[Callable[[], None]] = []
        self._pressed = False
        view.pressed.connect(self._press)
        view.moved.connect(self._move)
        view.released.connect(self._release)
        view.hovered.connect(self._hover)
        view.finished.connect(pictures.finish)
        view.left.connect(lambda: view.show_glass(None))

    @property
    def camera(self) -> Camera | None:
        """The camera that sees the frame on screen, in pixels of the whole film."""
        time_s = self._player.time_s
        if time_s is None:
            return None
        return camera_at(view_at(self._controller.recording, time_s), time_s)

    @property
    def film_size(self) -> tuple[int, int]:
        """Width and height of the film."""
        return self._player.size() or (1280, 720)

    def layers(self, layers: Layers, shown: bool) -> Drawing | None:
        """The layers as the film sees them; None without a view, or where they are not wanted."""
        camera = self.camera
        if camera is None or not shown:
            return None
        primitives: list[Primitive] = self._running()
        if not self._player.playing:
            primitives += [*layers.under, *layers.over, *self._placed(), *self._proposed()]
        if not primitives:
            return None
        height = self._pictures.spec.ball_radius
        return through_view(primitives, camera.project, self.film_size, height)

    def _running(self) -> list[Primitive]:
        """Where the cue ball of each planned option would be now: in time with the film."""
        record, time_s = self._pictures.record, self._player.time_s
        strike = self._controller.marks(record)[0] if record is not None else None
        if strike is None or time_s is None:
            return []
        radius = self._pictures.spec.ball_radius
        drawn: list[Primitive] = []
        for title, place in self._pictures.running(time_s - strike):
            drawn.append(Circle(place, radius, None, "mark.plan", "bold"))
            drawn.append(Text((place[0], place[1] + 2.2 * radius), title, "mark.plan", radius * 1.2))
        return drawn

    def _placed(self) -> list[Primitive]:
        """Balls that were placed, ringed while balls are being placed."""
        placing = self._pictures.placing
        if placing is None:
            return []
        radius = self._pictures.spec.ball_radius
        drawn: list[Primitive] = []
        for ball, place in {**self._pictures.layout(placing.when), **placing.moved()}.items():
            drawn.append(Circle(place, radius, None, "mark.frame", "thin"))
            drawn.append(Text((place[0], place[1] + 2.2 * radius), ball, "mark.frame", radius * 1.2))
        return drawn

    def _proposed(self) -> list[Primitive]:
        """Balls that were read and not accepted, ringed dashed where the shot begins and where it is over."""
        record, time_s = self._pictures.record, self._player.time_s
        if record is None or time_s is None or not self._pictures.looking:
            return []
        strike, rest = self._controller.marks(record)
        at_end = rest is not None and time_s >= rest - NEAR_S
        at_start = strike is not None and time_s <= strike + NEAR_S
        if not (at_start or at_end):
            return []
        when: Literal["before", "after"] = "after" if at_end else "before"
        radius, wanted = self._pictures.spec.ball_radius, proposed_balls(record, when)
        drawn: list[Primitive] = []
        for ball, place in self._pictures.layout(when).items():
            if ball in wanted:
                drawn.append(Circle(place, 1.25 * radius, None, "mark.frame", "thin", dashed=True))
                drawn.append(Text((place[0], place[1] + 2.2 * radius), ball, "mark.frame", radius * 1.2))
        return drawn

    # Gestures

    def _place(self, pixel: QPointF) -> Place | None:
        camera, spec = self.camera, self._pictures.spec
        if camera is None:
            return None
        x, y = camera.places([[pixel.x(), pixel.y()]], spec.ball_radius)[0]
        inside = -OUTSIDE_M < x < spec.length + OUTSIDE_M and -OUTSIDE_M < y < spec.width + OUTSIDE_M
        return (float(x), float(y)) if inside else None

    def _press(self, pixel: QPointF, also: bool) -> None:
        if self._pictures.looking or self._waiting or self._is_snapping:
            return  # a click that waits for its frame, or for its ball's edge, keeps its ball
        self._player.pause()
        if self.camera is None:
            self._say("This part of the film has no view yet; ⇧V sets one.", "plain")
            return
        place = self._place(pixel)
        if place is None:
            self._say("That is off the table.", "plain")
            return
        self._pressed = True
        self._pictures.press(place, also=also)
        if self._pictures.tool.snaps:
            self._fetch()

    def _move(self, pixel: QPointF) -> None:
        self._show_glass(pixel)
        place = self._place(pixel) if self._pressed else None
        if place is not None:
            self._pictures.move(place)

    def _hover(self, pixel: QPointF) -> None:
        self._show_glass(pixel)
        if not self._pictures.looking:
            place = self._place(pixel)
            if place is not None:
                self._pictures.hover(place)

    def _release(self, pixel: QPointF, exactly: bool) -> None:
        if not self._pressed:
            return
        self._pressed = False
        place = self._place(pixel)
        if place is None:
            self._pictures.tool.drop()
            self._pictures.changed.emit(None)
        elif self._pictures.tool.snaps and not exactly:
            self._pictures.move(place)
            shot = self._pictures.record
            self._when_whole(lambda: self._snap(place, shot))
        else:
            self._pictures.release(place)

    def _snap(self, place: Place, shot: Shot | None) -> None:
        """Look for the ball's edge near a click, in the background; the ball lies at the click meanwhile."""
        camera, radius = self.camera, self._pictures.spec.ball_radius
        if camera is None or self._whole is None or self._whole[0] != self._frame():
            self._let_go(place, shot, None)
            return
        pixels = self._whole[1][:, :, :3]

        def search() -> Snap | None:
            from ripasso.film.calibration.snap import snap_to_ball

            return snap_to_ball(pixels, camera, place, radius)

        self._is_snapping = True
        self._background.run(search, lambda found: self._let_go(place, shot, found), self._not_found)

    def _let_go(self, place: Place, shot: Shot | None, found: Snap | None) -> None:
        """Put the ball where its edge is, when one was found near the click; not into another shot."""
        self._is_snapping = False
        if self._pictures.record is not shot:
            return
        if found is None:
            self._say("No ball's edge near the click, so it lies exactly there.", "plain")
        else:
            moved = 1000 * math.dist(found.place, place)
            self._say(f"Snapped to the ball's edge, {moved:.0f} mm from the click.", "plain")
        self._pictures.release(found.place if found else place)

    def _not_found(self, error: Exception) -> None:
        self._is_snapping = False
        self._pictures.tool.drop()
        self._say(str(error), "bad")

    # The whole frame

    def prepare(self) -> None:
        """The whole frame will be needed: a tool that snaps was taken."""
        if self._pictures.tool.snaps:
            self._fetch()

    def _frame(self) -> Frame | None:
        """The frame on screen, and the film it belongs to."""
        index, picture = self._player.index, self._player.picture
        return (index.path, picture.number) if index is not None and picture is not None else None

    def _fetch(self) -> None:
        """Decode the frame on screen at its full size, once."""
        index, frame = self._player.index, self._frame()
        if index is None or frame is None or self._fetching == frame:
            return
        if self._whole is not None and self._whole[0] == frame:
            return
        self._fetching = frame

        def ready(pixels: Any) -> None:
            self._fetching, self._whole = None, (frame, pixels)
            self._go_on()

        def failed(_error: Exception) -> None:
            self._fetching = None
            self._go_on()

        self._background.run(lambda: whole_frame(index, frame[1]), ready, failed)

    def _when_whole(self, then: Callable[[], None]) -> None:
        if self._whole is not None and self._whole[0] == self._frame():
            then()
            return
        self._waiting.append(then)
        self._fetch()
        if self._fetching is None:
            self._go_on()

    def _go_on(self) -> None:
        waiting, self._waiting = self._waiting, []
        for then in waiting:
            then()

    def _show_glass(self, pixel: QPointF) -> None:
        """A magnifying glass while balls are placed on the film."""
        camera = self.camera
        if not self._pictures.tool.snaps or camera is None:
            self._view.show_glass(None)
            return
        self._fetch()
        if self._whole is None or self._whole[0] != self._frame():
            return
        place = self._place(pixel)
        outline: tuple[Place, ...] = ()
        if place is not None:
            from ripasso.film.calibration.snap import outline_of

            seen = outline_of(camera, place, self._pictures.spec.ball_radius)
            if np.isfinite(seen).all():
                outline = tuple((float(u), float(v)) for u, v in seen)
        self._view.show_glass(Glass(pixel, self._whole[1], outline))
