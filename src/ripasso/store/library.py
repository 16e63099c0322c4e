"""The library: every session in one SQLite file, one transaction a command."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

from sqlalchemy import Connection, Engine, func, select, text, update
from sqlalchemy.exc import SQLAlchemyError

from ripasso.core.figures.rack_results import RackResult
from ripasso.core.figures.schema import Row
from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.review.document.command import Change, Table
from ripasso.review.document.document import Derived
from ripasso.review.document.snapshot import Rows
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.report import Report
from ripasso.store.errors import LibraryError, MovedLibrary, failure
from ripasso.store.file.engine import engine_for, writing
from ripasso.store.held_file import HeldFile
from ripasso.store.opening import LibraryFile, open_file
from ripasso.store.rows import (
    attempt_rows,
    column_rows,
    drafts,
    figure_rows,
    measure_rows,
    record_rows,
    tables,
)
from ripasso.store.rows.attempt_rows import StoredAttempts
from ripasso.store.session_list import SessionLine, session_lines


@dataclass(frozen=True)
class SessionHead:
    """What statistics and a search ask of a session; `table` and `state` as its record states them."""

    key: str
    title: str
    date: str
    game: str
    kind: str
    table: JsonObject | None
    state: JsonObject | None = None


def open_library(path: Path, *, create: bool = True, wait_s: float = 0.0) -> Library:
    """Open a library, making it when it is not there; raises `LibraryError` with one sentence."""
    return Library(open_file(path, create=create, wait_s=wait_s))


@dataclass(frozen=True)
class SessionFilm:
    """A film of a session: where it was, and the hash that tells it anywhere; None where not known."""

    session: str
    file: str | None
    hash: str | None


class Library:
    """An open library. Build it with `open_library`; `close` it when done."""

    def __init__(self, file: LibraryFile) -> None:
        self.path = file.path
        self.notice = file.notice
        self._file = file
        self._engine = engine_for(file.path, read_only=file.lock is None)
        self._closed = False
        #: Told of damaged records.
        self.on_damage: Callable[[str], None] = lambda _sentence: None
        #: Asked where the library shall be kept when it is not at its place any more.
        self.ask_place: Callable[[str], Path | None] = lambda _sentence: None
        self._told: set[str] = set()
        self._held = HeldFile(file) if file.lock is not None else None
        # What is stored beside each session: only one window writes, so it needs no reading.
        self._stored: dict[str, Derived] = {}
        self._changes: dict[str, int] = {}
        self._writes = 0
        # What statistics ask of the sessions, and how much had been written then.
        self._heads: tuple[int, list[SessionHead]] | None = None

    @property
    def read_only(self) -> bool:
        """True when nothing can be written; `notice` says why."""
        return self._file.lock is None

    def close(self) -> None:
        """Close the file and let another window write."""
        if not self._closed:
            self._closed = True
            if self._held is not None:
                self._held.close()
            self._engine.dispose()
            self._file.release()

    def load(self, session: str) -> Rows:
        """All rows of a session by table and key; empty when there is none.

        A damaged record is left out, and `on_damage` is told so once a session.
        """
        with self._reading() as connection:
            found = record_rows.load(connection, session)
        if found.damaged and session not in self._told:
            self._told.add(session)
            self.on_damage(_damage_words(session, found.damaged))
        return found.rows

    def keys(self) -> set[str]:
        """The keys of all sessions."""
        with self._reading() as connection:
            return set(connection.execute(select(tables.session.c.key)).scalars())

    def commit(self, changes: Iterable[Change], derived: Derived | None) -> None:
        """Write a command and what follows from it in one transaction, or raise and write nothing."""
        if self.read_only:
            raise LibraryError(self.notice or "The library is open for reading only.")
        self._be_at_its_place()
        try:
            with self._writing() as connection:
                for change in changes:
                    record_rows.write(connection, change)
                    if change.table == "session":
                        self._changed(connection, change.key)
                        if change.after is None:
                            self._stored.pop(change.key, None)  # its rows went with it
                if derived is not None:
                    self._write_derived(connection, derived)
        except LibraryError:
            self._stored.clear()
            raise

    def _be_at_its_place(self) -> None:
        """Before something is written: a library that was taken away is kept elsewhere, or nothing is."""
        if self._held is None or self._held.is_at_its_place:
            return
        text = f"{self.path.name} is not at its place any more"
        place = self.ask_place(text)
        if place is None:
            raise MovedLibrary(f"{text}; the last change was not stored.")
        self.keep_at(place)

    def keep_at(self, place: Path) -> None:
        """Copy the library to another place and work there from now on; raises `LibraryError`."""
        if self._held is None:
            raise LibraryError(f"{self.path.name} is only read here.")
        moved = self._held.copied(place)
        self._held.close()
        self._engine.dispose()
        self._file.release()
        self._file, self.path, self._held = moved.file, place, moved
        self._engine = engine_for(place, read_only=False)
        self._writes += 1

    def keep_draft(self, session: str, place: str, text: str) -> None:
        """Store what is being typed at a place of a session, until `forget_draft`; raises `LibraryError`."""
        if self._held is not None and self._held.is_at_its_place:
            with self._writing() as connection:
                drafts.keep(connection, session, place, text)

    def forget_draft(self, place: str) -> None:
        """What was typed at a place is kept elsewhere, or left; raises `LibraryError`."""
        if self._held is not None and self._held.is_at_its_place:
            with self._writing() as connection:
                drafts.forget(connection, place)

    def drafts(self, session: str) -> dict[str, str]:
        """What was being typed in a session when the program ended, by place."""
        with self._reading() as connection:
            return drafts.of_session(connection, session)

    @contextmanager
    def _writing(self) -> Iterator[Connection]:
        """One transaction that writes, whose errors are sentences."""
        try:
            with writing(self._engine) as connection:
                yield connection
        except SQLAlchemyError as error:
            raise failure(error, self.path) from error
        finally:
            self._writes += 1

    def _write_derived(self, connection: Connection, derived: Derived) -> None:
        """Write the derived rows that differ from what is stored, rack by rack."""
        stored = self._stored.get(derived.session)
        if stored is None:
            before = figure_rows.stored(connection, derived.session)
            after = figure_rows.placed(derived, enumerate(derived.racks))
        else:
            before, after = figure_rows.changed_racks(stored, derived)
        figure_rows.replace(connection, before, after)
        if stored is None or stored.persons != derived.persons:
            figure_rows.write_persons(connection, derived)
        figure_rows.write_counts(connection, derived)
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

    def shots(self) -> int:
        """How many shots there are in all sessions."""
        with self._reading() as connection:
            return connection.execute(select(func.count()).select_from(tables.shot_figure)).scalar_one()

    def heads(self) -> list[SessionHead]:
        """What statistics ask of every session, by key."""
        writes = self._writes
        # What is only read here may be written elsewhere.
        if self._heads is None or self._heads[0] != writes or self.read_only:
            session = tables.session
            names = ("key", "title", "date", "game", "kind", "record")
            query = select(*(session.c[name] for name in names)).order_by(session.c.key)
            with self._reading() as connection:
                found = connection.execute(query).all()
            heads = [
                SessionHead(key, title, date or "", game or "", kind or "", *_stated(record))
                for key, title, date, game, kind, record in found
            ]
            self._heads = writes, heads
        return self._heads[1]

    def films(self) -> list[SessionFilm]:
        """The films of all sessions, each session's in its order."""
        query = text(
            "SELECT session.key, json_extract(film.value, '$.file'), "
            "json_extract(film.value, '$.fingerprint.hash') FROM session, "
            "json_each(session.record, '$.recordings') AS film ORDER BY session.key, film.key"
        )
        with self._reading() as connection:
            return [SessionFilm(*found) for found in connection.execute(query)]

    def layouts(self) -> list[tuple[str, KeptLayout]]:
        """The kept layouts with their keys, by title."""
        with self._reading() as connection:
            return record_rows.layouts(connection)

    def reports(self) -> list[tuple[str, Report]]:
        """The reports with their keys, by title."""
        with self._reading() as connection:
            return record_rows.reports(connection)

    def played_from(self, layouts: Sequence[str]) -> list[tuple[str, Table, str]]:
        """Session, table and key of the racks and sets of attempts that began from kept layouts."""
        with self._reading() as connection:
            return record_rows.played_from(connection, layouts)

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

    def course(self, session: str) -> list[RackResult]:
        """What came of the racks of a session; raises ValueError or TypeError where that is damaged."""
        with self._reading() as connection:
            return figure_rows.course(connection, session)

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
        with self._writing() as connection:
            fresh = {key: data for key, (count, data) in columns.items() if count == self.changes(key)}
            column_rows.write(connection, fresh)

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
        with self._writing() as connection:
            measure_rows.write(connection, session, rows)
            self._changed(connection, session)

    def outdated(self, version: int) -> list[str]:
        """Sessions whose derived rows were computed by another version of the program."""
        figure = tables.shot_figure
        head, shots = tables.session, select(func.count()).where(figure.c.session == tables.session.c.key)
        old = select(figure.c.session).where(figure.c.version != version)
        # Racks without a shot have no rows that could be old.
        bare = select(head.c.key).where(head.c.racks > 0, head.c.course == "[]", shots.scalar_subquery() == 0)
        query = old.union(bare)
        with self._reading() as connection:
            return list(connection.execute(query).scalars())

    def set_figures_aside(self, session: str) -> None:
        """The derived rows of a session are damaged: they count for nothing until they are derived anew."""
        self.on_damage("Figures of a session are damaged and left out until the library is opened again.")
        if self._held is not None:
            figure = tables.shot_figure
            with suppress(LibraryError), self._writing() as connection:
                connection.execute(update(figure).where(figure.c.session == session).values(version=0))

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
            raise failure(error, self._path) from error
        return self._connection

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> Literal[False]:
        self._connection.close()
        if isinstance(error, SQLAlchemyError):
            raise failure(error, self._path) from error
        return False


def _damage_words(session: str, damaged: Mapping[Table, int]) -> str:
    """What is left out of a session, in one sentence."""
    if "session" in damaged:
        return f"The session {session} is damaged and cannot be opened; a backup may hold it whole."
    parts = ", ".join(f"{many} × {name.replace('_', ' ')}" for name, many in damaged.items())
    return f"Damaged and left out of the session: {parts}; a backup may hold them whole."


def _stated(stored: str) -> tuple[JsonObject | None, JsonObject | None]:
    """The table that a session's record states, and its state; nothing in a record that is damaged."""
    try:
        record = json.loads(stored)
        found = [record.get(name) for name in ("table", "table_state")]
    except (ValueError, AttributeError, RecursionError):
        return None, None
    table, state = (one if isinstance(one, dict) else None for one in found)
    return table, state
