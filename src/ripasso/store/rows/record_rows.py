"""The records of a session as rows, read and written; one that is damaged is set aside, the rest works."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError
from sqlalchemy import Connection, delete, func, select
from sqlalchemy.dialects.sqlite import insert as upsert

from ripasso.core.json_data import JsonObject
from ripasso.review.document.command import RECORDS, Change, Entry, Table
from ripasso.review.document.snapshot import Rows
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.model import Rack, Session, Shot, serialize
from ripasso.review.record.parts import Record
from ripasso.review.record.practice import AttemptSet
from ripasso.review.record.report import Report
from ripasso.store.rows import tables
from ripasso.store.rows.figure_rows import COUNTS

_PARENT: dict[Table, str | None] = {
    "session": None,
    "rack": "session",
    "shot": "rack",
    "attempt_set": "session",
    "layout": None,
    "report": None,
}
_TABLES = {
    "session": tables.session,
    "rack": tables.rack,
    "shot": tables.shot,
    "attempt_set": tables.attempt_set,
    "layout": tables.layout,
    "report": tables.report,
}
CHILDREN: tuple[tuple[Table, Any], ...] = (("rack", tables.rack), ("attempt_set", tables.attempt_set))


@dataclass(frozen=True)
class LoadedRows:
    """The rows of a session by table and key, and how many records of each table are damaged."""

    rows: Rows
    damaged: dict[Table, int]


def load(connection: Connection, session: str) -> LoadedRows:
    """All rows of a session that can be read; none when there is no such session, or its own is damaged.

    What hangs on a damaged record is left out with it. Nothing is taken out of the library.
    """
    head = connection.execute(
        select(tables.session.c.record).where(tables.session.c.key == session)
    ).scalar_one_or_none()
    if head is None:
        return LoadedRows({}, {})
    taker = _Taker()
    taker.take("session", [(session, None, 0, head)])
    if taker.damaged:
        return LoadedRows({}, taker.damaged)
    for name, table in CHILDREN:
        query = select(table.c.key, table.c.session, table.c.position, table.c.record)
        taker.take(name, connection.execute(query.where(table.c.session == session)))
    shot = tables.shot
    shots = (
        select(shot.c.key, shot.c.rack, shot.c.position, shot.c.record)
        .join(tables.rack, tables.rack.c.key == shot.c.rack)
        .where(tables.rack.c.session == session)
    )
    taker.take("shot", connection.execute(shots))
    return LoadedRows(taker.rows, taker.damaged)


def layouts(connection: Connection) -> list[tuple[str, KeptLayout]]:
    """The kept layouts that can be read, by title, with their keys."""
    table, found = tables.layout, list[tuple[str, KeptLayout]]()
    query = select(table.c.key, table.c.record).order_by(table.c.title, table.c.key)
    for key, stored in connection.execute(query):
        record = _record("layout", stored)
        if isinstance(record, KeptLayout):
            found.append((key, record))
    return found


def reports(connection: Connection) -> list[tuple[str, Report]]:
    """The reports that can be read, by title, with their keys."""
    table, found = tables.report, list[tuple[str, Report]]()
    query = select(table.c.key, table.c.record).order_by(table.c.title, table.c.key)
    for key, stored in connection.execute(query):
        record = _record("report", stored)
        if isinstance(record, Report):
            found.append((key, record))
    return found


def played_from(connection: Connection, layouts: Sequence[str]) -> list[tuple[str, Table, str]]:
    """Session, table and key of the racks and sets of attempts that began from kept layouts."""
    found: list[tuple[str, Table, str]] = []
    for name, table in CHILDREN:
        origin = func.json_extract(table.c.record, "$.from_layout")
        # A record without the words needs no parsing.
        query = select(table.c.session, table.c.key).where(
            table.c.record.contains('"from_layout":', autoescape=True), origin.in_(list(layouts))
        )
        found += [(session, name, key) for session, key in connection.execute(query)]
    return found


class _Taker:
    """Collects rows whose record can be read, and whose parent was."""

    def __init__(self) -> None:
        self.rows: dict[tuple[Table, str], Entry] = {}
        self.damaged: dict[Table, int] = {}

    def take(self, name: Table, found: Iterable[Any]) -> None:
        for key, parent, position, stored in found:
            if name == "shot" and ("rack", parent) not in self.rows:
                continue  # it went with its rack
            record = _record(name, stored) if isinstance(key, str) and isinstance(position, int) else None
            if record is None:
                self.damaged[name] = self.damaged.get(name, 0) + 1
            else:
                self.rows[name, key] = Entry(record, parent, position)


def _record(name: Table, stored: object) -> Record | None:
    """A stored record; None for one that is damaged."""
    if not isinstance(stored, str):
        return None
    try:
        return RECORDS[name].model_validate_json(stored)
    except ValidationError:
        return None


def write(connection: Connection, change: Change) -> None:
    """Write one row of a command."""
    table = _TABLES[change.table]
    if change.after is None:
        connection.execute(delete(table).where(table.c.key == change.key))
        return
    values = _row_values(change.table, change.key, change.after)
    statement = upsert(table).values(**values)
    others = {name: value for name, value in values.items() if name != "key" and name not in COUNTS}
    connection.execute(statement.on_conflict_do_update(index_elements=["key"], set_=others))


def _row_values(table: Table, key: str, entry: Entry) -> JsonObject:
    record = entry.record
    stored = json.dumps(serialize(record), ensure_ascii=False, separators=(",", ":"))
    values: JsonObject = {"key": key, "record": stored}
    parent = _PARENT[table]
    if parent is not None:
        values |= {parent: entry.parent, "position": entry.position}
    if isinstance(record, Session):
        values |= {"title": record.title, "date": record.date, "game": record.game, "kind": record.kind}
        values |= COUNTS  # written with the derived rows
    elif isinstance(record, Rack):
        values |= {"number": record.number}
    elif isinstance(record, Shot):
        values |= {
            "number": record.number,
            "player": record.player,
            "intent": record.intent,
            "recording": record.recording,
            "t_strike": record.t_strike,
        }
    elif isinstance(record, AttemptSet):
        values |= {"title": record.title}
    elif isinstance(record, KeptLayout):
        values |= {"title": record.title, "game": record.game}
    elif isinstance(record, Report):
        values |= {"title": record.title}
    return values
