"""Opens a library: every kind of wrong file is answered with one sentence, or opened for reading only.

An older library is brought up to date, a copy of it kept beside it first.
"""

from __future__ import annotations

import os
import sqlite3
from pathlib import Path

from sqlalchemy import Engine, text
from sqlalchemy.exc import SQLAlchemyError

from ripasso.store import tables
from ripasso.store.engine import LibraryError, engine_for, sentence, version_of, writing
from ripasso.store.library import Library
from ripasso.store.lock import WriterLock


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
        engine = engine_for(path, read_only=lock is None)
        if lock is not None:
            _bring_up_to_date(engine, path)
        elif version_of(engine) < tables.LIBRARY_VERSION:
            raise LibraryError(f"{path.name} must be brought up to date once where it can be written.")
    except SQLAlchemyError as error:
        _release(lock)
        raise LibraryError(sentence(error, path)) from error
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
        raise LibraryError(sentence(error, path)) from error


def _bring_up_to_date(engine: Engine, path: Path) -> None:
    version = version_of(engine)
    if version >= tables.LIBRARY_VERSION:
        return
    if version:
        _keep_copy(path, version)
    # Alembic takes half a second to load, and only a new or an old library needs it.
    from ripasso.store.migrations import migrate

    with writing(engine) as connection:
        migrate(connection)
        connection.execute(text(f"PRAGMA application_id = {tables.APPLICATION_ID}"))
        connection.execute(text(f"PRAGMA user_version = {tables.LIBRARY_VERSION}"))


def _keep_copy(path: Path, version: int) -> None:
    """An older library as it was, beside it; without one it is not touched."""
    copy = path.with_name(f"{path.name}.version-{version}")
    try:
        copy.unlink(missing_ok=True)
        source, target = sqlite3.connect(path), sqlite3.connect(copy)
        try:
            source.backup(target)
        finally:
            source.close()
            target.close()
    except (OSError, sqlite3.Error) as error:
        raise LibraryError(f"{path.name} is older, and no copy of it can be kept there: {error}.") from error
