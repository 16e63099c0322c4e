"""The facts of a whole library for statistics and search; a change renews those of its session.

Columns are kept beside the library's rows, session by session. A session without them (it was changed since)
is encoded from its rows, and its columns are kept again.
"""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from functools import cached_property
from threading import Lock

from ripasso.core.figures.facts import Facts
from ripasso.core.figures.session_columns import JoinedColumns, SessionColumns, SessionConstants
from ripasso.core.table import table_spec
from ripasso.review.table.settings import table_words
from ripasso.statistics.rows.encoding import encoded
from ripasso.statistics.rows.search_columns import SearchColumns, SessionWords
from ripasso.store.errors import LibraryError
from ripasso.store.library import Library, SessionHead
from ripasso.store.session_list import told_apart

#: So many sessions' columns are kept in one transaction: none of them holds a writer up.
TOGETHER = 20


@dataclass(frozen=True)
class LibraryFacts:
    """All shots of a library, titles of sessions and names of people by their keys."""

    facts: Facts
    heads: Mapping[str, SessionHead]
    names: Mapping[str, str]

    @cached_property
    def titles(self) -> dict[str, str]:
        """The titles of the sessions; two of one title are told apart."""
        return told_apart((key, head.title, head.date) for key, head in self.heads.items())

    @cached_property
    def columns(self) -> SearchColumns:
        """What a search may ask of the shots."""
        words = {key: SessionWords(head.title, head.kind) for key, head in self.heads.items()}
        return SearchColumns(self.facts, words, self.names)


class LibraryIndex:
    """Reads a library's facts, in any thread but the window's; one reader at a time."""

    def __init__(self, library: Library) -> None:
        self._library = library
        self._lock = Lock()
        # The columns of each session, and how often it had been changed when they were read.
        self._known: dict[str, tuple[int, SessionColumns]] = {}
        self._order: tuple[str, ...] = ()
        self._joined = JoinedColumns(())
        self._last: LibraryFacts | None = None

    def read(self) -> LibraryFacts:
        """The facts as they stand; what did not change since the last time is the same."""
        with self._lock:
            heads = {head.key: head for head in self._library.heads()}
            names = self._library.names()
            changed = self._renew(heads)
            last = self._last
            if last is None or changed or (last.heads, last.names) != (heads, names):
                self._last = last = LibraryFacts(Facts(self._joined), heads, names)
            return last

    def _renew(self, heads: Mapping[str, SessionHead]) -> bool:
        """Bring the columns up to date with the library; True when anything changed."""
        counts = {key: self._library.changes(key) for key in heads}
        old = [key for key in heads if key not in self._known or self._known[key][0] != counts[key]]
        fresh = self._read(old, heads)
        for key, columns in fresh.items():
            self._known[key] = (counts[key], columns)
        gone = self._known.keys() - heads.keys()
        for key in gone:
            del self._known[key]
        if not fresh and not gone:
            return False
        order = tuple(key for key in sorted(self._known) if _counts(self._known[key][1]))
        if order != self._order or len(fresh) > TOGETHER:
            self._order = order
            self._joined = JoinedColumns([self._known[key][1] for key in order])
            # What was read is let go: the joined columns hold it.
            for key, columns in zip(order, self._joined.sessions, strict=True):
                self._known[key] = (self._known[key][0], columns)
        else:
            for key in fresh.keys() & set(order):
                self._joined = self._joined.replaced(order.index(key), fresh[key])
        return True

    def _read(self, sessions: list[str], heads: Mapping[str, SessionHead]) -> dict[str, SessionColumns]:
        """The columns of sessions, as kept or from their rows."""
        kept = self._library.kept_columns(sessions)
        made: dict[str, tuple[int, bytes]] = {}
        found: dict[str, SessionColumns] = {}
        for key in sessions:
            constants = _constants(heads[key])
            columns = SessionColumns.from_bytes(kept[key], constants) if key in kept else None
            if columns is None:
                count = self._library.changes(key)
                columns = self._encoded(key, constants)
                made[key] = (count, columns.to_bytes())
                if len(made) >= TOGETHER:
                    self._keep(made)
                    made = {}
            found[key] = columns
        self._keep(made)
        return found

    def _encoded(self, session: str, constants: SessionConstants) -> SessionColumns:
        """The columns of a session from its rows; none where what is stored of them is damaged."""
        try:
            rows, measured = self._library.shot_rows(session)
            return encoded(rows, measured, constants, self._library.course(session))
        except (ValueError, TypeError, LookupError, AttributeError, ArithmeticError):
            self._library.set_figures_aside(session)
            return encoded([], [], constants)

    def _keep(self, columns: Mapping[str, tuple[int, bytes]]) -> None:
        # They can be made again; the command that comes next says what is wrong with the library.
        with suppress(LibraryError):
            self._library.keep_columns(columns)


def _counts(columns: SessionColumns) -> bool:
    return bool(len(columns) or columns.racks)


def _constants(head: SessionHead) -> SessionConstants:
    spec = table_spec(head.table)
    return SessionConstants(head.key, head.date, head.game, table_words(head.table, head.state), spec.length)
