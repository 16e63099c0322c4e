"""Tools of the mouse over diagram and film: each turns presses and drags on the table into one command.

Places are metres on the table; whether they come from the diagram or through the film's view is not known
here. A tool draws what it is doing (`preview`) and moves balls for the eye only (`moved`) until it is done.
To add one: a class here, a line in `TOOLS`, its action in `keys.py`.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Protocol

from ripasso.core.geometry.zones import strip
from ripasso.core.json_data import JsonObject
from ripasso.core.table import TableSpec, pocket_centres
from ripasso.core.table.places import Place
from ripasso.drawing import Circle, Line, Polygon
from ripasso.drawing.primitives import Primitive
from ripasso.review.document.edits import Path
from ripasso.review.language.translation import noop
from ripasso.review.record.model import Shot
from ripasso.review.table.layouts import When
from ripasso.review.table.planning import (
    aim_values,
    at_cushion,
    circle_zone,
    next_values,
    pen_values,
    polygon_zone,
    route_values,
    side_zone,
    simplified,
    strip_zone,
    zone_values,
)

#: How near a press must come to a ball, in its radii, or to a pocket (metres), to mean it.
GRASP_RADII = 1.5
POCKET_REACH_M = 0.08
PEN_WITHIN_M = 0.004


class Bench(Protocol):
    """What tools work on: the shot in hand, and the commands they end in."""

    @property
    def spec(self) -> TableSpec: ...
    @property
    def record(self) -> Shot | None: ...
    def layout(self, when: When) -> Mapping[str, Place]: ...
    @property
    def reach_m(self) -> float: ...
    def expected_ball(self, when: When) -> str | None: ...
    def next_pot(self) -> tuple[str, str] | None: ...
    def route_start(self) -> Place | None: ...
    def place(self, when: When, ball: str, place: Place) -> None: ...
    def say_values(self, values: dict[Path, object], label: str) -> None: ...
    def caption(self) -> str: ...


def ball_at(bench: Bench, when: When, place: Place) -> str | None:
    """The ball that a press means."""
    layout = bench.layout(when)
    near = min(layout, key=lambda ball: math.dist(layout[ball], place), default=None)
    reach = max(bench.reach_m, GRASP_RADII * bench.spec.ball_radius)
    return near if near is not None and math.dist(layout[near], place) <= reach else None


def pocket_at(spec: TableSpec, place: Place) -> str | None:
    """The pocket that a press means."""
    centres = pocket_centres(spec)
    near = min(centres, key=lambda name: math.dist(centres[name], place))
    return near if math.dist(centres[near], place) <= POCKET_REACH_M else None


class Tool:
    """One gesture after another; nothing is stored before a gesture is over."""

    name = ""
    hint = ""
    #: The layout that is on show while the tool is in hand.
    when: When = "before"
    #: A click is drawn to the edge of the ball under it on film.
    snaps = False

    def __init__(self, bench: Bench) -> None:
        self.bench = bench

    def press(self, place: Place, *, also: bool = False) -> None:
        """The button goes down."""

    def move(self, place: Place) -> None:
        """The mouse moves, its button down."""

    def release(self, place: Place) -> None:
        """The button goes up."""

    def hover(self, place: Place) -> None:
        """The mouse moves, its button up."""

    def finish(self) -> None:
        """A double click, or Return: what was begun is complete."""

    def drop(self) -> bool:
        """Escape: forget what was begun; False when nothing was."""
        return False

    def moved(self) -> Mapping[str, Place]:
        """Balls that are in the hand."""
        return {}

    def preview(self) -> tuple[Primitive, ...]:
        """What is being drawn."""
        return ()


class PlaceTool(Tool):
    """Puts balls where they lie: the one under the press, else the one that is expected."""

    snaps = True

    def __init__(self, bench: Bench, when: When) -> None:
        super().__init__(bench)
        self.when = when
        self.name = f"balls_{when}"
        self.hint = f"Click where balls lie {when} the shot"
        self.ball: str | None = None
        self._held: tuple[str, Place] | None = None

    @property
    def next_ball(self) -> str | None:
        """The ball that the next press on bare cloth places."""
        return self.ball or self.bench.expected_ball(self.when)

    def press(self, place: Place, *, also: bool = False) -> None:
        ball = self.ball or ball_at(self.bench, self.when, place) or self.next_ball
        self._held = (ball, place) if ball is not None else None

    def move(self, place: Place) -> None:
        if self._held is not None:
            self._held = (self._held[0], place)

    def release(self, place: Place) -> None:
        held, self._held = self._held, None
        if held is not None:
            self.ball = None
            self.bench.place(self.when, held[0], place)

    def drop(self) -> bool:
        begun = self._held is not None or self.ball is not None
        self._held = self.ball = None
        return begun

    def moved(self) -> Mapping[str, Place]:
        return dict((self._held,)) if self._held else {}


class DragTool(PlaceTool):
    """No tool in hand: a ball that is dragged moves, and so does the cue ball's rest point."""

    snaps = False

    def __init__(self, bench: Bench) -> None:
        super().__init__(bench, "before")
        self.name = "look"
        self.hint = ""

    def grasp(self, place: Place) -> bool:
        """Take what lies under a press; False where nothing does."""
        for when in ("before", "after"):
            ball = ball_at(self.bench, when, place)
            if ball is not None and (when == "before" or ball == "cue"):
                self.when, self._held = when, (ball, place)
                return True
        return False


