"""What a film's view needs worked out in the background: found, fitted, held against the picture, mended."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from ripasso.core.table.known_points import exactness_m
from ripasso.film import FilmIndex
from ripasso.film.calibration.camera import Camera
from ripasso.film.errors import NoTable
from ripasso.ui.review.film.view_state import FEWEST, Pixel, ViewState
from ripasso.ui.services.background import Background


class ViewWork:
    """Works on one state and one frame; a later question puts an earlier one aside. `changed` is told."""

    def __init__(
        self,
        background: Background,
        state: ViewState,
        frame: tuple[FilmIndex, int],
        changed: Callable[[], None],
    ) -> None:
        self._background, self._state, self._frame, self._changed = background, state, frame, changed
        self._asked: int | None = None

    @property
    def busy(self) -> bool:
        """An answer is on its way."""
        return self._asked is not None

    def stop(self) -> None:
        """An answer that is still on its way is not wanted."""
        if self._asked is not None:
            self._background.forget(self._asked)
            self._asked = None

    def fit(self) -> None:
        """The camera behind the clicked points, as soon as there are enough."""
        self.stop()
        state = self._state
        places, pixels = state.given()
        state.off_px = None
        if len(places) < FEWEST:
            state.fitted, state.problem = None, ""
            return
        size, exact_m = state.size, exactness_m(state.spec, places)

        def work() -> Any:
            from ripasso.film.calibration.camera_fit import fit_view

            return fit_view(places, pixels, size, exact_m)

        self._ask(work, self._fitted, self._not_fitted)

    def find(self) -> None:
        """The view that the picture shows by itself."""
        (index, number), spec = self._frame, self._state.spec

        def work() -> Any:
            from ripasso.film.reading.view_in_picture import view_found

            return view_found(index, number, spec)

        self._ask(work, self._seen, self._not_seen)

    def check(self) -> None:
        """How far the view is off the cloth in the picture."""
        camera = self._state.camera
        if camera is not None:
            self._ask(lambda: self._checked(camera), self._seen)

    def mend(self, name: str, pixel: Pixel) -> None:
        """One point of the view was dragged to where it is seen."""
        state, camera = self._state, self._state.camera
        if camera is None:
            return
        (index, number), spec = self._frame, state.spec
        place = next(point.place for point in state.points if point.name == name)

        def work() -> Any:
            from ripasso.film.reading.view_in_picture import view_mended

            return view_mended(index, number, camera, (place, pixel), spec)

        self._ask(work, self._seen)

    def _ask(
        self,
        work: Callable[[], Any],
        then: Callable[[Any], None],
        failed: Callable[[Exception], None] | None = None,
    ) -> None:
        self.stop()
        self._asked = self._background.run(work, then, failed)

    def _checked(self, camera: Camera) -> Any:
        from ripasso.film.reading.view_in_picture import view_checked

        return view_checked(*self._frame, camera, self._state.spec)

    def _fitted(self, fitted: Any) -> None:
        self._asked = None
        self._state.fitted, self._state.problem = fitted, ""
        self._changed()
        self.check()

    def _not_fitted(self, error: Exception) -> None:
        self._asked = None
        self._state.fitted, self._state.problem = None, str(error)
        self._changed()

    def _seen(self, seen: Any) -> None:
        self._asked = None
        if self._state.fitted is None:
            self._state.found = seen.camera
        else:
            self._state.fitted = replace(self._state.fitted, camera=seen.camera)
        self._state.off_px, self._state.problem = seen.off_px, ""
        self._changed()

    def _not_seen(self, error: Exception) -> None:
        self._asked = None
        if isinstance(error, NoTable):
            self._state.problem = str(error)
        self._changed()
