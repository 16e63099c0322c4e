"""The library: every session in one SQLite file, one transaction a command.

Opening answers every kind of wrong file with one sentence (`LibraryError`), or opens for reading only
and says why (`Library.notice`).
"""

from __future__ import annotations

import json
import os
import sqlite3
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal, cast

from sqlalchemy import Connection, Engine, create_engine, delete, event, func, insert, select, text
from sqlalchemy.dialects.sqlite import insert as upsert
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.pool import QueuePool

from ripasso.core.measures import ShotColumns
from ripasso.core.measures.columns import FIELDS, Row
from ripasso.review.command import RECORDS, Change, Entry, Table
from ripasso.review.document import Derived
from ripasso.review.figures import FIGURES_VERSION
from ripasso.review.model import AttemptSet, Rack, Record, Session, Shot, dump
from ripasso.review.snapshot import Rows
from ripasso.store import measure_rows, tables
from ripasso.store.lock import WriterLock

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
_FIGURE_COLUMNS = (*FIELDS, "place", "version")


class LibraryError(RuntimeError):
    """The library cannot be used so; the message is one sentence for the user."""


@dataclass(frozen=True)
class SessionLine:
    """What a list of sessions shows of one."""

    key: str
    title: str
    date: str | None
    game: str | None
    kind: str | None
    players: tuple[str, ...]
    racks: int
    shots: int
    judged: int


class Library:
    """An open library. Build it with `open_library`; `close` it when done."""

    def __init__(self, path: Path, engine: Engine, lock: WriterLock | None, notice: str | None) -> None:
        self.path = path
        self.notice = notice
        self._engine = engine
        self._lock = lock
        self._closed = False
        # Derived rows as they are stored, by session: only one window writes, so they need no reading.
        self._figures: dict[str, dict[str, tuple[Any, ...]]] = {}

    @property
    def read_only(self) -> bool:
        """True when nothing can be written; `notice` says why."""
        return self._lock is None

    def close(self) -> None:
        """Close the file and let another window write."""
        if not self._closed:
            self._closed = True
            self._engine.dispose()
            if self._lock is not None:
                self._lock.release()

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

    def commit(self, changes: Iterable[Change], derived: Derived | None) -> None:
        """Write a command and what follows from it in one transaction, or raise and write nothing."""
        if self.read_only:
            raise LibraryError(self.notice or "The library is open for reading only.")
        try:
            with _writing(self._engine) as connection:
                for change in changes:
                    _write(connection, change)
                    if change.table == "session":
                        self._figures.pop(change.key, None)  # it may take its rows with it
                if derived is not None:
                    self._write_derived(connection, derived)
        except SQLAlchemyError as error:
            self._figures.clear()
            raise LibraryError(_sentence(error, self.path)) from error

    def _write_derived(self, connection: Connection, derived: Derived) -> None:
        """Write the derived rows that differ from what is stored."""
        figure, session = tables.shot_figure, derived.session
        stored = self._figures.get(session)
        if stored is None:
            stored = _stored_figures(connection, session)
        fresh = {row[0]: (*row, place, FIGURES_VERSION) for place, row in enumerate(derived.figures)}
        gone = [key for key in stored if key not in fresh]
        if gone:
            connection.execute(delete(figure).where(figure.c.key.in_(gone)))
        changed = [
            dict(zip(_FIGURE_COLUMNS, row, strict=True))
            for key, row in fresh.items()
            if stored.get(key) != row
        ]
        if changed:
            connection.execute(insert(figure).prefix_with("OR REPLACE"), changed)
        self._figures[session] = fresh
        _write_persons(connection, derived)

    def sessions(self) -> list[SessionLine]:
        """A line a session, the latest date first."""
        session, rack, figure = tables.session, tables.rack, tables.shot_figure
        racks = dict(self._pairs(select(rack.c.session, func.count()).group_by(rack.c.session)))
        shots = dict(self._pairs(select(figure.c.session, func.count()).group_by(figure.c.session)))
        judged = dict(
            self._pairs(select(figure.c.session, func.count()).where(_is_judged()).group_by(figure.c.session))
        )
        names = self._names_by_session()
        query = select(session.c.key, session.c.title, session.c.date, session.c.game, session.c.kind)
        with self._reading() as connection:
            found = connection.execute(query.order_by(session.c.date.desc(), session.c.title)).all()
        return [
            SessionLine(
                row.key,
                row.title,
                row.date,
                row.game,
                row.kind,
                names.get(row.key, ()),
                racks.get(row.key, 0),
                shots.get(row.key, 0),
                judged.get(row.key, 0),
            )
            for row in found
        ]

    def persons(self) -> list[tuple[str, str]]:
        """Key and name of everybody who played a session, who struck most shots first."""
        person, link, figure = tables.person, tables.session_person, tables.shot_figure
        shots = select(func.count()).where(figure.c.person == person.c.key).scalar_subquery()
        query = select(person.c.key, person.c.name).where(person.c.key.in_(select(link.c.person)))
        return self._pairs(query.order_by(shots.desc(), person.c.name))

    def columns(self, sessions: Sequence[str] | None = None) -> ShotColumns:
        """The shots of the given sessions (None: of all) as columns."""
        figure = tables.shot_figure
        query = select(*(figure.c[name] for name in FIELDS)).order_by(figure.c.session, figure.c.place)
        if sessions is not None:
            query = query.where(figure.c.session.in_(list(sessions)))
        with self._reading() as connection:
            rows = connection.execute(query).all()
        return ShotColumns.from_rows(cast(Sequence[Row], rows))

    def unmeasured(self) -> list[str]:
        """Sessions that have shots without stored measures."""
        with self._reading() as connection:
            return measure_rows.unmeasured(connection)

    def measure_stamps(self, session: str) -> dict[str, str]:
        """What the stored measures of a session were computed from, by shot."""
        with self._reading() as connection:
            return measure_rows.stamps(connection, session)

    def measures(self, session: str) -> dict[str, dict[str, Any]]:
        """The stored measures of a session, by shot."""
        with self._reading() as connection:
            return measure_rows.measures(connection, session)

    def keep_measures(self, session: str, rows: Mapping[str, tuple[str, Mapping[str, Any]]]) -> None:
        """Store measures with their stamps; a library that is only read stays as it is."""
        if self.read_only or not rows:
            return
        try:
            with _writing(self._engine) as connection:
                measure_rows.write(connection, session, rows)
        except SQLAlchemyError as error:
            raise LibraryError(_sentence(error, self.path)) from error

    def outdated(self) -> list[str]:
        """Sessions whose derived rows were computed by another version of the program."""
        figure = tables.shot_figure
        query = select(figure.c.session).where(figure.c.version != FIGURES_VERSION).distinct()
        with self._reading() as connection:
            return list(connection.execute(query).scalars())

    def _names_by_session(self) -> dict[str, tuple[str, ...]]:
        link, person = tables.session_person, tables.person
        query = (
            select(link.c.session, person.c.name)
            .join(person, person.c.key == link.c.person)
            .order_by(link.c.session, link.c.position)
        )
        names: dict[str, tuple[str, ...]] = {}
        for key, name in self._pairs(query):
            names[key] = (*names.get(key, ()), name)
        return names

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
            raise LibraryError(_sentence(error, self._path)) from error
        return self._connection

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> Literal[False]:
        self._connection.close()
        if isinstance(error, SQLAlchemyError):
            raise LibraryError(_sentence(error, self._path)) from error
        return False


