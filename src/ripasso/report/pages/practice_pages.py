"""What is to be practised, with layouts to set up and room to write; and the weeks."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ripasso.core.practice.timetable import Slot
from ripasso.core.table import TableSpec, table_spec
from ripasso.core.table.places import Place
from ripasso.drawing.layers import zone_primitives
from ripasso.drawing.table import TableScene, table_drawing
from ripasso.report.blocks import Beside, Blanks, Block, Bullets, Grid, Heading, Paragraph
from ripasso.report.drawing_pages import drawn
from ripasso.report.material import Material
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.vocabulary import count
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.practice.exercises import due_on, exercises_of
from ripasso.review.practice.weeks import planned_weeks
from ripasso.review.practice.words import CARE, KINDS, ball_lines, due_words, goal_words
from ripasso.review.record.people import persons
from ripasso.review.record.practice import Exercise

NO_PLAN = "There is no practice plan for this player: N in Practice (Ctrl 4) makes the first exercise."
#: Lines to write on for each exercise, under these heads.
BLANKS, BLANK_HEADS = 3, ("Day", "Made", "Of", "Changed")
SLOT_WORDS = {"warm_up": "warm-up", "measured": "measured set"}


def plan_of_player(material: Material) -> Snapshot | None:
    """The session that holds the player's practice plan, the latest first."""
    for line in material.library.sessions():
        if line.kind == "practice":
            snapshot = material.snapshot(line.key)
            if snapshot is None or snapshot.head.practice_plan is None:
                continue
            if material.report.player is None or material.report.player in persons(snapshot.head):
                return snapshot
    return None


def practice_blocks(material: Material, most: int | None = None) -> Iterator[Block]:
    """The exercises, what is due first in front."""
    snapshot = plan_of_player(material)
    if snapshot is None:
        yield Paragraph(NO_PLAN, "quiet")
        return
    spec = table_spec(snapshot.head.table)
    for exercise in exercises_of(snapshot)[:most]:
        due = due_words(due_on(exercise, material.today), material.today)
        yield Heading(exercise.title)
        asked = f"{KINDS[exercise.kind]}; asked: {goal_words(exercise)}; due {due}"
        yield Paragraph(f"{asked[:1].upper()}{asked[1:]}.", "quiet")
        if exercise.layout:
            yield _set_up(material, spec, exercise)
        for words, parts in (("Rungs", exercise.rungs), ("Ways", exercise.ways)):
            if parts:
                yield Paragraph(f"{words}: {', '.join(parts)}.")
        yield Blanks(BLANK_HEADS, BLANKS)
    yield Paragraph(CARE, "quiet")


def _set_up(material: Material, spec: TableSpec, exercise: Exercise) -> Block:
    balls: dict[str, Place] = {b: (float(p[0]), float(p[1])) for b, p in (exercise.layout or {}).items()}
    zone = core_zone(exercise.zone, balls, spec) if exercise.zone is not None else None
    under = tuple(zone_primitives(spec, zone)) if zone is not None else ()
    target = exercise.target
    on = (target.ball,) if target is not None and target.ball else ()
    pocket = target.pocket if target is not None else None
    table = drawn(table_drawing(TableScene(spec, balls, on, pocket, under=under)), wide=False)
    return Beside(table, Bullets(ball_lines(spec, balls, material.unit), marked=False))


def timetable_blocks(material: Material) -> Iterator[Block]:
    """Four weeks: each day with its exercises and minutes, and what finds no room."""
    snapshot = plan_of_player(material)
    if snapshot is None:
        yield Paragraph(NO_PLAN, "quiet")
        return
    titles = {one.id: one.title for one in exercises_of(snapshot)}
    found = planned_weeks(snapshot, material.today)
    rows = [
        (one.day.strftime("%a %d %b"), _slots(one.slots, titles), f"{one.minutes} min", "")
        for one in found.sessions
    ]
    yield Grid(("Day", "What", "Minutes", "Done"), rows)
    if found.left_out:
        named = ", ".join(titles.get(name, name) for name, _reason in found.left_out)
        yield Paragraph(f"{count(len(found.left_out), 'exercise')} found no room: {named}.", "quiet")


def _slots(slots: Sequence[Slot], titles: dict[str, str]) -> str:
    return "; ".join(
        f"{titles.get(slot.exercise or '', SLOT_WORDS.get(slot.what, slot.what))} {slot.minutes}"
        for slot in slots
    )
