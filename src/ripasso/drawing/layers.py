"""What is drawn of a shot over the table: the pot, the plan, the next ball's line, and what became of it.

Line weights have a meaning: planned dashed, played solid, helping lines hair. Each layer can be switched; the
primitives are metres in the table frame, so that the same lines go on screen, on the film and on paper.
"""

from __future__ import annotations

import bisect
import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from ripasso.core.geometry.zones import AnyOf, Wedge, Zone
from ripasso.core.geometry.zones import Circle as ZoneCircle
from ripasso.core.geometry.zones import Polygon as ZonePolygon
from ripasso.core.measures.shots import Geometry, Position
from ripasso.core.table import TableSpec
from ripasso.drawing.primitives import Circle, Line, Point, Polygon, Primitive, Text

LAYERS = ("pot", "window", "natural", "next", "plan", "options", "path", "result", "pen")
#: Cuts up to here are shaded as the right side of the next ball's line.
SHADED_DEG = 60.0
#: Shorter lines carry no word.
LABELLED_M = 0.25
ARC_STEP = math.radians(4)


@dataclass(frozen=True, slots=True)
class NextLine:
    """The line of the next ball: ball and pocket target, the side wanted (+1 left, -1 right, 0 unknown)."""

    ball: Point
    target: Point
    side: int = 0
    wanted_deg: tuple[float, float] | None = None
    main: bool = True


@dataclass(frozen=True, slots=True)
class Route:
    """A way of the cue ball, with its zone: an option beside the plan."""

    title: str
    points: tuple[Point, ...]
    zone: Zone | None = None
    chosen: bool = False
    #: When the cue ball is at each point, seconds after the strike; empty where that is not known.
    times: tuple[float, ...] = ()

    def at(self, time_s: float) -> Point | None:
        """Where the cue ball is at a time; at its end it stays."""
        if len(self.times) != len(self.points) or not self.times or time_s < self.times[0]:
            return None
        place = bisect.bisect_right(self.times, time_s)
        if place == len(self.times):
            return self.points[-1]
        (x0, y0), (x1, y1) = self.points[place - 1], self.points[place]
        share = (time_s - self.times[place - 1]) / (self.times[place] - self.times[place - 1])
        return (x0 + share * (x1 - x0), y0 + share * (y1 - y0))


@dataclass(frozen=True, slots=True)
class Stroke:
    """What the analyst drew by hand: `kind` line, arrow or area, or a caption at its first point."""

    kind: str
    points: tuple[Point, ...]
    text: str = ""


@dataclass(frozen=True)
class ShotPicture:
    """Everything that can be drawn of a shot. Labels are words already, in the unit that is shown."""

    spec: TableSpec
    cue: Point | None = None
    ball: Point | None = None
    pot: Geometry | None = None
    next_lines: tuple[NextLine, ...] = ()
    zone: Zone | None = None
    aim_point: Point | None = None
    route: tuple[Point, ...] = ()
    options: tuple[Route, ...] = ()
    path: tuple[Point, ...] = ()
    rest: Point | None = None
    position: Position | None = None
    leg: tuple[Point, Point] | None = None
    off_label: str = ""
    along_label: str = ""
    across_label: str = ""
    pen: tuple[Stroke, ...] = ()


@dataclass(frozen=True)
class Layers:
    """Primitives under the balls and over them."""

    under: tuple[Primitive, ...] = ()
    over: tuple[Primitive, ...] = ()


def draw_layers(picture: ShotPicture, wanted: Iterable[str]) -> Layers:
    """The layers that are wanted, of what is known."""
    under: list[Primitive] = []
    over: list[Primitive] = []
    for layer in LAYERS:
        if layer in set(wanted):
            low, high = _DRAW[layer](picture)
            under += low
            over += high
    return Layers(tuple(under), tuple(over))


Drawn = tuple[list[Primitive], list[Primitive]]


def _text_height(spec: TableSpec) -> float:
    return 0.026 * spec.length


