"""Takes what can be read out of a damaged library into a new one; the damaged file is kept aside."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from pydantic import ValidationError

from ripasso.review.document.command import RECORDS, Entry, Table
from ripasso.review.document.document import Derive, Document
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.store.errors import LibraryError, failure
from ripasso.store.file.backups import free_name, move_library
from ripasso.store.file.connecting import connect
from ripasso.store.library import open_library

#: The tables that hold records, each with the column that names the parent.
_RECORDS: tuple[tuple[Table, str | None], ...] = (
    *(("session", None), ("rack", "session")),
    *(("shot", "rack"), ("attempt_set", "session")),
)


@dataclass(frozen=True)
class Recovered:
    """Where the damaged file is now, how many sessions were saved, and how many records were lost."""

    aside: Path
    sessions: int
    lost: int

    def __str__(self) -> str:
        lost = f"{self.lost} damaged records are left out" if self.lost else "nothing is left out"
        return f"{self.sessions} sessions were saved, {lost}; the damaged file is kept as {self.aside.name}."


def recover(path: Path, today: date, derive: Derive) -> Recovered:
    """Put what can be read of a library into a new one at its place. Raises `LibraryError`.

    Nobody may have the library open. When nothing can be read, everything stays where it is.
    """
    fresh = free_name(path, "recovered")
    try:
        with closing(connect(path)) as damaged:
            reader = _Reader(damaged)
            reader.read()
    except (sqlite3.Error, OSError) as error:
        raise failure(error, path) from error
    sessions = list(reader.sessions())
    if not sessions:
        raise LibraryError(f"Nothing of {path.name} can be read any more; a backup of it is needed.")
    library = open_library(fresh)
    try:
        document = Document(library, derive)
        for snapshot in sessions:
            document.run(add_session(snapshot.session))
    finally:
        library.close()
    aside = free_name(path, f"damaged-{today.isoformat()}")
    try:
        move_library(path, aside)
        move_library(fresh, path)
    except OSError as error:
        if aside.exists() and not path.exists():
            aside.replace(path)
        raise LibraryError(f"{path.name} cannot be replaced: {error.strerror}.") from error
    return Recovered(aside, len(sessions), reader.lost)


class _Reader:
    """Collects every record that can be read."""

    def __init__(self, damaged: sqlite3.Connection) -> None:
        self._damaged = damaged
        damaged.text_factory = bytes  # what is no text must not end the reading
        self._rows: dict[tuple[Table, str], Entry] = {}
        self.lost = 0

    def read(self) -> None:
        for name, parent in _RECORDS:
            for row in self._stored(name, parent):
                self._take(name, row)

    def sessions(self) -> Iterator[Snapshot]:
        """The sessions with all that was saved of them."""
        children: dict[str, dict[tuple[Table, str], Entry]] = {
            key: {("session", key): entry} for (name, key), entry in self._rows.items() if name == "session"
        }
        session_of: dict[str, str] = {}
        for (name, key), entry in self._rows.items():
            if name in ("rack", "attempt_set") and entry.parent in children:
                children[entry.parent][name, key] = entry
                session_of[key] = entry.parent
        for (name, key), entry in self._rows.items():
            if name == "shot" and entry.parent in session_of:
                children[session_of[entry.parent]][name, key] = entry
        for key, rows in children.items():
            yield Snapshot(key, rows)

    def _stored(self, name: Table, parent: str | None) -> Iterator[tuple[object, ...]]:
        """The rows of a table: up to the damage, and from its end back to it."""
        what = f"SELECT rowid, key, {parent or 'NULL'}, {'position' if parent else '0'}, record FROM {name}"
        seen: set[object] = set()
        for order in ("ASC", "DESC"):
            try:
                for row in self._damaged.execute(f"{what} ORDER BY rowid {order}"):
                    if row[0] in seen:
                        return  # both ways have met: nothing lies between
                    seen.add(row[0])
                    yield row[1:]
            except (sqlite3.Error, ValueError):
                self.lost += 1
                continue

    def _take(self, name: Table, row: tuple[object, ...]) -> None:
        try:
            key, parent, place, stored = (_text(value) for value in row)
            record = RECORDS[name].model_validate_json(stored)
            self._rows[name, key] = Entry(record, parent or None, int(place or 0))
        except (ValidationError, ValueError):
            self.lost += 1


def _text(value: object) -> str:
    if isinstance(value, bytes):
        return value.decode("utf-8")
    return "" if value is None else str(value)
