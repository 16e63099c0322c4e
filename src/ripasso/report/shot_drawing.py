"""The picture of a shot from its record and its measures: its layers, and the table with them."""

from __future__ import annotations

from dataclasses import replace

from ripasso.core.measures.shots import ShotInput
from ripasso.core.rules import ShotScore
from ripasso.core.table import TableSpec, table_spec
from ripasso.core.table.places import Place
from ripasso.drawing.layers import Layers, Route, Stroke, draw_layers
from ripasso.drawing.shot import Said, shot_picture
from ripasso.drawing.table import TableScene
from ripasso.review.document.snapshot import RackRow, ShotRow, Snapshot
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.record.model import Option, Shot

#: What paper shows of a shot.
PRINTED = ("pot", "next", "plan", "options", "path", "result", "pen")


def score_of(snapshot: Snapshot, rack: RackRow, place: int) -> ShotScore | None:
    """What the rules say of a shot; None for a game that they do not know."""
    racks = snapshot.score.racks if snapshot.score is not None else ()
    return racks[snapshot.rack_index(rack.key)].shots[place] if racks else None


def layers_of(
    snapshot: Snapshot, row: ShotRow, measures: MeasureCache, unit: str, wanted: tuple[str, ...] = PRINTED
) -> tuple[Layers, str]:
    """What is drawn of a shot that was measured, and how far off it was in words."""
    given, measured = measures.given(row.key), measures.known(row.key)
    if given is None or measured is None or not row.record.before:
        return Layers(), ""
    spec = table_spec(snapshot.head.table)
    picture = shot_picture(spec, given, measured, unit, said_of(row.record, given, spec))
    return draw_layers(picture, wanted), picture.off_label


def shot_scene(
    snapshot: Snapshot,
    row: ShotRow,
    judged: ShotScore | None,
    drawn: Layers,
    ball_scale: float = 1.0,
) -> TableScene:
    """The table before a shot with what is drawn on it."""
    record = row.record
    balls = {ball: (float(p[0]), float(p[1])) for ball, p in (record.before or {}).items()}
    return TableScene(
        table_spec(snapshot.head.table),
        balls,
        judged.balls_on if judged else (),
        record.call.pocket if record.call else None,
        ball_scale=ball_scale,
        under=drawn.under,
        over=drawn.over,
        note="" if balls else "Not placed",
    )


def said_of(record: Shot, given: ShotInput, spec: TableSpec) -> Said:
    """Options, path and drawings of a record, for its picture."""
    options = []
    for option in (record.plan.options if record.plan else None) or ():
        zone = core_zone(option.zone, given.before or {}, spec) if option.zone is not None else None
        options.append(replace(route_of(option), zone=zone))
    path = tuple((float(p[1]), float(p[2])) for p in (record.path or {}).get("cue", ()))
    pen = tuple(
        Stroke(one.kind or "line", tuple(_place(p) for p in one.points or ()), one.text or "")
        for one in record.drawings or ()
    )
    return Said(tuple(options), path, pen)


def route_of(option: Option) -> Route:
    """The way of an option with its times; its zone hangs on a layout."""
    points = tuple(_place(p) for p in option.route or ())
    times = tuple(float(time) for time in option.route_s or ())
    return Route(option.title or option.id or "option", points, None, bool(option.chosen), times)


def _place(point: tuple[float, float]) -> Place:
    return float(point[0]), float(point[1])
