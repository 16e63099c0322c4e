"""The SQLite file behind a library: connections and transactions."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.pool import QueuePool

from ripasso.store.file.connecting import connect


def engine_for(path: Path, *, read_only: bool) -> Engine:
    """Connections to a file, for reading only or for writing too."""

    def opened() -> sqlite3.Connection:
        connection = connect(path, write=not read_only)
        connection.isolation_level = None  # transactions are begun below, by name
        return connection

    engine = create_engine("sqlite://", creator=opened, poolclass=QueuePool, pool_size=4)

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
