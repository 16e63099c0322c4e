"""The rows derived from the records, as they are stored: which of them differ, and the counts beside them."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any

from sqlalchemy import Connection, delete, insert, select, update
from sqlalchemy.dialects.sqlite import insert as upsert

from ripasso.core.figures.rack_results import RackResult
from ripasso.core.figures.schema import SHOT_FIELDS
from ripasso.review.document.document import Derived, RackRows
from ripasso.store.rows import tables

COLUMNS = (*SHOT_FIELDS, "place", "version")
#: What the list of sessions counts, and what came of the racks; stored beside a session's record.
COUNTS = {"racks": 0, "shots": 0, "judged": 0, "course": "[]"}
#: What a rack counts in the place of a row: more than any rack has shots.
PLACES_OF_RACK = 100_000

#: Derived rows by the key of their shot, as they are stored: with place and version.
Figures = dict[str, tuple[Any, ...]]


def placed(derived: Derived, racks: Iterable[tuple[int, RackRows]]) -> Figures:
    """The rows of racks with their places in the session, which order them, and the version."""
    return {
        row[0]: (*row, place * PLACES_OF_RACK + i, derived.version)
        for place, rack in racks
        for i, row in enumerate(rack.rows)
    }


def changed_racks(before: Derived, derived: Derived) -> tuple[Figures, Figures]:
    """The rows before and after of the racks that are not what and where they were."""
    known = {rack.rack: (place, rack) for place, rack in enumerate(before.racks)}
    fresh = {rack.rack: (place, rack) for place, rack in enumerate(derived.racks)}
    moved = [key for key, at in fresh.items() if known.get(key) != at]
    old = [known[key] for key in (*moved, *(known.keys() - fresh.keys())) if key in known]
    return placed(before, old), placed(derived, [fresh[key] for key in moved])


def stored(connection: Connection, session: str) -> Figures:
    figure = tables.shot_figure
    query = select(*(figure.c[name] for name in COLUMNS)).where(figure.c.session == session)
    return {row[0]: tuple(row) for row in connection.execute(query)}


def replace(connection: Connection, before: Figures, after: Figures) -> None:
    """Write the rows of `after` that differ from those of `before`, and take away what is left of these."""
    figure = tables.shot_figure
    gone = before.keys() - after.keys()
    if gone:
        connection.execute(delete(figure).where(figure.c.key.in_(gone)))
    changed = [row for key, row in after.items() if before.get(key) != row]
    if changed:
        values = [dict(zip(COLUMNS, row, strict=True)) for row in changed]
        connection.execute(insert(figure).prefix_with("OR REPLACE"), values)


def write_counts(connection: Connection, derived: Derived) -> None:
    counts = (
        len(derived.racks),
        sum(len(rack.rows) for rack in derived.racks),
        sum(rack.judged for rack in derived.racks),
        json.dumps([rack.result.data() for rack in derived.racks if rack.result is not None]),
    )
    table = tables.session
    values = dict(zip(COUNTS, counts, strict=True))
    connection.execute(update(table).where(table.c.key == derived.session).values(**values))


def course(connection: Connection, session: str) -> list[RackResult]:
    """What came of a session's racks; raises ValueError, TypeError, KeyError for what is damaged."""
    query = select(tables.session.c.course).where(tables.session.c.key == session)
    return [RackResult.of(one) for one in json.loads(connection.execute(query).scalar() or "[]")]


def write_persons(connection: Connection, derived: Derived) -> None:
    person, link = tables.person, tables.session_person
    linked = select(link.c.person, person.c.name).join(person).where(link.c.session == derived.session)
    names_now = connection.execute(linked.order_by(link.c.position)).all()
    if [tuple(row) for row in names_now] == list(derived.persons.items()):
        return
    connection.execute(delete(link).where(link.c.session == derived.session))
    for position, (key, name) in enumerate(derived.persons.items()):
        known = upsert(person).values(key=key, name=name)
        connection.execute(known.on_conflict_do_update(index_elements=["key"], set_={"name": name}))
        connection.execute(insert(link).values(session=derived.session, person=key, position=position))
