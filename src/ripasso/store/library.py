"""The library: every session in one SQLite file, one transaction a command."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

from sqlalchemy import Connection, Engine, delete, func, insert, select, update
from sqlalchemy.dialects.sqlite import insert as upsert
from sqlalchemy.exc import SQLAlchemyError

from ripasso.core.figures.schema import SHOT_FIELDS, Row
from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.review.document.command import RECORDS, Change, Entry, Table
from ripasso.review.document.document import Derived, RackRows
from ripasso.review.document.snapshot import Rows
from ripasso.review.record.model import AttemptSet, Rack, Record, Session, Shot, serialize
from ripasso.store import attempt_rows, column_rows, measure_rows, tables
from ripasso.store.attempt_rows import StoredAttempts
from ripasso.store.engine import engine_for, writing
from ripasso.store.errors import LibraryError, sentence
from ripasso.store.opening import LibraryFile, open_file
from ripasso.store.session_list import SessionLine, session_lines

_PARENT: dict[Table, str | None] = {
    "session": None,
    "rack": "session",
    "shot": "rack",
    "attempt_set": "session",
}
_TABLES = {
    "session": tables.session,
    "rack": tables.rack,
    "shot": tables.shot,
    "attempt_set": tables.attempt_set,
}
_FIGURE_COLUMNS = (*SHOT_FIELDS, "place", "version")
#: What the list of sessions counts; stored beside a session's record.
COUNTS = ("racks", "shots", "judged")
_JUDGED = SHOT_FIELDS.index("judged")
#: What a rack counts in the place of a row: more than any rack has shots.
PLACES_OF_RACK = 100_000


@dataclass(frozen=True)
class SessionHead:
    """What statistics and a search ask of a session; `table` as its record states it."""

    key: str
    title: str
    date: str
    game: str
    kind: str
    table: JsonObject | None


def open_library(path: Path, *, create: bool = True) -> Library:
    """Open a library, making it when it is not there; raises `LibraryError` with one sentence."""
    return Library(open_file(path, create=create))


class Library:
    """An open library. Build it with `open_library`; `close` it when done."""

    def __init__(self, file: LibraryFile) -> None:
        self.path = file.path
        self.notice = file.notice
        self._file = file
        self._engine = engine_for(file.path, read_only=file.lock is None)
        self._closed = False
        # What is stored beside each session: only one window writes, so it needs no reading.
        self._stored: dict[str, Derived] = {}
        self._changes: dict[str, int] = {}

    @property
    def read_only(self) -> bool:
        """True when nothing can be written; `notice` says why."""
        return self._file.lock is None

    def close(self) -> None:
        """Close the file and let another window write."""
        if not self._closed:
            self._closed = True
            self._engine.dispose()
            self._file.release()

    def load(self, session: str) -> Rows:
        """All rows of a session by table and key; empty when there is none."""
        rows: dict[tuple[Table, str], Entry] = {}
        with self._reading() as connection:
            found = connection.execute(
                select(tables.session.c.record).where(tables.session.c.key == session)
            ).scalar_one_or_none()
            if found is None:
                return rows
            rows["session", session] = Entry(_record("session", found), None, 0)
            children: tuple[Table, ...] = ("rack", "attempt_set")
            for name in children:
                table = _TABLES[name]
                query = select(table.c.key, table.c.position, table.c.record)
                for key, position, record in connection.execute(query.where(table.c.session == session)):
                    rows[name, key] = Entry(_record(name, record), session, position)
            shot = tables.shot
            shots = (
                select(shot.c.key, shot.c.rack, shot.c.position, shot.c.record)
                .join(tables.rack, tables.rack.c.key == shot.c.rack)
                .where(tables.rack.c.session == session)
            )
            for key, rack, position, record in connection.execute(shots):
                rows["shot", key] = Entry(_record("shot", record), rack, position)
        return rows

    def keys(self) -> set[str]:
        """The keys of all sessions."""
        with self._reading() as connection:
            return set(connection.execute(select(tables.session.c.key)).scalars())

    def commit(self, changes: Iterable[Change], derived: Derived | None) -> None:
        """Write a command and what follows from it in one transaction, or raise and write nothing."""
        if self.read_only:
            raise LibraryError(self.notice or "The library is open for reading only.")
        try:
            with writing(self._engine) as connection:
                for change in changes:
                    _write(connection, change)
                    if change.table == "session":
                        self._changed(connection, change.key)
                        if change.after is None:
                            self._stored.pop(change.key, None)  # its rows went with it
                if derived is not None:
                    self._write_derived(connection, derived)
        except SQLAlchemyError as error:
            self._stored.clear()
            raise LibraryError(sentence(error, self.path)) from error

    def _write_derived(self, connection: Connection, derived: Derived) -> None:
        """Write the derived rows that differ from what is stored, rack by rack."""
        stored = self._stored.get(derived.session)
        if stored is None:
            before = _stored_figures(connection, derived.session)
            after = _placed_rows(derived, enumerate(derived.racks))
        else:
            before, after = _changed_racks(stored, derived)
        _replace_figures(connection, before, after)
        if stored is None or stored.persons != derived.persons:
            _write_persons(connection, derived)
        _write_counts(connection, derived)
        self._changed(connection, derived.session)
        self._stored[derived.session] = derived

    def _changed(self, connection: Connection, session: str) -> None:
        """The columns that are kept of a session are old now."""
        self._changes[session] = self._changes.get(session, 0) + 1
        column_rows.forget(connection, session)

    def changes(self, session: str) -> int:
        """How often a session was changed since the library was opened; measures count as well."""
        return self._changes.get(session, 0)

    def sessions(self) -> list[SessionLine]:
        """A line a session, the latest date first."""
        return session_lines(self.path)

    def heads(self) -> list[SessionHead]:
        """What statistics ask of every session, by key."""
        session = tables.session
        query = select(session.c.key, session.c.title, session.c.record).order_by(session.c.key)
        with self._reading() as connection:
            found = connection.execute(query).all()
        heads = []
        for key, title, record in found:
            stated = json.loads(record)
            date, game, kind = (stated.get(name) or "" for name in ("date", "game", "kind"))
            heads.append(SessionHead(key, title, date, game, kind, stated.get("table")))
        return heads

    def names(self) -> dict[str, str]:
        """The names of everybody by their keys."""
        return dict(self._pairs(select(tables.person.c.key, tables.person.c.name)))

    def persons(self) -> list[tuple[str, str]]:
        """Key and name of everybody who played a session, who struck most shots first."""
        person, link, figure = tables.person, tables.session_person, tables.shot_figure
        shots = select(func.count()).where(figure.c.person == person.c.key).scalar_subquery()
        query = select(person.c.key, person.c.name).where(person.c.key.in_(select(link.c.person)))
        return self._pairs(query.order_by(shots.desc(), person.c.name))

    def shot_rows(self, session: str) -> tuple[list[Row], list[JsonMapping | None]]:
        """The rows of a session's shots in order, and the stored measures of each (None: nothing)."""
        with self._reading() as connection:
            return column_rows.rows_of(connection, session)

    def kept_columns(self, sessions: Iterable[str]) -> dict[str, bytes]:
        """The columns of facts that are kept of sessions, for those that did not change since."""
        with self._reading() as connection:
            return column_rows.read(connection, sessions)

    def keep_columns(self, columns: Mapping[str, tuple[int, bytes]]) -> None:
        """Keep columns of facts with the count of `changes` they are of; old ones are left out.

        A library that is only read stays as it is.
        """
        if self.read_only or not columns:
            return
        try:
            with writing(self._engine) as connection:
                fresh = {key: data for key, (count, data) in columns.items() if count == self.changes(key)}
                column_rows.write(connection, fresh)
        except SQLAlchemyError as error:
            raise LibraryError(sentence(error, self.path)) from error

    def attempt_sets(self, sessions: Sequence[str] | None = None) -> list[StoredAttempts]:
        """The sets of attempts of the given sessions (None: of all), by date."""
        with self._reading() as connection:
            return attempt_rows.attempt_sets(connection, sessions)

    def unmeasured(self) -> list[str]:
        """Sessions that have shots without stored measures."""
        with self._reading() as connection:
            return measure_rows.unmeasured(connection)

    def measure_stamps(self, session: str) -> dict[str, str]:
        """What the stored measures of a session were computed from, by shot."""
        with self._reading() as connection:
            return measure_rows.stamps(connection, session)

    def measures(self, session: str) -> dict[str, JsonObject]:
        """The stored measures of a session, by shot."""
        with self._reading() as connection:
            return measure_rows.measures(connection, session)

    def keep_measures(self, session: str, rows: Mapping[str, tuple[str, JsonMapping]]) -> None:
        """Store measures with their stamps; a library that is only read stays as it is."""
        if self.read_only or not rows:
            return
        try:
            with writing(self._engine) as connection:
                measure_rows.write(connection, session, rows)
                self._changed(connection, session)
        except SQLAlchemyError as error:
            raise LibraryError(sentence(error, self.path)) from error

    def outdated(self, version: int) -> list[str]:
        """Sessions whose derived rows were computed by another version of the program."""
        figure = tables.shot_figure
        query = select(figure.c.session).where(figure.c.version != version).distinct()
        with self._reading() as connection:
            return list(connection.execute(query).scalars())

    def _pairs(self, query: Any) -> list[tuple[Any, Any]]:
        with self._reading() as connection:
            return [(a, b) for a, b in connection.execute(query)]

    def _reading(self) -> _Reading:
        return _Reading(self._engine, self.path)


