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

from ripasso.store.errors import DamagedLibrary, LibraryError, failure
from ripasso.store.file.connecting import FOLDER_MODE, connect, copy_library, make_private
from ripasso.store.file.header import APPLICATION_ID, LIBRARY_VERSION, TABLES
from ripasso.store.file.lock import WriterLock

#: A file up to this size is looked through before it is opened: that takes some hundredths of a second.
LARGE_BYTES = 32 * 1024 * 1024


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


def open_file(path: Path, *, create: bool = True, wait_s: float = 0.0) -> LibraryFile:
    """Take a library's file, making it when it is not there; raises `LibraryError` with one sentence.

    A library another window has open is only read, after waiting for `wait_s`; so is one on a disk that takes
    no writing.
    """
    name = path.name[:80]
    try:
        return _open(path.expanduser(), create=create, wait_s=wait_s)
    except OSError as error:
        reason = error.strerror or "unknown reason"
        raise LibraryError(f"{name} cannot be opened: {reason}.") from error
    except (ValueError, RuntimeError) as error:  # a NUL in the name, or ~ of somebody unknown
        if isinstance(error, LibraryError):
            raise
        raise LibraryError(f"“{name}” is no name of a file.".replace("\0", "?")) from error


def _open(path: Path, *, create: bool, wait_s: float) -> LibraryFile:
    if path.is_dir():
        raise LibraryError(f"{path.name} is a folder, not a library.")
    if not _is_there(path) and not create:
        raise LibraryError(f"There is no library {path.name}.")
    version = _version_of(path)
    lock, notice = _writer_lock(path, is_new=not version, wait_s=wait_s)
    file = LibraryFile(path, lock, notice)
    try:
        # Another program may have made it, or brought it up to date, while its lock was waited for.
        if version < LIBRARY_VERSION:
            version = _version_of(path)
        if version < LIBRARY_VERSION:
            _bring_up_to_date(file, version)
    except BaseException:
        file.release()
        raise
    return file


def _is_there(path: Path) -> bool:
    return path.exists() and path.stat().st_size > 0


def _bring_up_to_date(file: LibraryFile, version: int) -> None:
    path = file.path
    if file.lock is None:
        raise LibraryError(f"{path.name} must be brought up to date once where it can be written.")
    if version:
        from ripasso.store.file.backups import before_upgrade

        _keep_copy(path, before_upgrade(path, version))
    else:
        make_private(path)
    # Alembic takes half a second to load, and only a new or an old library needs it.
    from ripasso.store.migrations.migrate import bring_up_to_date

    bring_up_to_date(path)


def _writer_lock(path: Path, *, is_new: bool, wait_s: float) -> tuple[WriterLock | None, str | None]:
    try:
        if is_new:
            make_private(path)
        lock = WriterLock(path)
        if not lock.acquire(wait_s):
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
    """The version of a library, 0 for one that is not there or not made yet.

    Other files are refused before anything is written to them.
    """
    if not _is_there(path):
        return 0
    with path.open("rb") as file:
        if file.read(16) != b"SQLite format 3\x00":
            raise LibraryError(f"{path.name} is not a Ripasso library.")
    try:
        with closing(connect(path, wait_s=2)) as connection:
            return _checked_version(connection, path.name, large=is_large(path))
    except sqlite3.Error as error:
        raise failure(error, path) from error


def is_large(path: Path) -> bool:
    """Looking through the whole file would hold its opening up: `check_whole` does it while one works."""
    try:
        return path.stat().st_size > LARGE_BYTES
    except OSError:
        return False  # whoever opens it says what is wrong


def check_whole(path: Path) -> None:
    """Look through every page of a library; raises `DamagedLibrary`, or `LibraryError` when it is gone."""
    try:
        with closing(connect(path)) as connection:
            whole = connection.execute("PRAGMA quick_check(1)").fetchone()[0] == "ok"
    except (sqlite3.Error, OSError) as error:
        raise failure(error, path) from error
    if not whole:
        raise DamagedLibrary(f"{path.name} is damaged in places; Ctrl+Shift+B leads to its backups.")


def _checked_version(connection: sqlite3.Connection, name: str, *, large: bool) -> int:
    identity = connection.execute("PRAGMA application_id").fetchone()[0]
    version = int(connection.execute("PRAGMA user_version").fetchone()[0])
    held = connection.execute("SELECT type, name FROM sqlite_master").fetchall()
    if identity != APPLICATION_ID and held:
        raise LibraryError(f"{name} is a database of another program, not a Ripasso library.")
    if version > LIBRARY_VERSION:
        raise LibraryError(f"{name} was made by a newer Ripasso; this one cannot read it.")
    for kind, called in held:
        # A trigger would do things that nobody asked for whenever the library is written.
        if kind in ("trigger", "view") or (kind == "table" and called not in TABLES):
            raise LibraryError(f"{name} holds a {kind} that no Ripasso made, so it is not opened.")
    if not large and connection.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
        raise DamagedLibrary(f"{name} is damaged; a backup of it or what can be read of it is needed.")
    if version < 0 or (held and not version):
        raise DamagedLibrary(f"{name} is damaged; a backup of it or what can be read of it is needed.")
    return version


def _keep_copy(path: Path, copy: Path) -> None:
    """An older library as it was, among its backups; without one it is not touched."""
    try:
        copy.parent.mkdir(exist_ok=True, mode=FOLDER_MODE)
        with closing(connect(path)) as source:
            copy_library(source, copy)
    except (OSError, sqlite3.Error) as error:
        raise LibraryError(f"{path.name} is older, and no copy of it can be kept there: {error}.") from error