def _pot(picture: ShotPicture) -> Drawn:
    """Cue line, ghost ball and the line of the object ball."""
    pot, cue, ball = picture.pot, picture.cue, picture.ball
    if pot is None or cue is None or ball is None:
        return [], []
    radius = picture.spec.ball_radius
    role = "mark.blocked" if pot.obstacle else "mark.line"
    low: list[Primitive] = [
        Line((cue, pot.ghost), role, "thin"),
        Line((ball, pot.target), role, "thin"),
        Circle(pot.ghost, radius, None, role, "thin", dashed=True),
    ]
    return low, []


def _window(picture: ShotPicture) -> Drawn:
    """The directions in which the ball goes in, what blocks cut off."""
    pot, ball = picture.pot, picture.ball
    if pot is None or ball is None or pot.window_deg <= 0:
        return [], []
    middle = math.atan2(pot.target[1] - ball[1], pot.target[0] - ball[0])
    half, reach = math.radians(pot.window_deg) / 2, pot.object_travel
    arc = _arc(ball, reach, middle - half, middle + half)
    return [Polygon((ball, *arc), "area.window", soft=True)], []


def _natural(picture: ShotPicture) -> Drawn:
    """Where the cue ball goes from the ghost ball: stunned along the tangent, rolling along its own line."""
    pot = picture.pot
    if pot is None:
        return [], []
    low: list[Primitive] = []
    for degrees, dashed, name in ((pot.tangent_deg, True, "stun"), (pot.natural_roll_deg, False, "roll")):
        if degrees is None:
            continue
        end = _to_cushion(picture.spec, pot.ghost, math.radians(degrees))
        low.append(Line((pot.ghost, end), "mark.natural", "hair", dashed))
        if math.dist(pot.ghost, end) < LABELLED_M:
            continue
        at = _between(pot.ghost, end, 0.55)
        low.append(Text(at, name, "mark.natural", _text_height(picture.spec) * 0.85))
    return low, []


def _next(picture: ShotPicture) -> Drawn:
    """The line of the next ball, its right side shaded, the wanted angle as a wedge."""
    low: list[Primitive] = []
    spec = picture.spec
    for line in picture.next_lines:
        away = math.atan2(line.ball[1] - line.target[1], line.ball[0] - line.target[0])
        # The ghost ball is the apex: seen from there the angle to the line is the cut that is left.
        apex = _moved(line.ball, away, 2 * spec.ball_radius)
        if line.side and line.main:
            low += _wedge(spec, apex, away, line.side, (0.0, SHADED_DEG), "area.side")
        if line.wanted_deg is not None and line.main:
            for side in (line.side,) if line.side else (1, -1):
                low += _wedge(spec, apex, away, side, line.wanted_deg, "area.wanted")
        low.append(Line((line.target, line.ball), "mark.next", "hair", dashed=not line.main))
        low.append(Line((line.ball, _to_cushion(spec, line.ball, away)), "mark.next", "hair", dashed=True))
    return low, []


def _wedge(
    spec: TableSpec, apex: Point, away: float, side: int, band: tuple[float, float], role: str
) -> list[Primitive]:
    """The part of the bed between two angles from a line, on one side of it."""
    start, end = away + side * math.radians(band[0]), away + side * math.radians(band[1])
    reach = 2 * spec.length
    corners = _clipped(spec, (apex, *_arc(apex, reach, min(start, end), max(start, end))))
    return [Polygon(corners, role, soft=True)] if len(corners) > 2 else []


def _plan(picture: ShotPicture) -> Drawn:
    """The zone, the aim point and the planned route."""
    low: list[Primitive] = zone_primitives(picture.spec, picture.zone) if picture.zone else []
    if len(picture.route) >= 2:
        low.append(Line(picture.route, "mark.plan", "bold", dashed=True))
    elif picture.aim_point is not None and picture.pot is not None:
        low.append(Line((picture.pot.ghost, picture.aim_point), "mark.plan", "thin", dashed=True))
    high: list[Primitive] = []
    if picture.aim_point is not None:
        x, y = picture.aim_point
        size = picture.spec.ball_radius * 0.8
        high.append(Line(((x - size, y), (x + size, y)), "mark.plan", "bold"))
        high.append(Line(((x, y - size), (x, y + size)), "mark.plan", "bold"))
    return low, high


