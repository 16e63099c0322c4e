"""The facts of a whole library for statistics and search; a change renews those of its session.

Columns are kept beside the library's rows, session by session. A session without them (it was changed since)
is encoded from its rows, and its columns are kept again.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence, Set
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

#: So many sessions' columns are read and kept together: none holds a writer up, nor much memory.
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
        gone = self._known.keys() - heads.keys()
        for key in gone:
            del self._known[key]
        if not old and not gone:
            return False
        if len(old) > TOGETHER:
            self._join(heads, set(old), counts)
            return True
        for key, columns in zip(old, self._read(old, heads), strict=True):
            self._known[key] = (counts[key], columns)
        order = tuple(key for key in sorted(self._known) if _counts(self._known[key][1]))
        if order != self._order:
            self._take(order, JoinedColumns([self._known[key][1] for key in order]), counts)
        else:
            joined = self._joined
            for key in set(old) & set(order):
                joined = joined.replaced(order.index(key), self._known[key][1])
            self._take(order, joined, counts)
        return True

    def _join(self, heads: Mapping[str, SessionHead], old: Set[str], counts: Mapping[str, int]) -> None:
        """Join all sessions anew, a few at a time: what is read of them is held once."""
        order: list[str] = []
        empty: dict[str, tuple[int, SessionColumns]] = {}

        def each() -> Iterator[SessionColumns]:
            ordered = sorted(heads)
            for start in range(0, len(ordered), TOGETHER):
                keys = ordered[start : start + TOGETHER]
                missing = [key for key in keys if key in old]
                fresh = dict(zip(missing, self._read(missing, heads), strict=True))
                for key in keys:
                    columns = fresh[key] if key in fresh else self._known[key][1]
                    if _counts(columns):
                        order.append(key)
                        yield columns
                    else:
                        empty[key] = counts[key], columns

        joined = JoinedColumns(each(), expected=self._library.shots())
        self._known.update(empty)
        self._take(tuple(order), joined, counts)

    def _take(self, order: tuple[str, ...], joined: JoinedColumns, counts: Mapping[str, int]) -> None:
        """What is kept of each session is its part of what was joined."""
        self._order, self._joined = order, joined
        for key, columns in zip(order, joined.sessions, strict=True):
            self._known[key] = counts[key], columns

    def _read(self, sessions: Sequence[str], heads: Mapping[str, SessionHead]) -> list[SessionColumns]:
        """The columns of sessions, as kept or from their rows."""
        kept = self._library.kept_columns(sessions)
        made: dict[str, tuple[int, bytes]] = {}
        found = [self._of_one(key, heads[key], kept.get(key), made) for key in sessions]
        self._keep(made)
        return found

    def _of_one(
        self, key: str, head: SessionHead, kept: bytes | None, made: dict[str, tuple[int, bytes]]
    ) -> SessionColumns:
        """The columns of a session; those that had to be made are put to `made`."""
        constants = _constants(head)
        columns = SessionColumns.from_bytes(kept, constants)
        if columns is None:
            count = self._library.changes(key)
            columns = self._encoded(key, constants)
            made[key] = (count, columns.to_bytes())
        return columns

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
