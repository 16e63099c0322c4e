"""What a mouse says of a plan: zones, aim point, route and drawings by hand, as values by path."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ripasso.core.geometry.position import angle_from_line
from ripasso.core.json_data import JsonObject
from ripasso.core.table import TableSpec, cushion_gaps, pocket_mouth_middle
from ripasso.core.table.places import Place
from ripasso.review.document.edits import REMOVE, Path
from ripasso.review.record.model import Rack, RackPlan, Shot, serialize
from ripasso.review.record.parts import Zone

Values = dict[Path, object]

#: Smaller zones than this are a slip of the hand (metres).
SMALLEST_M = 0.015
#: How far from the line of the next ball a side is wanted, when nothing else is said.
SIDE_WITHIN_DEG = 60
DIGITS = 4


def circle_zone(centre: Place, edge: Place) -> JsonObject | None:
    """A circle drawn from its centre; None when it is too small to be meant."""
    radius = math.dist(centre, edge)
    if radius < SMALLEST_M:
        return None
    return {"circle": {"centre": _listed(centre), "radius": round(radius, DIGITS)}}


def polygon_zone(corners: Sequence[Place]) -> JsonObject | None:
    """A polygon by its corners; None with fewer than three."""
    kept = [c for i, c in enumerate(corners) if i == 0 or math.dist(c, corners[i - 1]) > SMALLEST_M / 3]
    return {"polygon": [_listed(corner) for corner in kept]} if len(kept) >= 3 else None


def strip_zone(start: Place, end: Place, width: float) -> JsonObject | None:
    """A strip about a line; None when it is too small to be meant."""
    if math.dist(start, end) < SMALLEST_M or width < SMALLEST_M:
        return None
    return {"strip": {"from": _listed(start), "to": _listed(end), "width": round(width, DIGITS)}}


def side_zone(spec: TableSpec, ball: str, lies: Place, pocket: str, place: Place) -> JsonObject:
    """The side of the next ball's line on which a place lies."""
    angle = angle_from_line(lies, pocket_mouth_middle(spec, pocket), place)
    side = "left" if angle > 0 else "right"
    return {"side_of_line": {"ball": ball, "pocket": pocket, "side": side, "within_deg": SIDE_WITHIN_DEG}}


def zones_of_rack_plans(rack: Rack, number: int, ball: str | None) -> list[tuple[str, Zone]]:
    """Where the rack's plans want the cue ball after a ball: of each person's last plan made by that shot.

    Each with whose plan it is ("plan" where nobody is named).
    """
    latest: dict[str, RackPlan] = {
        plan.by or "plan": plan for plan in rack.plans or () if (plan.made_at_shot or 1) <= number
    }
    return [
        (by, one.zone)
        for by, plan in latest.items()
        for one in plan.order or ()
        if one.ball == ball and ball is not None and one.zone is not None
    ]


def zone_values(shot: Shot, zone: JsonObject, *, also: bool = False) -> Values:
    """The zone of a plan; `also`: beside the one that is there, either will do."""
    plan = shot.plan
    if also and plan is not None and plan.zone is not None:
        there = serialize(plan.zone)
        parts = there.get("any_of") or [there]
        zone = {"any_of": [*parts, zone]}
    return {("plan", "zone"): zone}


def aim_values(place: Place) -> Values:
    """Where the cue ball is meant to stop."""
    return {("plan", "aim_point"): _listed(place)}


def route_values(spec: TableSpec, points: Sequence[Place]) -> Values:
    """A planned route: its end is the aim point, the cushions it meets follow from it."""
    if len(points) < 2:
        return {}
    met = [cushion for place in points[1:-1] if (cushion := cushion_at(spec, place)) is not None]
    return {
        ("plan", "route"): [_listed(place) for place in points],
        ("plan", "cushions"): met,
        ("plan", "aim_point"): _listed(points[-1]),
    }


def cushion_at(spec: TableSpec, place: Place) -> str | None:
    """The cushion that a ball's centre meets at a place; None away from all."""
    gaps = cushion_gaps(spec, place)
    near = min(gaps, key=lambda name: gaps[name])
    return near if gaps[near] < 3 * spec.ball_radius else None


def at_cushion(spec: TableSpec, place: Place) -> Place:
    """A corner of a route near a cushion, moved to where a ball's centre meets it."""
    cushion, radius = cushion_at(spec, place), spec.ball_radius
    x, y = place
    if cushion == "head":
        return (radius, y)
    if cushion == "foot":
        return (spec.length - radius, y)
    if cushion == "right":
        return (x, radius)
    return (x, spec.width - radius) if cushion == "left" else place


def next_values(ball: str | None = None, pocket: str | None = None) -> Values:
    """The next ball, or its pocket, as pointed at."""
    values: Values = {}
    if ball is not None:
        values[("plan", "next_ball")] = ball
    if pocket is not None:
        values[("plan", "next_pocket")] = pocket
    return values


def clear_values(shot: Shot) -> Values:
    """Take the drawn part of a plan away: zone, aim point, route."""
    plan = serialize(shot.plan) if shot.plan else {}
    return {("plan", key): REMOVE for key in ("zone", "aim_point", "route", "cushions") if key in plan}


def pen_values(shot: Shot, kind: str, points: Sequence[Place], text: str = "") -> Values:
    """A line, an arrow, an area or a caption drawn by hand, added to those of the shot."""
    there = [serialize(one) for one in shot.drawings or ()]
    made: JsonObject = {"kind": kind, "points": [_listed(place) for place in points]}
    if text:
        made["text"] = text
    return {("drawings",): [*there, made]}


def wiped_values(shot: Shot) -> Values:
    """Take the last drawing by hand away."""
    there = [serialize(one) for one in shot.drawings or ()]
    if not there:
        return {}
    return {("drawings",): there[:-1] or REMOVE}


def simplified(points: Sequence[Place], within: float) -> list[Place]:
    """A drawn line with few points, nowhere farther than `within` from the hand's (Douglas and Peucker)."""
    if len(points) < 3:
        return list(points)
    start, end = points[0], points[-1]
    away = [_off_line(start, end, place) for place in points]
    far = max(range(len(points)), key=lambda i: away[i])
    if away[far] <= within:
        return [start, end]
    return simplified(points[: far + 1], within)[:-1] + simplified(points[far:], within)


def _off_line(start: Place, end: Place, place: Place) -> float:
    length = math.dist(start, end)
    if length < 1e-9:
        return math.dist(start, place)
    cross = (end[0] - start[0]) * (place[1] - start[1]) - (end[1] - start[1]) * (place[0] - start[0])
    return abs(cross) / length


def _listed(place: Place) -> list[float]:
    return [round(place[0], DIGITS), round(place[1], DIGITS)]
