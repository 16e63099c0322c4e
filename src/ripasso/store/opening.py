"""Opens the file of a library: every kind of wrong file is answered with one sentence, or only read.

An older library is brought up to date, a copy of it kept beside it first. Nothing is loaded for that which a
library that is up to date does not need.
"""

from __future__ import annotations

import os
import sqlite3
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from ripasso.store.errors import LibraryError, sentence
from ripasso.store.header import APPLICATION_ID, LIBRARY_VERSION
from ripasso.store.lock import WriterLock


@dataclass(frozen=True)
class LibraryFile:
    """The file of a library that is up to date, with the writer's lock; None where it is only read."""

    path: Path
    lock: WriterLock | None
    notice: str | None

    def release(self) -> None:
        """Let another window write."""
        if self.lock is not None:
            self.lock.release()


def open_file(path: Path, *, create: bool = True) -> LibraryFile:
    """Take a library's file, making it when it is not there; raises `LibraryError` with one sentence.

    A library another window has open, or one on a disk that takes no writing, is only read.
    """
    path = path.expanduser()
    if path.is_dir():
        raise LibraryError(f"{path.name} is a folder, not a library.")
    is_new = not path.exists() or path.stat().st_size == 0
    if is_new and not create:
        raise LibraryError(f"There is no library {path.name}.")
    version = 0 if is_new else _version_of(path)
    lock, notice = _writer_lock(path, is_new)
    file = LibraryFile(path, lock, notice)
    if version < LIBRARY_VERSION:
        try:
            if lock is None:
                raise LibraryError(f"{path.name} must be brought up to date once where it can be written.")
            if version:
                _keep_copy(path, version)
            # Alembic takes half a second to load, and only a new or an old library needs it.
            from ripasso.store.migrations.migrate import bring_up_to_date

            bring_up_to_date(path)
        except LibraryError:
            file.release()
            raise
    return file


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


def _version_of(path: Path) -> int:
    """The version of a library; other files are refused before anything is written to them."""
    try:
        with path.open("rb") as file:
            if file.read(16) != b"SQLite format 3\x00":
                raise LibraryError(f"{path.name} is not a Ripasso library.")
        uri = f"{path.absolute().as_uri()}?mode=ro"
        with closing(sqlite3.connect(uri, uri=True, timeout=2)) as connection:
            identity = connection.execute("PRAGMA application_id").fetchone()[0]
            version = int(connection.execute("PRAGMA user_version").fetchone()[0])
            has_tables = connection.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
            if identity != APPLICATION_ID and has_tables:
                raise LibraryError(f"{path.name} is a database of another program, not a Ripasso library.")
            if version > LIBRARY_VERSION:
                raise LibraryError(f"{path.name} was made by a newer Ripasso; this one cannot read it.")
            if connection.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
                raise LibraryError(f"{path.name} is damaged; its last backup or export is needed.")
    except OSError as error:
        raise LibraryError(f"{path.name} cannot be read: {error.strerror}.") from error
    except sqlite3.Error as error:
        raise LibraryError(sentence(error, path)) from error
    return version


def _keep_copy(path: Path, version: int) -> None:
    """An older library as it was, beside it; without one it is not touched."""
    copy = path.with_name(f"{path.name}.version-{version}")
    try:
        copy.unlink(missing_ok=True)
        with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(copy)) as target:
            source.backup(target)
    except (OSError, sqlite3.Error) as error:
        raise LibraryError(f"{path.name} is older, and no copy of it can be kept there: {error}.") from error
