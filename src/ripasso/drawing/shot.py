"""What can be drawn of a shot, gathered from its record and its measures."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.geometry.position import angle_from_line
from ripasso.core.geometry.zones import AnyOf, Circle, Polygon, Wedge, Zone
from ripasso.core.measures.shots import ShotInput, ShotMeasures, last_leg
from ripasso.core.measures.units import length_words
from ripasso.core.table import TableSpec, pocket_mouth_middle
from ripasso.core.table.places import Place
from ripasso.drawing.layers import NextLine, Route, ShotPicture, Stroke


@dataclass(frozen=True)
class Said:
    """What a record holds besides layouts and plan: other options, the path on film, drawings by hand."""

    options: tuple[Route, ...] = ()
    path: tuple[Place, ...] = ()
    pen: tuple[Stroke, ...] = ()


def shot_picture(
    spec: TableSpec, given: ShotInput, measures: ShotMeasures, unit: str, said: Said | None = None
) -> ShotPicture:
    """Everything known of a shot; lengths are written in `unit`."""
    said = said or Said()
    before, after, plan = given.before or {}, given.after or {}, given.plan
    pot, position = measures.geometry, measures.position
    rest = after.get("cue")
    return ShotPicture(
        spec,
        cue=before.get("cue"),
        ball=before.get(pot.ball) if pot else None,
        pot=pot,
        next_lines=_next_lines(spec, given, measures),
        zone=plan.zone,
        aim_point=plan.aim_point,
        route=_route(before, measures, plan.route),
        options=said.options,
        path=said.path,
        rest=rest if before else None,
        position=position,
        leg=last_leg(given, pot),
        off_label=_off(spec, measures, unit),
        along_label=_part(spec, position.along if position else None, unit, "long", "short"),
        across_label=_part(spec, position.across if position else None, unit, "left", "right"),
        pen=said.pen,
    )


def _route(
    before: Mapping[str, Place], measures: ShotMeasures, route: tuple[Place, ...]
) -> tuple[Place, ...]:
    """The planned route from where the cue ball leaves: a single point is the end of a straight way."""
    if len(route) != 1:
        return route
    start = measures.geometry.ghost if measures.geometry else before.get("cue")
    return (start, *route) if start is not None else ()


def _next_lines(spec: TableSpec, given: ShotInput, measures: ShotMeasures) -> tuple[NextLine, ...]:
    """The planned next ball into its pocket, and into the next best one beside it."""
    plan, layout = given.plan, given.after or given.before or {}
    ball = plan.next_ball or (given.on_next[0] if len(given.on_next) == 1 else None)
    planned = plan.next_ball or plan.aim_point or plan.zone
    if ball is None or ball not in layout or not (planned or given.goes_on):
        return ()
    position = measures.position
    pockets = [plan.next_pocket, position.next_pocket if position else None]
    pockets += [pot.pocket for pot in measures.next_pots if pot.ball == ball]
    named = list(dict.fromkeys(pocket for pocket in pockets if pocket is not None))[:2]
    lines = []
    for place, pocket in enumerate(named):
        target = pocket_mouth_middle(spec, pocket)
        side = _side(plan.aim_point or _middle(plan.zone), layout[ball], target)
        lines.append(NextLine(layout[ball], target, side, plan.angle_wanted_deg, main=place == 0))
    return tuple(lines)


def _side(aim: Place | None, ball: Place, target: Place) -> int:
    """On which side of the next ball's line the cue ball is wanted, seen from the ball."""
    if aim is None:
        return 0
    angle = angle_from_line(ball, target, aim)
    if abs(math.degrees(angle)) < 0.5:
        return 0
    return 1 if angle > 0 else -1


def _middle(zone: Zone | None) -> Place | None:
    """A place that stands for a zone."""
    if isinstance(zone, Circle):
        return zone.centre
    if isinstance(zone, AnyOf):
        return _middle(zone.zones[0]) if zone.zones else None
    if isinstance(zone, Wedge):
        way = zone.start + zone.span / 2
        return (zone.apex[0] + 0.1 * math.cos(way), zone.apex[1] + 0.1 * math.sin(way))
    if isinstance(zone, Polygon) and zone.corners:
        x = sum(corner[0] for corner in zone.corners) / len(zone.corners)
        return (x, sum(corner[1] for corner in zone.corners) / len(zone.corners))
    return None


def _off(spec: TableSpec, measures: ShotMeasures, unit: str) -> str:
    position = measures.position
    if position is None:
        return ""
    if position.distance is not None:
        return f"{length_words(position.distance, unit, spec)} off"
    if position.zone_distance:
        return f"{length_words(position.zone_distance, unit, spec)} outside"
    return ""


def _part(spec: TableSpec, value: float | None, unit: str, more: str, less: str) -> str:
    if value is None:
        return ""
    return f"{length_words(abs(value), unit, spec)} {more if value > 0 else less}"