class _PlanTool(Tool):
    """Tools of the plan: a click on a ball names the next ball, one on a pocket its pocket."""

    when: When = "before"

    def named(self, place: Place) -> bool:
        """Whether a click meant the next ball or its pocket; then it is said."""
        ball = ball_at(self.bench, "before", place)
        pocket = None if ball else pocket_at(self.bench.spec, place)
        if ball == "cue" or (ball is None and pocket is None):
            return False
        self.bench.say_values(next_values(ball, pocket), f"Next: {ball or pocket}")
        return True

    def zone(self, zone: JsonObject | None, *, also: bool) -> None:
        """Say a zone that was drawn."""
        shot = self.bench.record
        if zone is not None and shot is not None:
            self.bench.say_values(zone_values(shot, zone, also=also), "Draw the zone")


class CircleTool(_PlanTool):
    """A zone by its centre and a place on its edge."""

    name = "zone_circle"
    hint = "Zone: drag a circle from its middle; ⇧ adds one; a click on a ball: the next"

    def __init__(self, bench: Bench) -> None:
        super().__init__(bench)
        self._start: Place | None = None
        self._end: Place | None = None
        self._also = False

    def press(self, place: Place, *, also: bool = False) -> None:
        self._start, self._end, self._also = place, place, also

    def move(self, place: Place) -> None:
        self._end = place

    def release(self, place: Place) -> None:
        start, self._start = self._start, None
        if start is None:
            return
        zone = circle_zone(start, place)
        if zone is None:
            self.named(place)
        else:
            self.zone(zone, also=self._also)

    def drop(self) -> bool:
        begun, self._start = self._start is not None, None
        return begun

    def preview(self) -> tuple[Primitive, ...]:
        if self._start is None or self._end is None:
            return ()
        radius = math.dist(self._start, self._end)
        return (Circle(self._start, radius, "area.zone", "mark.plan", "thin", soft=True),)


class StripTool(_PlanTool):
    """A zone along a line: drag the line, then click how wide it is."""

    name = "zone_strip"
    hint = "Zone: drag along a strip's middle, then click at its edge"

    def __init__(self, bench: Bench) -> None:
        super().__init__(bench)
        self._line: tuple[Place, Place] | None = None
        self._complete = False
        self._width = 0.0
        self._also = False

    def press(self, place: Place, *, also: bool = False) -> None:
        if not self._complete:
            self._line, self._also = (place, place), also

    def move(self, place: Place) -> None:
        if self._line is not None and not self._complete:
            self._line = (self._line[0], place)

    def release(self, place: Place) -> None:
        if self._line is None:
            return
        if not self._complete:
            self._complete = math.dist(*self._line) > PEN_WITHIN_M * 4
            self._width = 4 * self.bench.spec.ball_radius
            if not self._complete:
                self._line = None
                self.named(place)
            return
        self.hover(place)
        line, width, also = self._line, self._width, self._also
        self.drop()
        self.zone(strip_zone(*line, width), also=also)

    def hover(self, place: Place) -> None:
        if self._line is not None and self._complete:
            (x0, y0), (x1, y1) = self._line
            cross = (x1 - x0) * (place[1] - y0) - (y1 - y0) * (place[0] - x0)
            self._width = max(0.03, 2 * abs(cross) / math.dist((x0, y0), (x1, y1)))

    def drop(self) -> bool:
        begun = self._line is not None
        self._line, self._complete = None, False
        return begun

    def preview(self) -> tuple[Primitive, ...]:
        if self._line is None:
            return ()
        if not self._complete:
            return (Line(self._line, "mark.plan", "bold"),)
        corners = strip(*self._line, self._width).corners
        return (Polygon(corners, "area.zone", "mark.plan", soft=True),)


