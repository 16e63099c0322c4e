"""Key shots: the film with the lines in it, the table, what was meant and what came, the better option."""

from __future__ import annotations

from collections.abc import Iterator

from ripasso.core.table import table_spec
from ripasso.drawing.table import table_drawing
from ripasso.report.blocks import Beside, Block, Grid, Heading, Paragraph
from ripasso.report.drawing_pages import drawn
from ripasso.report.material import FoundShot, Material, anchor_of
from ripasso.report.shot_drawing import layers_of, score_of, shot_scene
from ripasso.review.language.localization import manner
from ripasso.review.language.vocabulary import rack_word, sentence
from ripasso.review.present.describing import chips, outcome_words, player_name, shot_title
from ripasso.review.present.measure_words import Units, measure_lines
from ripasso.review.record.report import ReportPage, ReportShot
from ripasso.review.recordings.views import recording_of


def shots_blocks(material: Material, page: ReportPage) -> Iterator[Block]:
    """The key shots of a page, one under another."""
    if not page.shots:
        yield Paragraph(
            "No key shot is chosen: Ctrl ⇧ R in Review puts the shot in hand into the report.", "quiet"
        )
    for one in page.shots or ():
        found = material.shot(one)
        if found is None:
            where = f"rack {one.rack}, shot {one.shot} of {one.session}"
            yield Paragraph(f"{where} is not in the library any more.", "missing")
        else:
            yield from shot_blocks(material, one, found)


def shot_blocks(material: Material, wanted: ReportShot, found: FoundShot) -> Iterator[Block]:
    """One shot."""
    snapshot, row = found.snapshot, found.row
    head, record = snapshot.head, row.record
    judged = score_of(snapshot, found.rack, found.place)
    where = f"{sentence(rack_word(head.game))} {found.rack.record.number}"
    title = shot_title(record, judged, head.game)
    yield Heading(f"{where}, {title[:1].lower()}{title[1:]}", anchor_of(wanted))
    who = material.plain(player_name(head, judged.player if judged is not None else record.player))
    yield Paragraph(material.plain(f"{who}, {head.title}{f', {head.date}' if head.date else ''}"), "quiet")
    layers, _off = layers_of(snapshot, row, material.measures, material.unit)
    scene = shot_scene(snapshot, row, judged, layers)
    table = drawn(table_drawing(scene), wide=False)
    lines = [*layers.under, *layers.over]
    height = table_spec(head.table).ball_radius
    time_s = float(record.t_strike) if record.t_strike is not None else None
    recording = recording_of(head, record.recording)
    still = material.stills.still(recording, time_s, lines, height, title)
    if isinstance(still, Paragraph):
        yield table
        yield still
    else:
        yield Beside(still, table)
    yield from _said(material, found, wanted.note)


def _said(material: Material, found: FoundShot, note: str | None) -> Iterator[Block]:
    snapshot, record = found.snapshot, found.row.record
    head, judged = snapshot.head, score_of(snapshot, found.rack, found.place)
    outcome, further = outcome_words(head, judged)
    said = [chip.text for chip in chips(record, manner(head.game)) if not chip.proposed]
    rows = [("said", ", ".join(said)), ("came of it", "; ".join((outcome, *further)))]
    measured = material.measures.known(found.row.key)
    if measured is not None:
        units = Units(material.unit, table_spec(head.table), head.game)
        rows += [(line.name, line.value) for line in measure_lines(measured, units)]
    yield Grid((), [(name, material.plain(words)) for name, words in rows if words])
    for text in (record.note, note):
        if text:
            yield Paragraph(material.plain(text), "note")