def zone_primitives(spec: TableSpec, zone: Zone, role: str = "area.zone") -> list[Primitive]:
    """A zone as soft areas."""
    if isinstance(zone, ZoneCircle):
        return [Circle(zone.centre, zone.radius, role, "mark.plan", "hair", soft=True)]
    if isinstance(zone, AnyOf):
        return [part for one in zone.zones for part in zone_primitives(spec, one, role)]
    if isinstance(zone, Wedge):
        arc = _arc(zone.apex, 2 * spec.length, zone.start, zone.start + zone.span)
        corners = _clipped(spec, (zone.apex, *arc))
    else:
        assert isinstance(zone, ZonePolygon)
        corners = zone.corners
    return [Polygon(corners, role, "mark.plan", soft=True)] if len(corners) > 2 else []


def _options(picture: ShotPicture) -> Drawn:
    """Other routes that were considered, each with its name."""
    low: list[Primitive] = []
    for option in picture.options:
        if option.zone is not None:
            low += zone_primitives(picture.spec, option.zone, "area.option")
        if len(option.points) >= 2:
            low.append(Line(option.points, "mark.option", "thin", dashed=True))
            at = _between(option.points[-2], option.points[-1], 0.5)
            low.append(Text(at, option.title, "mark.option", _text_height(picture.spec)))
        elif isinstance(option.zone, ZonePolygon) and option.zone.corners:
            at = _label_place(picture.spec, max(option.zone.corners, key=lambda corner: corner[1]), 1)
            low.append(Text(at, option.title, "mark.option", _text_height(picture.spec)))
    return low, []


def _path(picture: ShotPicture) -> Drawn:
    """The way of the cue ball as it was followed on film."""
    return ([Line(picture.path, "mark.played", "thin")] if len(picture.path) >= 2 else []), []


def _result(picture: ShotPicture) -> Drawn:
    """Where the cue ball came to rest, and the arrow from the aim point to it, along and across."""
    rest, aim, position = picture.rest, picture.aim_point, picture.position
    if rest is None:
        return [], []
    spec = picture.spec
    high: list[Primitive] = [Circle(rest, spec.ball_radius, None, "mark.played", "bold")]
    if aim is None or position is None or position.distance is None:
        if picture.off_label:
            high.append(
                Text(_label_place(spec, rest, 1), picture.off_label, "mark.error", _text_height(spec))
            )
        return [], high
    if position.distance > spec.ball_radius / 2:
        high += _arrow(spec, aim, rest, "mark.error")
        high += _legs(picture, aim, rest)
        at = _between(aim, rest, 0.5)
        if not (picture.along_label or picture.across_label):
            high.append(Text(_label_place(spec, at, 1), picture.off_label, "mark.error", _text_height(spec)))
    return [], high


def _legs(picture: ShotPicture, aim: Point, rest: Point) -> list[Primitive]:
    """The two parts of the error, along the last leg and across it."""
    position, leg, spec = picture.position, picture.leg, picture.spec
    if leg is None or position is None or position.along is None:
        return []
    way = math.atan2(leg[1][1] - leg[0][1], leg[1][0] - leg[0][0])
    corner = _moved(aim, way, position.along)
    small = 1.2 * spec.ball_radius
    drawn: list[Primitive] = []
    if abs(position.along) > small and abs(position.across or 0.0) > small:
        drawn.append(Line((aim, corner, rest), "mark.error", "hair", dashed=True))
    if picture.along_label and abs(position.along) > small:
        at = _label_place(spec, _between(aim, corner, 0.5), -1)
        drawn.append(Text(at, picture.along_label, "mark.error", _text_height(spec)))
    if picture.across_label and abs(position.across or 0.0) > small:
        at = _label_place(spec, _between(corner, rest, 0.5), 1)
        drawn.append(Text(at, picture.across_label, "mark.error", _text_height(spec)))
    return drawn


