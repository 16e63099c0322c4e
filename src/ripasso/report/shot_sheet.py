"""Every shot of a rack as a small table: tip, route, zone, landing and result."""

from __future__ import annotations

from dataclasses import replace

from ripasso.drawing.primitives import Drawing, Text
from ripasso.drawing.sheet import SheetCell, sheet_drawing
from ripasso.drawing.table import table_drawing
from ripasso.report.shot_drawing import layers_of, score_of, shot_scene
from ripasso.review.document.snapshot import RackRow, ShotRow, Snapshot
from ripasso.review.language.localization import manner
from ripasso.review.language.vocabulary import rack_word, sentence
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.present.describing import chips, shot_title

#: Of the layers those that a small table has room for.
LAYERS = ("pot", "plan", "path", "result", "pen")
COLUMNS = 4
#: So many letters of a shot's findings have room below its table.
ROOM = 36
BALL_SCALE = 2.2


def rack_drawing(
    snapshot: Snapshot,
    rack: RackRow,
    measures: MeasureCache,
    unit: str,
    columns: int = COLUMNS,
    *,
    titled: bool = True,
) -> Drawing:
    """The sheet of a rack as a drawing, under its own title or under that of a page."""
    measures.rack(snapshot, rack)
    cells = [_cell(snapshot, rack, place, measures, unit) for place in range(len(rack.shots))]
    what = f"{sentence(rack_word(snapshot.head.game))} {rack.record.number}"
    return sheet_drawing(cells, columns, f"{snapshot.head.title}: {what}" if titled else "")


def _cell(snapshot: Snapshot, rack: RackRow, place: int, measures: MeasureCache, unit: str) -> SheetCell:
    row = rack.shots[place]
    record, judged = row.record, score_of(snapshot, rack, place)
    drawn, off = layers_of(snapshot, row, measures, unit, LAYERS)
    bare = replace(drawn, over=tuple(one for one in drawn.over if not isinstance(one, Text)))
    scene = shot_scene(snapshot, row, judged, bare, BALL_SCALE)
    stroke = record.stroke
    tip = (float(stroke.tip[0]), float(stroke.tip[1])) if stroke is not None and stroke.tip else None
    game = snapshot.head.game
    title = shot_title(record, judged, game).removeprefix("Shot ")
    return SheetCell(table_drawing(scene), title, _words(row, game, off), tip)


def _words(row: ShotRow, game: str | None, off: str) -> str:
    """What came of a shot: the findings that are good or bad, and how far off."""
    found = [chip.text for chip in chips(row.record, manner(game)) if chip.tone in ("good", "bad", "unsure")]
    shown = [off] if off else []
    for place, words in enumerate(found):
        if len(" · ".join([*shown, words])) > ROOM:
            break
        shown.insert(place, words)
    return " · ".join(shown) or "not said"
