"""Plain connections to the file of a library, and copies of it."""

from __future__ import annotations

import os
import sqlite3
from contextlib import closing, suppress
from pathlib import Path

#: A library belongs to its user.
FILE_MODE, FOLDER_MODE = 0o600, 0o700
WAIT_S = 5.0


def connect(path: Path, *, write: bool = False, wait_s: float = WAIT_S) -> sqlite3.Connection:
    """A connection to a file that is there; it may go from one thread to another, never be in two at once.

    On a medium that takes no writing the file is read as it lies there. Raises `sqlite3.Error`.
    """
    options = "mode=rw" if write else "mode=ro"
    if not write and lies_still(path):
        options += "&immutable=1"
    connection = sqlite3.connect(
        f"{path.absolute().as_uri()}?{options}", uri=True, timeout=wait_s, check_same_thread=False
    )
    try:
        # What a schema could make SQLite do besides reading and writing is none of ours.
        connection.execute("PRAGMA trusted_schema = OFF")
    except sqlite3.Error:
        connection.close()
        raise
    return connection


def lies_still(path: Path) -> bool:
    """Nobody can change the file: its folder takes no files, and no change waits beside it."""
    log = path.with_name(f"{path.name}-wal")
    waits = log.exists() and log.stat().st_size > 0
    return not os.access(path.parent, os.W_OK) and not waits


def make_private(path: Path) -> None:
    """Make an empty file that only its user can read, and the folders above it."""
    path.parent.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    os.close(os.open(path, os.O_RDWR | os.O_CREAT, FILE_MODE))


def copy_library(source: sqlite3.Connection, target: Path) -> None:
    """Copy a library whole, or leave what stood at `target`. Raises OSError or `sqlite3.Error`.

    SQLite's own interface copies: what another window writes meanwhile is in it whole or not at all.
    """
    fresh = target.with_name(f".{target.name}.part")
    try:
        fresh.unlink(missing_ok=True)
        make_private(fresh)
        with closing(sqlite3.connect(fresh)) as copy:
            source.backup(copy)
            copy.execute("PRAGMA journal_mode = DELETE")  # one file, wherever it is taken
            if copy.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
                raise sqlite3.DatabaseError("the copy is malformed")
        _to_disk(fresh)
        for tail in ("-wal", "-shm"):
            # The log of a library that stood there before belongs to that one.
            target.with_name(target.name + tail).unlink(missing_ok=True)
        fresh.replace(target)
        _to_disk(target.parent)
    finally:
        with suppress(OSError):
            fresh.unlink(missing_ok=True)


def _to_disk(path: Path) -> None:
    descriptor = os.open(path, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)