def _pen(picture: ShotPicture) -> Drawn:
    """What was drawn by hand."""
    high: list[Primitive] = []
    for stroke in picture.pen:
        if stroke.text and stroke.points:
            high.append(Text(stroke.points[0], stroke.text, "mark.pen", _text_height(picture.spec) * 1.2))
        elif stroke.kind == "area" and len(stroke.points) > 2:
            high.append(Polygon(stroke.points, "mark.pen", "mark.pen", soft=True))
        elif len(stroke.points) > 1:
            high.append(Line(stroke.points, "mark.pen", "bold"))
            if stroke.kind == "arrow":
                high += _head(picture.spec, _before_end(stroke.points), stroke.points[-1], "mark.pen")
    return [], high


_DRAW: dict[str, Callable[[ShotPicture], Drawn]] = {
    "pot": _pot,
    "window": _window,
    "natural": _natural,
    "next": _next,
    "plan": _plan,
    "options": _options,
    "path": _path,
    "result": _result,
    "pen": _pen,
}


def _before_end(points: tuple[Point, ...]) -> Point:
    """A point far enough before the last one to give the direction of an arrow."""
    return next((p for p in reversed(points) if math.dist(p, points[-1]) > 0.02), points[0])


def _arrow(spec: TableSpec, start: Point, end: Point, role: str) -> list[Primitive]:
    return [Line((start, end), role, "bold"), *_head(spec, start, end, role)]


def _head(spec: TableSpec, start: Point, end: Point, role: str) -> list[Primitive]:
    way = math.atan2(end[1] - start[1], end[0] - start[0])
    size = min(1.4 * spec.ball_radius, max(math.dist(start, end), 0.01) * 0.6)
    wings = [_moved(end, way + math.pi + turn, size) for turn in (0.42, -0.42)]
    return [Polygon((end, wings[0], wings[1]), role)]


def _label_place(spec: TableSpec, at: Point, side: int) -> Point:
    """Beside a place, kept on the bed."""
    height = _text_height(spec)
    y = at[1] + side * 1.1 * height
    x = min(max(at[0], 3 * height), spec.length - 3 * height)
    return (x, min(max(y, height / 2), spec.width - height / 2))


def _between(start: Point, end: Point, share: float) -> Point:
    return (start[0] + share * (end[0] - start[0]), start[1] + share * (end[1] - start[1]))


def _moved(start: Point, way: float, distance: float) -> Point:
    return (start[0] + distance * math.cos(way), start[1] + distance * math.sin(way))


def _arc(centre: Point, radius: float, start: float, end: float) -> tuple[Point, ...]:
    steps = max(1, math.ceil(abs(end - start) / ARC_STEP))
    return tuple(_moved(centre, start + (end - start) * i / steps, radius) for i in range(steps + 1))


def _to_cushion(spec: TableSpec, start: Point, way: float) -> Point:
    """Where a straight line from a place on the bed reaches a cushion's nose line."""
    reach = []
    for place, step, end in (
        (start[0], math.cos(way), spec.length),
        (start[1], math.sin(way), spec.width),
    ):
        if abs(step) > 1e-12:
            reach.append(((end if step > 0 else 0.0) - place) / step)
    return _moved(start, way, max(0.0, min(reach, default=0.0)))


def _clipped(spec: TableSpec, corners: tuple[Point, ...]) -> tuple[Point, ...]:
    """A polygon cut to the bed (Sutherland and Hodgman's way, edge by edge)."""
    for axis, limit, keep in ((0, 0.0, 1), (0, spec.length, -1), (1, 0.0, 1), (1, spec.width, -1)):
        kept: list[Point] = []
        for i, point in enumerate(corners):
            before = corners[i - 1]
            inside, was = keep * (point[axis] - limit) >= 0, keep * (before[axis] - limit) >= 0
            if inside != was:
                share = (limit - before[axis]) / (point[axis] - before[axis])
                kept.append(_between(before, point, share))
            if inside:
                kept.append(point)
        corners = tuple(kept)
    return corners
