"""Dated copies of a library beside it: of seven days, of four weeks, and of the version before an upgrade."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Iterable
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from ripasso.store.errors import LibraryError, failure
from ripasso.store.file.connecting import FOLDER_MODE, connect, copy_library

DAYS, WEEKS = 7, 4
_DATED = re.compile(r"^(\d{4}-\d\d-\d\d)\.ripasso$")


@dataclass(frozen=True)
class Backup:
    """A copy of a library, of a day."""

    path: Path
    day: date


def folder_of(library: Path) -> Path:
    """Where the backups of a library lie."""
    return library.with_name(f"{library.name}.backups")


def before_upgrade(library: Path, version: int) -> Path:
    """Where a library of an older version is kept."""
    return folder_of(library) / f"version-{version}.ripasso"


def backups_of(library: Path) -> list[Backup]:
    """The dated backups of a library, the latest first."""
    found = []
    with suppress(OSError):
        for path in folder_of(library).iterdir():
            match = _DATED.match(path.name)
            with suppress(ValueError):
                if match and path.is_file():
                    found.append(Backup(path, date.fromisoformat(match[1])))
    return sorted(found, key=lambda backup: backup.day, reverse=True)


def back_up(library: Path, today: date) -> Backup | None:
    """Keep a copy of today; None when there is one already. Raises `LibraryError`.

    Copies that are not of the last seven days that have one, nor the first of one of the last four weeks, go.
    """
    target = folder_of(library) / f"{today.isoformat()}.ripasso"
    if target.exists():
        return None
    try:
        folder_of(library).mkdir(exist_ok=True, mode=FOLDER_MODE)
        with closing(connect(library)) as source:
            copy_library(source, target)
    except sqlite3.Error as error:
        raise failure(error, library) from error
    except OSError as error:
        reason = error.strerror or "unknown reason"
        raise LibraryError(f"Today's backup of {library.name} cannot be written: {reason}.") from error
    made = Backup(target, today)
    for old in superfluous(backups_of(library), made):
        with suppress(OSError):
            old.path.unlink()
    return made


def superfluous(backups: Iterable[Backup], made: Backup) -> list[Backup]:
    """The backups that are not kept beside the one made now; a clock that was set back takes none away."""
    ordered = sorted(backups, key=lambda backup: backup.day, reverse=True)
    kept = {made, *(backup for backup in ordered if backup.day > made.day)}
    past = [backup for backup in ordered if backup.day <= made.day]
    kept.update(past[:DAYS])
    by_week: dict[tuple[int, int], Backup] = {}
    for backup in past:
        by_week[backup.day.isocalendar()[:2]] = backup  # the earliest of a week stays to its end
    kept.update([by_week[week] for week in sorted(by_week, reverse=True)][:WEEKS])
    return [backup for backup in ordered if backup not in kept]


def restore(library: Path, backup: Path, today: date) -> Path:
    """Put a backup in the place of a library that nobody has open; returns where the old one is kept now.

    Raises `LibraryError`; then the library is as it was.
    """
    aside = free_name(library, f"before-restore-{today.isoformat()}")
    try:
        if library.exists():
            move_library(library, aside)
        try:
            with closing(connect(backup)) as source:
                copy_library(source, library)
        except (OSError, sqlite3.Error):
            if aside.exists():
                move_library(aside, library)
            raise
    except sqlite3.Error as error:
        raise failure(error, backup) from error
    except OSError as error:
        raise LibraryError(f"{backup.name} cannot be restored: {error.strerror or error}.") from error
    return aside


def free_name(library: Path, what: str) -> Path:
    """A name beside a library that no file has."""
    for number in range(1, 1000):
        tail = "" if number == 1 else f"-{number}"
        path = folder_of(library).with_name(f"{library.stem}.{what}{tail}.ripasso")
        if not path.exists():
            return path
    raise LibraryError(f"There are too many copies beside {library.name}.")


def move_library(source: Path, target: Path) -> None:
    """Move a library with what waits beside it to be taken in; raises OSError."""
    for tail in ("-wal", "-shm"):
        beside = source.with_name(source.name + tail)
        if beside.exists():
            beside.replace(target.with_name(target.name + tail))
    source.replace(target)
