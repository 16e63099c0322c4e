"""The document: sessions of one library in memory, changed only by commands, with exact undo at any depth.

A command is stored in one transaction first; only then does the memory follow and the change is
announced, once. A command that cannot be stored leaves everything as it was.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal, Protocol

from ripasso.core.figures.rack_results import RackResult
from ripasso.core.figures.schema import Row
from ripasso.review.document.command import LIBRARY, Change, Command
from ripasso.review.document.signal import Signal
from ripasso.review.document.snapshot import Rows, Snapshot

#: So many sessions are kept in memory; one that is asked for again later is read again.
OPEN_SESSIONS = 24
Cause = Literal["done", "undone", "redone"]


@dataclass(frozen=True, eq=False)
class RackRows:
    """The derived rows of one rack, in the order of its shots, and what came of it (None: not judged).

    `given` is what they were computed from; while it stays, the same object is handed on.
    """

    rack: str
    given: tuple[object, ...]
    rows: Sequence[Row]
    judged: int  # how many of the shots somebody judged
    result: RackResult | None = None


@dataclass(frozen=True)
class Derived:
    """What follows from a session's record, stored beside it: shot rows by rack and its people's names."""

    session: str
    racks: tuple[RackRows, ...]
    persons: Mapping[str, str]
    version: int

    @property
    def rows(self) -> list[Row]:
        """The rows of all shots in order."""
        return [row for rack in self.racks for row in rack.rows]


#: What gives the rows that are stored beside a session; what it gave before spares it the racks that stayed.
Derive = Callable[[Snapshot, Derived | None], Derived]


class Storage(Protocol):
    """Where the rows are kept."""

    @property
    def read_only(self) -> bool:
        """True when nothing can be written."""
        ...

    def load(self, session: str) -> Rows:
        """All rows of a session, empty when there is none."""
        ...

    def keys(self) -> set[str]:
        """The keys of all sessions."""
        ...

    def commit(self, changes: Iterable[Change], derived: Derived | None) -> None:
        """Write everything in one transaction, or raise and leave all as it was."""
        ...


class ReadOnly(RuntimeError):
    """The document cannot be changed; the message is one sentence for the user."""


@dataclass(frozen=True)
class Step:
    """A command of the history, when it was done, and whether it holds or was undone."""

    command: Command
    at: datetime
    holds: bool = True


@dataclass(frozen=True)
class Changed:
    """The notice: what was changed, and whether it was done, undone or redone."""

    command: Command
    cause: Cause


class Document:
    """Sessions, their changes and the history of a window. Connect to `changed` for every change."""

    def __init__(self, storage: Storage, derive: Derive) -> None:
        self._storage, self._derive = storage, derive
        self._open: dict[str, Snapshot] = {}
        self._derived: dict[str, Derived] = {}
        self._done: list[Step] = []
        self._undone: list[Step] = []
        self.changed: Signal[Changed] = Signal()

    @property
    def read_only(self) -> bool:
        """True when commands are refused."""
        return self._storage.read_only

    def session(self, key: str) -> Snapshot | None:
        """A session as it stands now, None when there is none with this key."""
        found = self._open.pop(key, None)
        if found is None:
            rows = self._storage.load(key)
            if not rows:
                return None
            found = Snapshot(key, rows)
        self._keep_open(key, found)
        return found

    def keys(self) -> set[str]:
        """The keys of all sessions; none of them is loaded."""
        return self._storage.keys()

    def known(self, key: str) -> Snapshot | None:
        """A session as it stands now when it is in memory; nothing is loaded."""
        return self._open.get(key)

    def run(self, command: Command) -> bool:
        """Do a command; False when it changes nothing. Raises `ReadOnly` or the storage's error."""
        if command.empty:
            return False
        self._apply(command, "done")
        self._done.append(Step(command, datetime.now()))
        self._undone.clear()
        return True

    @property
    def history(self) -> tuple[Step, ...]:
        """Every command of this window in order; those that were undone stand last."""
        return (*self._done, *(replace(step, holds=False) for step in reversed(self._undone)))

    def go_to(self, steps: int) -> None:
        """Undo or redo until so many commands of the history hold; raises what these do."""
        while len(self._done) > max(0, steps):
            self.undo()
        while len(self._done) < steps and self._undone:
            self.redo()

    @property
    def undo_label(self) -> str | None:
        """What undo would take back."""
        return self._done[-1].command.label if self._done else None

    @property
    def redo_label(self) -> str | None:
        """What redo would redo."""
        return self._undone[-1].command.label if self._undone else None

    @property
    def last_command(self) -> Command | None:
        """The command that undo would take back."""
        return self._done[-1].command if self._done else None

    def undo(self) -> Command | None:
        """Take the last command back; None when there is none."""
        if not self._done:
            return None
        command = self._done[-1].command
        self._apply(command.reversed(), "undone")
        self._undone.append(self._done.pop())
        return command

    def redo(self) -> Command | None:
        """Do the command again that was undone last; None when there is none."""
        if not self._undone:
            return None
        command = self._undone[-1].command
        self._apply(command, "redone")
        self._done.append(self._undone.pop())
        return command

    def renew(self, session: str) -> None:
        """Compute anew what follows from a session's record, as after an update of the program."""
        snapshot = self.session(session)
        if snapshot is not None and not self.read_only:
            self._commit((), session, snapshot)

    def keep(self, derived: Derived) -> None:
        """Store what was derived of a session elsewhere, when nothing of it changed meanwhile."""
        if not self.read_only:
            self._storage.commit((), derived)
            self._derived[derived.session] = derived

    def _apply(self, command: Command, cause: Cause) -> None:
        if self.read_only:
            raise ReadOnly("This library is open for reading only, so nothing can be changed in it.")
        if command.session == LIBRARY:
            self._storage.commit(command.changes, None)
            self.changed.emit(Changed(command, cause))
            return
        before = self.session(command.session) or Snapshot(command.session, {})
        after = before.applied(command.changes)
        self._commit(command.changes, command.session, after)
        if after is None:
            self._open.pop(command.session, None)
        else:
            self._keep_open(command.session, after)
        self.changed.emit(Changed(command, cause))

    def _keep_open(self, key: str, snapshot: Snapshot) -> None:
        """Keep a session in memory; the one that nobody asked for longest goes when there are too many."""
        self._open.pop(key, None)
        self._open[key] = snapshot
        if len(self._open) > OPEN_SESSIONS:
            oldest = next(iter(self._open))
            del self._open[oldest]
            self._derived.pop(oldest, None)

    def _commit(self, changes: Iterable[Change], session: str, after: Snapshot | None) -> None:
        """Store changes with what follows from them; a commit that fails leaves what is known as it was."""
        derived = self._derive(after, self._derived.get(session)) if after is not None else None
        self._storage.commit(changes, derived)
        if derived is None:
            self._derived.pop(session, None)
        else:
            self._derived[session] = derived
