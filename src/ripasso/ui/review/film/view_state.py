"""A film's view while it is being set: known points, their clicks, the camera that fits; no window."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.table import TableSpec
from ripasso.core.table.known_points import KnownPoint, known_points, nose_height, nose_outline, string_line
from ripasso.drawing import Drawing
from ripasso.drawing.primitives import Circle, Line, Primitive, Text
from ripasso.drawing.table import TableScene, table_drawing
from ripasso.drawing.through import through_view

if TYPE_CHECKING:
    from ripasso.film.calibration.camera import Camera
    from ripasso.film.calibration.camera_fit import FittedView

Pixel = tuple[float, float]
#: Points needed for a camera, and how far apart a stored point may lie from a known one to be that one.
FEWEST = 4
SAME_M = 0.02
CROSS_PX = 9.0
#: Marks of the small plan, as shares of the table's width; how much enlarged uncertainty is drawn.
PLAN_DOT, PLAN_RING, CIRCLES_ENLARGED = 0.03, 0.07, 5


class ViewState:
    """Points of one view, and its camera.

    `found` is the camera without points, as a reading found it; `fitted` that of the clicked points, None as
    long as there are too few. `problem` says what is wrong; `off_px` how far the cloth is off the view.
    """

    def __init__(self, spec: TableSpec, size: tuple[int, int]) -> None:
        self.spec, self.size = spec, size
        self.points: tuple[KnownPoint, ...] = known_points(spec)
        self.clicked: dict[str, Pixel] = {}
        self.current = self.points[0].name
        self.found: Camera | None = None
        self.fitted: FittedView | None = None
        self.off_px: float | None = None
        self.problem = ""

    @property
    def camera(self) -> Camera | None:
        """The camera that is drawn and kept."""
        return self.fitted.camera if self.fitted is not None else self.found

    def load(self, points: list[JsonMapping]) -> None:
        """Take over the points of a stored view."""
        for stored in points:
            table, image = stored.get("table"), stored.get("image")
            if table is None or image is None:
                continue
            near = min(self.points, key=lambda known: float(np.linalg.norm(np.subtract(known.place, table))))
            if float(np.linalg.norm(np.subtract(near.place, table))) < SAME_M:
                self.clicked[near.name] = (float(image[0]), float(image[1]))
        self.go_on()

    def put(self, pixel: Pixel, name: str | None = None) -> None:
        """The current point (or a named one) is seen at a pixel."""
        self.clicked[name or self.current] = pixel
        if name is None:
            self.go_on()

    def forget(self, name: str) -> None:
        """A point is not seen after all."""
        self.clicked.pop(name, None)
        self.current = name

    def go_on(self) -> None:
        """The next point that was not clicked is asked for."""
        names = [point.name for point in self.points]
        start = names.index(self.current)
        later = [*names[start:], *names[:start]]
        self.current = next((name for name in later if name not in self.clicked), names[0])

    def skip(self) -> None:
        """The current point cannot be seen: the next one is asked for."""
        names = [point.name for point in self.points]
        start = names.index(self.current) + 1
        later = [*names[start:], *names[:start]]
        self.current = next((name for name in later if name not in self.clicked), self.current)

    def near(self, pixel: Pixel, within: float) -> str | None:
        """The clicked point near a pixel, unless the point that is asked for must be nearer still."""
        away = {
            name: float(np.hypot(at[0] - pixel[0], at[1] - pixel[1])) for name, at in self.clicked.items()
        }
        near = min(away, key=lambda name: away[name], default=None)
        if near is None or away[near] > within:
            return None
        expected = self._expected()
        if expected is not None and np.hypot(expected[0] - pixel[0], expected[1] - pixel[1]) < away[near]:
            return None
        return near

    def seen_near(self, pixel: Pixel, within: float) -> str | None:
        """The known point that the camera sees near a pixel, where none was clicked: it can be dragged."""
        if self.camera is None or self.clicked:
            return None
        seen = self.camera.project([point.place for point in self.points])
        away = np.nan_to_num(np.hypot(*(seen - pixel).T), nan=np.inf)
        nearest = int(np.argmin(away))
        return self.points[nearest].name if away[nearest] <= within else None

    def _expected(self) -> Pixel | None:
        """Where the camera expects the point that is asked for; None without one, or when it was clicked."""
        if self.camera is None or self.current in self.clicked:
            return None
        current = next(point for point in self.points if point.name == self.current)
        ((u, v),) = self.camera.project([current.place])
        return (float(u), float(v)) if np.isfinite([u, v]).all() else None

    def given(self) -> tuple[list[tuple[float, float, float]], list[Pixel]]:
        """Places and pixels of the clicked points, in order."""
        chosen = [point for point in self.points if point.name in self.clicked]
        return [point.place for point in chosen], [self.clicked[point.name] for point in chosen]

    def residuals(self) -> dict[str, float]:
        """How far each clicked point is from where the camera sees it, pixels."""
        if self.fitted is None:
            return {}
        names = [point.name for point in self.points if point.name in self.clicked]
        if len(names) != len(self.fitted.residuals_px):
            return {}
        return dict(zip(names, (float(off) for off in self.fitted.residuals_px), strict=True))

    def uncertainty_mm(self) -> tuple[float, float] | None:
        """The 95 % circle of a ball in the middle of the table, and at the end that is farther off."""
        if self.fitted is None:
            return None
        spec, camera = self.spec, self.fitted.camera
        ends = [(0.0, spec.width / 2), (spec.length, spec.width / 2)]
        far = max(ends, key=lambda end: float(np.linalg.norm(camera.eye[:2] - end)))
        places = [(spec.length / 2, spec.width / 2, spec.ball_radius), (*far, spec.ball_radius)]
        radii = 1000 * self.fitted.uncertainty_m(camera.project(places), spec.ball_radius)
        return (float(radii[0]), float(radii[1])) if np.isfinite(radii).all() else None

    def record(self, start_s: float | None, end_s: float | None) -> JsonObject:
        """The view as the session keeps it."""
        chosen = [point for point in self.points if point.name in self.clicked]
        data: JsonObject = {}
        if start_s is not None:
            data["from"] = round(start_s, 6)
        if end_s is not None:
            data["to"] = round(end_s, 6)
        if chosen:
            data["points"] = [
                {"table": list(point.place), "image": [round(v, 2) for v in self.clicked[point.name]]}
                for point in chosen
            ]
        if self.camera is not None:
            data["camera"] = self.camera.as_data()
        return data

    def drawing(self) -> Drawing:
        """The table drawn back over the picture, and the clicked points."""
        width, height = self.size
        drawn: list[Primitive] = []
        if self.camera is not None:
            drawn += self._table(self.camera)
        if self.fitted is not None:
            drawn += self._ellipses(self.fitted)
        for name, (u, v) in self.clicked.items():
            drawn += _cross((u, -v), "mark.error" if name == self.current else "mark.played")
        return Drawing(tuple(drawn), -0.5, -height + 0.5, width - 0.5, 0.5, "The table drawn over the film")

    def plan(self) -> Drawing:
        """The table from above: which end is the head, what was clicked, and where to click now."""
        spec = self.spec
        over: list[Primitive] = [
            Text((0.16 * spec.length, spec.width / 2), "head", "mark.frame", 0.12 * spec.width)
        ]
        for point in self.points:
            at = (point.place[0], point.place[1])
            if point.name in self.clicked:
                over.append(Circle(at, PLAN_DOT * spec.width, "mark.played"))
            if point.name == self.current:
                over.append(Circle(at, PLAN_RING * spec.width, None, "mark.error", "bold"))
                over += [
                    Line(line, "mark.error", "thin")
                    for line in (
                        ((at[0] - PLAN_RING, at[1]), (at[0] + PLAN_RING, at[1])),
                        ((at[0], at[1] - PLAN_RING), (at[0], at[1] + PLAN_RING)),
                    )
                ]
        return table_drawing(TableScene(spec, {}, over=tuple(over)))

    def _ellipses(self, fitted: FittedView) -> list[Primitive]:
        """How sure a ball's place is at nine places: the 95 % circle on the table, enlarged."""
        spec, height = self.spec, self.spec.ball_radius
        shares = (0.08, 0.5, 0.92)
        places = [(x * spec.length, y * spec.width, height) for x in shares for y in shares]
        radii = fitted.uncertainty_m(fitted.camera.project(places), height)
        circles = [
            Circle((x, y), CIRCLES_ENLARGED * float(radius), None, "mark.error", "thin")
            for (x, y, _), radius in zip(places, radii, strict=True)
            if np.isfinite(radius)
        ]
        return list(through_view(circles, fitted.camera.project, self.size, height).primitives)

    def _table(self, camera: Camera) -> list[Primitive]:
        spec = self.spec
        drawn: list[Primitive] = []

        def draw(primitive: Primitive, height: float) -> None:
            drawn.extend(through_view([primitive], camera.project, self.size, height).primitives)

        draw(Line(nose_outline(spec), "mark.frame", "thin"), nose_height(spec))
        draw(Line(string_line(spec), "mark.frame", "thin"), 0.0)
        for point in self.points:
            x, y, height = point.place
            if point.kind == "pocket":
                mouth = spec.side_mouth if point.name.startswith("side") else spec.corner_mouth
                draw(Circle((x, y), mouth / 2, None, "mark.frame", "thin"), height)
            elif point.kind in ("spot", "sight"):
                draw(Circle((x, y), 0.012, None, "mark.frame", "hair"), height)
        expected = self._expected()
        if expected is not None:
            u, v = expected
            drawn.append(Circle((u, -v), 14.0, None, "mark.error", "thin", dashed=True))
            drawn.append(Text((u, -v + 28), self.current, "mark.error", 16.0))
        return drawn


def _cross(at: Pixel, role: str) -> list[Primitive]:
    u, v = at
    return [
        Line(((u - CROSS_PX, v), (u + CROSS_PX, v)), role, "thin"),
        Line(((u, v - CROSS_PX), (u, v + CROSS_PX)), role, "thin"),
    ]
