"""A match's course, a rack as a story, and the sheet of a rack's shots."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ripasso.drawing.charts import Axis, Chart, Series
from ripasso.drawing.table import table_drawing
from ripasso.report.blocks import Block, Grid, Heading, Paragraph
from ripasso.report.drawing_pages import charted, drawn
from ripasso.report.material import Material
from ripasso.report.shot_drawing import layers_of, score_of, shot_scene
from ripasso.report.shot_sheet import rack_drawing
from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.language.localization import manner
from ripasso.review.present.describing import chips, player_name, rack_story, shot_title
from ripasso.review.present.match_sheet import match_sheet
from ripasso.review.present.rack_sheet import plan_sheet
from ripasso.review.present.weighed_words import rack_given_away, set_up_again_words
from ripasso.review.record.report import ReportPage
from ripasso.review.scoring.weighed import weighing_of

#: Small tables stand so many in a row on paper.
COLUMNS = 3
GONE = "This session, or this rack, is not in the library any more."


def course_blocks(material: Material, page: ReportPage) -> Iterator[Block]:
    """The course of a match and the ledger of its visits."""
    snapshot = material.snapshot(page.session)
    if snapshot is None:
        yield Paragraph(GONE, "missing")
        return
    for rack in snapshot.racks:
        material.measures.rack(snapshot, rack)
    sheet = match_sheet(snapshot, material.measures.known)
    if sheet is None:
        yield Paragraph("The rules of this game are not known: there is no score.", "quiet")
        return
    yield Paragraph(material.plain(sheet.summary))
    for title, headings, lines in (
        ("Course", sheet.rack_headings, sheet.racks),
        ("Visits", sheet.visit_headings, sheet.visits),
    ):
        yield Heading(title)
        yield Grid(headings, [[material.plain(cell) for cell in line.cells] for line in lines])


def rack_blocks(material: Material, page: ReportPage) -> Iterator[Block]:
    """A rack as a story: how it went, the table it began from, plans beside what fell, every shot."""
    found = material.rack(page)
    if found is None:
        yield Paragraph(GONE, "missing")
        return
    snapshot, rack = found
    session, record = snapshot.session, rack.complete
    yield Paragraph(material.plain(rack_story(session, record, snapshot.rack_score(rack.key))))
    given_away = rack_given_away([shot.record for shot in rack.shots])
    if given_away is not None:
        yield Paragraph(f"{given_away[:1].upper()}{given_away[1:]}.")
    again = set_up_again_words(snapshot, rack)
    if again is not None:
        yield Paragraph(again)
    if record.lesson:
        yield Paragraph(material.plain(record.lesson), "note")
    yield from _table(material, snapshot, rack)
    chart = clearing_chart(snapshot, rack)
    if chart is not None:
        yield charted(chart)
    for plan in record.plans or ():
        sheet = plan_sheet(record, plan, session.game)
        yield Heading(material.plain(sheet.title))
        rows = [
            (line.ball, line.pocket or "", line.link or "", _fell(line.fell_at, line.in_turn))
            for line in sheet.lines
        ]
        yield Grid(("Ball", "Pocket", "Way on", "Played"), rows)
    yield Heading("Shot by shot")
    yield Grid(
        ("Shot", "Player", "Said"), [_line(material, snapshot, rack, n) for n in range(len(rack.shots))]
    )


def _fell(shot: int | None, in_turn: bool | None) -> str:
    if shot is None:
        return "did not fall"
    return f"fell at shot {shot}{'' if in_turn else ', out of turn'}"


def _table(material: Material, snapshot: Snapshot, rack: RackRow) -> Iterator[Block]:
    """The first shot after the break whose balls were placed."""
    for place, row in enumerate(rack.shots):
        if row.record.before and row.record.intent != "break":
            layers, _off = layers_of(snapshot, row, material.measures, material.unit, ("plan",))
            scene = shot_scene(snapshot, row, score_of(snapshot, rack, place), layers)
            yield drawn(table_drawing(scene), f"Before shot {row.record.number}", wide=False)
            return


def clearing_chart(snapshot: Snapshot, rack: RackRow) -> Chart | None:
    """The chance to clear before each shot; None where fewer than two were worked out."""
    known = [
        (row.record.number, float(found.clear.before))
        for row in rack.shots
        if (found := weighing_of(row.record)) is not None and found.clear is not None
    ]
    if len(known) < 2:
        return None
    x, y = np.array(known, dtype=np.float64).T
    title = "Chance to clear before each shot"
    series = Series("", "accent", "line", x, 100 * y)
    axes = Axis("shot", float(x.min()) - 1, float(x.max()) + 1), Axis("per cent", 0, 105)
    return Chart(f"clear {snapshot.key} {rack.key}", title, title, *axes, (series,))


def _line(material: Material, snapshot: Snapshot, rack: RackRow, place: int) -> tuple[str, str, str]:
    row, judged = rack.shots[place], score_of(snapshot, rack, place)
    title = shot_title(row.record, judged, snapshot.head.game).removeprefix("Shot ")
    who = player_name(snapshot.head, judged.player if judged is not None else row.record.player)
    said = [chip.text for chip in chips(row.record, manner(snapshot.head.game)) if chip.tone != "plain"]
    return title, material.plain(who), material.plain(", ".join(said))


def sheet_blocks(material: Material, page: ReportPage) -> Iterator[Block]:
    """Small tables, one for every shot of a rack."""
    found = material.rack(page)
    if found is None:
        yield Paragraph(GONE, "missing")
        return
    drawing = rack_drawing(*found, material.measures, material.unit, COLUMNS, titled=False)
    yield drawn(drawing, "Planned dashed, played solid", tables_across=COLUMNS)