class _Reading:
    """A connection for reading whose errors are sentences."""

    def __init__(self, engine: Engine, path: Path) -> None:
        self._engine, self._path = engine, path

    def __enter__(self) -> Connection:
        try:
            self._connection = self._engine.connect()
        except SQLAlchemyError as error:
            raise LibraryError(sentence(error, self._path)) from error
        return self._connection

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> Literal[False]:
        self._connection.close()
        if isinstance(error, SQLAlchemyError):
            raise LibraryError(sentence(error, self._path)) from error
        return False


def _record(table: Table, stored: str) -> Record:
    return RECORDS[table].model_validate_json(stored)


def _write(connection: Connection, change: Change) -> None:
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
        values |= dict.fromkeys(COUNTS, 0)  # written with the derived rows
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
    return values


#: Derived rows by the key of their shot, as they are stored: with place and version.
_Figures = dict[str, tuple[Any, ...]]


def _placed_rows(derived: Derived, racks: Iterable[tuple[int, RackRows]]) -> _Figures:
    """The rows of racks with their places in the session, which order them, and the version."""
    return {
        row[0]: (*row, place * PLACES_OF_RACK + i, derived.version)
        for place, rack in racks
        for i, row in enumerate(rack.rows)
    }


def _changed_racks(stored: Derived, derived: Derived) -> tuple[_Figures, _Figures]:
    """The rows before and after of the racks that are not what and where they were."""
    known = {rack.rack: (place, rack) for place, rack in enumerate(stored.racks)}
    fresh = {rack.rack: (place, rack) for place, rack in enumerate(derived.racks)}
    moved = [key for key, at in fresh.items() if known.get(key) != at]
    before = [known[key] for key in (*moved, *(known.keys() - fresh.keys())) if key in known]
    return _placed_rows(stored, before), _placed_rows(derived, [fresh[key] for key in moved])


