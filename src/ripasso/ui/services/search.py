"""What a search finds over the whole library, in the background; columns are kept until it changes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ripasso.core.figures.columns import ShotColumns
from ripasso.core.figures.facts import Facts
from ripasso.core.finding import FIELDS, Columns, NotAQuery, matching, parse_query
from ripasso.core.finding.query import Query
from ripasso.core.table import table_spec
from ripasso.review.table.settings import table_words
from ripasso.statistics.rows.column_facts import Setting, facts_of
from ripasso.statistics.rows.search_columns import SessionFacts, find_columns, measure_arrays
from ripasso.store import Library
from ripasso.ui.services.background import Background


@dataclass(frozen=True)
class Found:
    """The shots that a line asks for: their places in the columns, and the titles of sessions."""

    line: str
    shots: ShotColumns
    places: tuple[int, ...]
    titles: dict[str, str]
    names: dict[str, str]

    def place(self, row: int) -> tuple[str, str]:
        """The keys of session and shot of a row."""
        at = self.places[row]
        return str(self.shots.session[at]), str(self.shots.key[at])


@dataclass(frozen=True)
class SearchIndex:
    """All shots of a library, what may be asked of them, titles of sessions and names of people."""

    shots: ShotColumns
    columns: Columns
    titles: dict[str, str]
    names: dict[str, str]
    facts: Facts


class SearchCache:
    """Answers search lines; `forget` what was read when the library has changed."""

    def __init__(self, library: Library, background: Background) -> None:
        self._library, self._background = library, background
        self._all: SearchIndex | None = None
        self._request: int | None = None

    def forget(self) -> None:
        """The library has changed."""
        self._all = None

    def ask(self, line: str, then: Callable[[Found], None], refused: Callable[[str], None]) -> None:
        """Find in the background; a line that cannot be read is refused at once, with a sentence."""
        try:
            query = parse_query(line, FIELDS)
        except NotAQuery as error:
            refused(str(error))
            return
        if self._request is not None:
            self._background.forget(self._request)
        known, library = self._all, self._library

        def ready(answer: tuple[SearchIndex, Found]) -> None:
            self._request = None
            self._all, found = answer
            then(found)

        def failed(error: Exception) -> None:
            self._request = None
            refused(str(error))

        self._request = self._background.run(lambda: _find(library, known, line, query), ready, failed)


def _find(
    library: Library, known: SearchIndex | None, line: str, query: Query | None
) -> tuple[SearchIndex, Found]:
    everything = known or read_index(library)
    wanted = matching(query, everything.columns) if len(everything.shots) else np.zeros(0, dtype=bool)
    places = tuple(int(place) for place in wanted.nonzero()[0])
    return everything, Found(line, everything.shots, places, everything.titles, everything.names)


def read_index(library: Library) -> SearchIndex:
    """Read a library for searching; not in the window's thread."""
    lines = library.sessions()
    facts = {
        one.key: SessionFacts(one.title, one.date or "", one.game or "", one.kind or "") for one in lines
    }
    shots, names = library.columns(), dict(library.persons())
    measures = measure_arrays(library.measured_columns())
    heads = {one.key: one for one in lines}
    settings = {
        key: Setting(
            heads[key].date or "", table_spec(table).length, table_words(table), heads[key].game or ""
        )
        for key, table in library.session_tables().items()
        if key in heads
    }
    return SearchIndex(
        shots,
        find_columns(shots, facts, names, measures),
        {one.key: one.title for one in lines},
        names,
        facts_of(shots, measures, settings),
    )
