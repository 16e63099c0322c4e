"""The options of a shot side by side, each on a small table: pot, route, zone, and what it promises."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.core.table import TableSpec, pocket_centre, table_spec
from ripasso.drawing.layers import zone_primitives
from ripasso.drawing.primitives import Drawing, Line, Point, Primitive
from ripasso.drawing.sheet import SheetCell, sheet_drawing
from ripasso.drawing.table import TableScene, table_drawing
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.entry.options import OptionLine, options_of
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.record.model import Option
from ripasso.review.record.proposals import without_proposals

ACROSS, BALL_SCALE = 3, 2.2
#: So many letters of an option have room below its table.
ROOM = 34


def options_drawing(snapshot: Snapshot, row: ShotRow, lines: Sequence[OptionLine]) -> Drawing:
    """A sheet of the options; empty where the balls are not placed."""
    spec, record = table_spec(snapshot.head.table), without_proposals(row.record)
    balls = {ball: (float(p[0]), float(p[1])) for ball, p in (record.before or {}).items()}
    said = {line.id: line for line in lines}
    cells = []
    for number, option in enumerate(options_of(record) if balls else (), start=1):
        line = said.get(option.id or "")
        under = tuple(_drawn(spec, balls, option))
        pocket = option.call.pocket if option.call else None
        scene = TableScene(spec, balls, pocket=pocket, ball_scale=BALL_SCALE, under=under)
        cells.append(SheetCell(table_drawing(scene), _title(number, line), _promise(line)))
    return sheet_drawing(cells, min(ACROSS, max(1, len(cells))), "")


def _drawn(spec: TableSpec, balls: dict[str, Point], option: Option) -> list[Primitive]:
    drawn: list[Primitive] = []
    zone = core_zone(option.zone, balls, spec) if option.zone is not None else None
    if zone is not None:
        drawn += zone_primitives(spec, zone)
    ball = balls.get(option.call.ball or "") if option.call else None
    if ball is not None and "cue" in balls:
        drawn.append(Line((balls["cue"], ball), "mark.line"))
        if option.call is not None and option.call.pocket:
            drawn.append(Line((ball, pocket_centre(spec, option.call.pocket)), "mark.line"))
    route = tuple((float(place[0]), float(place[1])) for place in option.route or ())
    if len(route) > 1:
        drawn.append(Line(route, "mark.plan", "bold", dashed=True))
    following = balls.get(option.next_ball or "")
    if following is not None and route:
        drawn.append(Line((route[-1], following), "mark.line", dashed=True))
    return drawn


def _title(number: int, line: OptionLine | None) -> str:
    text = line.text if line is not None else ""
    return f"{number}  {text[: ROOM - 1]}…" if len(text) > ROOM else f"{number}  {text}"


def _promise(line: OptionLine | None) -> str:
    if line is None:
        return ""
    parts = [
        f"{words} {100 * share:.0f} %"
        for words, share in (("chance", line.chance), ("leave", line.leave))
        if share is not None
    ]
    marks = [name for name, holds in (("played", line.chosen), ("better", line.better)) if holds]
    return " · ".join([*parts, *marks]) or "not weighed"