def _is_judged() -> Any:
    """A shot counts as judged once its position, a decision, or an error was judged."""
    figure = tables.shot_figure
    return (
        (figure.c.position != "")
        | (figure.c.verdict != "")
        | figure.c.errors.contains(":yes")
        | figure.c.errors.contains(":no")
        | figure.c.failed
    )


def _record(table: Table, stored: str) -> Record:
    return RECORDS[table].model_validate_json(stored)


def _write(connection: Connection, change: Change) -> None:
    table = _TABLES[change.table]
    if change.after is None:
        connection.execute(delete(table).where(table.c.key == change.key))
        return
    values = _row_values(change.table, change.key, change.after)
    statement = upsert(table).values(**values)
    others = {name: value for name, value in values.items() if name != "key"}
    connection.execute(statement.on_conflict_do_update(index_elements=["key"], set_=others))


def _row_values(table: Table, key: str, entry: Entry) -> dict[str, Any]:
    record = entry.record
    stored = json.dumps(dump(record), ensure_ascii=False, separators=(",", ":"))
    values: dict[str, Any] = {"key": key, "record": stored}
    parent = _PARENT[table]
    if parent is not None:
        values |= {parent: entry.parent, "position": entry.position}
    if isinstance(record, Session):
        values |= {"title": record.title, "date": record.date, "game": record.game, "kind": record.kind}
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


def _stored_figures(connection: Connection, session: str) -> dict[str, tuple[Any, ...]]:
    figure = tables.shot_figure
    query = select(*(figure.c[name] for name in _FIGURE_COLUMNS)).where(figure.c.session == session)
    return {row[0]: tuple(row) for row in connection.execute(query)}


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


def open_library(path: Path, *, create: bool = True) -> Library:
    """Open a library, making it when it is not there; raises `LibraryError` with one sentence.

    A library another window has open, or one on a disk that takes no writing, is opened for reading only.
    """
    path = path.expanduser()
    if path.is_dir():
        raise LibraryError(f"{path.name} is a folder, not a library.")
    is_new = not path.exists() or path.stat().st_size == 0
    if is_new and not create:
        raise LibraryError(f"There is no library {path.name}.")
    if not is_new:
        _refuse_foreign(path)
    lock, notice = _writer_lock(path, is_new)
    try:
        engine = _engine(path, read_only=lock is None)
        if lock is not None:
            _bring_up_to_date(engine)
        elif _version(engine) < tables.LIBRARY_VERSION:
            raise LibraryError(f"{path.name} must be brought up to date once where it can be written.")
    except SQLAlchemyError as error:
        _release(lock)
        raise LibraryError(_sentence(error, path)) from error
    except LibraryError:
        _release(lock)
        raise
    return Library(path, engine, lock, notice)


