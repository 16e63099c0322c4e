"""A change of the document: a labelled list of rows before and after.

The same list is the transaction, the undo and the notice to the window.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.model import Rack, Session, Shot
from ripasso.review.record.parts import Record
from ripasso.review.record.practice import AttemptSet
from ripasso.review.record.report import Report

Table = Literal["session", "rack", "shot", "attempt_set", "layout", "report"]
#: The session of a command on what belongs to the library itself: its kept layouts and reports.
LIBRARY = ""
#: Parents come before their children, so that rows can be written in this order.
TABLES: tuple[Table, ...] = ("session", "rack", "shot", "attempt_set", "layout", "report")
RECORDS: dict[Table, type[Record]] = {
    "session": Session,
    "rack": Rack,
    "shot": Shot,
    "attempt_set": AttemptSet,
    "layout": KeptLayout,
    "report": Report,
}


@dataclass(frozen=True, slots=True)
class Entry:
    """A row: its record without children, the key of its parent, and its place among its siblings.

    A rack's record keeps an empty `shots` when that key was set in its file, none when it was missing;
    so do a session's `racks` and `attempt_sets`.
    """

    record: Record
    parent: str | None
    position: int


@dataclass(frozen=True, slots=True)
class Change:
    """One row before and after; None where it does not exist."""

    table: Table
    key: str
    before: Entry | None
    after: Entry | None

    def reversed(self) -> Change:
        """The change that takes this one back."""
        return replace(self, before=self.after, after=self.before)


@dataclass(frozen=True, slots=True)
class Command:
    """What one step of work changes; `session` names the session it belongs to."""

    label: str
    session: str
    changes: tuple[Change, ...]

    def reversed(self) -> Command:
        """The exact inverse, rows in the opposite order."""
        return replace(self, changes=tuple(c.reversed() for c in reversed(self.changes)))

    @property
    def empty(self) -> bool:
        """True when every row stays as it is."""
        return all(change.before == change.after for change in self.changes)


def joined(label: str, commands: Sequence[Command]) -> Command:
    """Several commands on one session as a single step of undo."""
    changes = tuple(change for command in commands for change in command.changes)
    return Command(label, commands[0].session, changes)
