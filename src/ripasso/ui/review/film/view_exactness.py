"""How exactly a film's view places balls: asked of its points in the background, and kept."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ripasso.core.table import TableSpec
from ripasso.core.table.known_points import exactness_m
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import Shot
from ripasso.review.record.parts import View
from ripasso.review.recordings.views import recording_of, view_at
from ripasso.ui.services.background import Background

#: Balls placed through a view that a reading found lie within this of their places with 95 % (metres; the
#: table of reading accuracy, recordings read alone).
READ_M = 0.008
#: Where on the table it is asked, as shares of its length and width.
SHARES = (0.1, 0.5, 0.9)
Size = tuple[int, int]


class ViewExactness:
    """Answers at once with what is known; `changed` is told when more is.

    `film_size` tells width and height of the film on show, None without one.
    """

    def __init__(
        self, background: Background, film_size: Callable[[], Size | None], changed: Callable[[], None]
    ) -> None:
        self._background, self._film_size, self._changed = background, film_size, changed
        self._known: dict[str, float | None] = {}

    def of_shot(self, snapshot: Snapshot, shot: Shot, spec: TableSpec) -> float | None:
        """The 95 % circle of a ball's place in the layouts of a shot on film, metres; None without a view."""
        if shot.t_strike is None or not (shot.before or shot.after):
            return None
        view = view_at(recording_of(snapshot.head, shot.recording), float(shot.t_strike))
        if view is None:
            return None
        points = view.points or ()
        if not points:
            return READ_M if view.camera is not None else None
        key, size = f"{spec}{points}", self._film_size()
        if key not in self._known and size is not None:
            self._known[key] = None
            self._ask(key, view, spec, size)
        return self._known.get(key)

    def _ask(self, key: str, view: View, spec: TableSpec, size: Size) -> None:
        points = [
            (p.table, p.image) for p in view.points or () if p.table is not None and p.image is not None
        ]

        def work() -> float | None:
            from ripasso.film.calibration.camera_fit import fit_view
            from ripasso.film.errors import ViewError

            places = [[float(value) for value in table] for table, _ in points]
            pixels = [[float(value) for value in image] for _, image in points]
            try:
                fitted = fit_view(places, pixels, size, exactness_m(spec, places))
            except ViewError:
                return None
            height = spec.ball_radius
            asked = [(x * spec.length, y * spec.width, height) for x in SHARES for y in SHARES]
            radii = fitted.uncertainty_m(fitted.camera.project(asked), height)
            return float(np.nanmedian(radii)) if np.isfinite(radii).any() else None

        def then(found: float | None) -> None:
            self._known[key] = found
            if found is not None:
                self._changed()

        self._background.run(work, then)