def _release(lock: WriterLock | None) -> None:
    if lock is not None:
        lock.release()


def _writer_lock(path: Path, is_new: bool) -> tuple[WriterLock | None, str | None]:
    try:
        if is_new:
            path.parent.mkdir(parents=True, exist_ok=True)
        lock = WriterLock(path)
        if not lock.acquire():
            return None, "This library is open in another window, so here it can only be read."
    except OSError as error:
        if is_new:
            reason = error.strerror or "unknown reason"
            raise LibraryError(f"{path.name} cannot be made there: {reason}.") from error
        return None, "This library's folder cannot be written, so it can only be read."
    if not is_new and not os.access(path, os.W_OK):
        lock.release()
        return None, "This library's file is write-protected, so it can only be read."
    return lock, None


def _refuse_foreign(path: Path) -> None:
    """Tell a library from other files before anything is written to it."""
    try:
        with path.open("rb") as file:
            if file.read(16) != b"SQLite format 3\x00":
                raise LibraryError(f"{path.name} is not a Ripasso library.")
        connection = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=2)
        try:
            identity = connection.execute("PRAGMA application_id").fetchone()[0]
            version = connection.execute("PRAGMA user_version").fetchone()[0]
            has_tables = connection.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
            if identity != tables.APPLICATION_ID and has_tables:
                raise LibraryError(f"{path.name} is a database of another program, not a Ripasso library.")
            if version > tables.LIBRARY_VERSION:
                raise LibraryError(f"{path.name} was made by a newer Ripasso; this one cannot read it.")
            if connection.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
                raise LibraryError(f"{path.name} is damaged; its last backup or export is needed.")
        finally:
            connection.close()
    except OSError as error:
        raise LibraryError(f"{path.name} cannot be read: {error.strerror}.") from error
    except sqlite3.Error as error:
        raise LibraryError(_sentence(error, path)) from error


def _engine(path: Path, *, read_only: bool) -> Engine:
    uri = path.absolute().as_uri()
    target = f"{uri}?mode={'ro' if read_only else 'rwc'}"

    def connect() -> sqlite3.Connection:
        # A connection may go from the window's thread to background work, but is never in two at once.
        connection = sqlite3.connect(target, uri=True, timeout=5, check_same_thread=False)
        connection.isolation_level = None  # transactions are begun below, by name
        return connection

    engine = create_engine("sqlite://", creator=connect, poolclass=QueuePool, pool_size=4)

    @event.listens_for(engine, "connect")
    def prepare(connection: sqlite3.Connection, _record: object) -> None:
        connection.execute("PRAGMA foreign_keys = ON")
        if not read_only:
            connection.execute("PRAGMA journal_mode = WAL")
            connection.execute("PRAGMA synchronous = NORMAL")

    @event.listens_for(engine, "begin")
    def begin(connection: Connection) -> None:
        # A writer takes its lock at once, so that it cannot be overtaken between reading and writing;
        # readers never wait for it.
        writes = connection.get_execution_options().get("writes", False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine


@contextmanager
def _writing(engine: Engine) -> Iterator[Connection]:
    """One transaction that writes: all of it, or nothing."""
    with engine.connect().execution_options(writes=True) as connection, connection.begin():
        yield connection


def _version(engine: Engine) -> int:
    with engine.connect() as connection:
        return int(connection.execute(text("PRAGMA user_version")).scalar_one())


def _bring_up_to_date(engine: Engine) -> None:
    if _version(engine) >= tables.LIBRARY_VERSION:
        return
    # Alembic takes half a second to load, and only a new or an old library needs it.
    from ripasso.store.migrations import migrate

    with _writing(engine) as connection:
        migrate(connection)
        connection.execute(text(f"PRAGMA application_id = {tables.APPLICATION_ID}"))
        connection.execute(text(f"PRAGMA user_version = {tables.LIBRARY_VERSION}"))


def _sentence(error: Exception, path: Path) -> str:
    """What went wrong with the file, in one sentence."""
    words = str(getattr(error, "orig", error)).lower()
    name = path.name
    if "full" in words:
        return "The disk is full: the last change was not stored; free some space and do it again."
    if "locked" in words or "busy" in words:
        return f"{name} is locked by another program; try again when it is done."
    if "readonly" in words or "read-only" in words:
        return f"{name} is write-protected; the last change was not stored."
    if "malformed" in words or "not a database" in words or "corrupt" in words:
        return f"{name} is damaged; its last backup or export is needed."
    if "unable to open" in words:
        return f"{name} cannot be opened."
    return f"{name} cannot be used: {words}."
