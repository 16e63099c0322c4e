"""The file of a library, held open: it can still be copied when it is taken from its place."""

from __future__ import annotations

import sqlite3
from pathlib import Path

from ripasso.store.errors import LibraryError, failure
from ripasso.store.file.connecting import connect, copy_library
from ripasso.store.file.lock import WriterLock
from ripasso.store.opening import LibraryFile


class HeldFile:
    """A connection that stays open, and what tells the file from another at its place.

    Raises `LibraryError` when the file cannot be held.
    """

    def __init__(self, file: LibraryFile) -> None:
        self.file = file
        try:
            self._connection = connect(file.path, write=True)
            # Only a first question opens the file and the log beside it.
            self._connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
            self._identity = _identity(file.path)
        except (sqlite3.Error, OSError) as error:
            file.release()
            raise failure(error, file.path) from error

    def close(self) -> None:
        """Let the file go."""
        self._connection.close()

    @property
    def is_at_its_place(self) -> bool:
        """The file still stands where it was opened."""
        try:
            return _identity(self.file.path) == self._identity
        except OSError:
            return False

    def copied(self, place: Path) -> HeldFile:
        """A copy of the library at another place, held and locked; raises `LibraryError`."""
        if place == self.file.path:
            self.file.release()  # what it guarded is not there any more
        lock = WriterLock(place)
        try:
            if not lock.acquire():
                raise LibraryError(f"{place.name} is open in another window.")
            copy_library(self._connection, place)
        except (OSError, sqlite3.Error) as error:
            lock.release()
            raise failure(error, place) from error
        return HeldFile(LibraryFile(place, lock, None))


def _identity(path: Path) -> tuple[int, int]:
    found = path.stat()
    return found.st_dev, found.st_ino