class _CornersTool(_PlanTool):
    """Clicks that add up to a line; a double click, or Return, ends it."""

    def __init__(self, bench: Bench) -> None:
        super().__init__(bench)
        self.points: list[Place] = []
        self._at: Place | None = None
        self._also = False

    def press(self, place: Place, *, also: bool = False) -> None:
        self._also = self._also or also

    def release(self, place: Place) -> None:
        # The second release of a double click comes where the first one was.
        if not self.points or math.dist(self.points[-1], place) > PEN_WITHIN_M:
            self.points.append(place)

    def hover(self, place: Place) -> None:
        self._at = place

    def move(self, place: Place) -> None:
        self._at = place

    def drop(self) -> bool:
        begun = bool(self.points)
        self.points, self._at, self._also = [], None, False
        return begun

    def preview(self) -> tuple[Primitive, ...]:
        points = (*self.points, *((self._at,) if self._at else ()))
        return (Line(points, "mark.plan", "bold", dashed=True),) if len(points) > 1 else ()


class PolygonTool(_CornersTool):
    """A zone by its corners."""

    name = "zone_polygon"
    hint = "Zone: click its corners; ↵ or a double click closes it"

    def finish(self) -> None:
        points, also = self.points, self._also
        self.drop()
        self.zone(polygon_zone(points), also=also)


class RouteTool(_CornersTool):
    """The planned way of the cue ball, from the ghost ball to where it should stop."""

    name = "route"
    hint = noop("Route: click each cushion, then its end; ↵ or a double click ends it")

    def release(self, place: Place) -> None:
        if not self.points:
            if self.named(place):
                return
            start = self.bench.route_start()
            if start is not None:
                self.points.append(start)
        super().release(at_cushion(self.bench.spec, place))

    def finish(self) -> None:
        points = list(self.points)
        self.drop()
        self.bench.say_values(route_values(self.bench.spec, points), "Draw the route")


class SideTool(_PlanTool):
    """A side of the next ball's line as the zone: one click on that side."""

    name = "zone_side"
    hint = "Zone: click on the right side of the next ball's line"

    def release(self, place: Place) -> None:
        if self.named(place):
            return
        pot, layout = self.bench.next_pot(), self.bench.layout("before")
        if pot is not None and pot[0] in layout:
            zone = side_zone(self.bench.spec, pot[0], layout[pot[0]], pot[1], place)
            self.zone(zone, also=False)


class AimTool(_PlanTool):
    """Where the cue ball should stop."""

    name = "aim"
    hint = noop("Click where the cue ball should stop; on a ball or a pocket: the next")

    def release(self, place: Place) -> None:
        if not self.named(place):
            self.bench.say_values(aim_values(place), "Set the aim point")


class PenTool(Tool):
    """Free lines, arrows, areas and captions."""

    def __init__(self, bench: Bench, kind: str) -> None:
        super().__init__(bench)
        self.kind = kind
        self.name = f"pen_{kind}"
        what = {"caption": "click where the words should stand", "area": "drag around an area"}
        self.hint = f"Draw: {what.get(kind, f'drag a {kind}' if kind == 'line' else 'drag an arrow')}"
        self._points: list[Place] = []

    def press(self, place: Place, *, also: bool = False) -> None:
        self._points = [place]

    def move(self, place: Place) -> None:
        if self._points:
            self._points.append(place)

    def release(self, place: Place) -> None:
        points, self._points = [*self._points, place], []
        shot = self.bench.record
        if shot is None:
            return
        if self.kind == "caption":
            text = self.bench.caption()
            if text:
                self.bench.say_values(pen_values(shot, "caption", points[:1], text), "Write a caption")
            return
        few = simplified(points, PEN_WITHIN_M)
        if len(few) >= (3 if self.kind == "area" else 2) and math.dist(points[0], few[1]) > PEN_WITHIN_M:
            self.bench.say_values(pen_values(shot, self.kind, few), f"Draw {self.kind}")

    def drop(self) -> bool:
        begun, self._points = bool(self._points), []
        return begun

    def preview(self) -> tuple[Primitive, ...]:
        points = tuple(self._points)
        return (Line(points, "mark.pen", "bold"),) if len(points) > 1 else ()


TOOLS: Mapping[str, Callable[[Bench], Tool]] = {
    "balls_before": lambda bench: PlaceTool(bench, "before"),
    "balls_after": lambda bench: PlaceTool(bench, "after"),
    "zone_circle": CircleTool,
    "zone_polygon": PolygonTool,
    "zone_strip": StripTool,
    "zone_side": SideTool,
    "aim": AimTool,
    "route": RouteTool,
    "pen_line": lambda bench: PenTool(bench, "line"),
    "pen_arrow": lambda bench: PenTool(bench, "arrow"),
    "pen_area": lambda bench: PenTool(bench, "area"),
    "pen_caption": lambda bench: PenTool(bench, "caption"),
}
#: Tools that one key walks through.
ZONE_TOOLS = ("zone_circle", "zone_side", "zone_polygon", "zone_strip")
PEN_TOOLS = ("pen_line", "pen_arrow", "pen_area", "pen_caption")