def _stored_figures(connection: Connection, session: str) -> _Figures:
    figure = tables.shot_figure
    query = select(*(figure.c[name] for name in _FIGURE_COLUMNS)).where(figure.c.session == session)
    return {row[0]: tuple(row) for row in connection.execute(query)}


def _replace_figures(connection: Connection, before: _Figures, after: _Figures) -> None:
    """Write the rows of `after` that differ from those of `before`, and take away what is left of these."""
    figure = tables.shot_figure
    gone = before.keys() - after.keys()
    if gone:
        connection.execute(delete(figure).where(figure.c.key.in_(gone)))
    changed = [row for key, row in after.items() if before.get(key) != row]
    if changed:
        values = [dict(zip(_FIGURE_COLUMNS, row, strict=True)) for row in changed]
        connection.execute(insert(figure).prefix_with("OR REPLACE"), values)


def _write_counts(connection: Connection, derived: Derived) -> None:
    counts = (
        len(derived.racks),
        sum(len(rack.rows) for rack in derived.racks),
        sum(rack.judged for rack in derived.racks),
    )
    table = tables.session
    values = dict(zip(COUNTS, counts, strict=True))
    connection.execute(update(table).where(table.c.key == derived.session).values(**values))


def _write_persons(connection: Connection, derived: Derived) -> None:
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
