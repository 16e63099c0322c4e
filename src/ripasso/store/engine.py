"""The SQLite file behind a library: connections, transactions, and one sentence for what goes wrong."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import Connection, Engine, create_engine, event, text
from sqlalchemy.pool import QueuePool


class LibraryError(RuntimeError):
    """The library cannot be used so; the message is one sentence for the user."""


def engine_for(path: Path, *, read_only: bool) -> Engine:
    """Connections to a file, for reading only or for writing too."""
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
def writing(engine: Engine) -> Iterator[Connection]:
    """One transaction that writes: all of it, or nothing."""
    with engine.connect().execution_options(writes=True) as connection, connection.begin():
        yield connection


def version_of(engine: Engine) -> int:
    """The version of a file's tables, 0 for a new one."""
    with engine.connect() as connection:
        return int(connection.execute(text("PRAGMA user_version")).scalar_one())


def sentence(error: Exception, path: Path) -> str:
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
