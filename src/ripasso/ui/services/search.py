"""What a search line finds over the whole library, in the background."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.figures.facts import Facts
from ripasso.core.finding import FIELDS, NotAQuery, matching, parse_query
from ripasso.core.finding.query import Query
from ripasso.statistics.library_index import LibraryFacts, LibraryIndex
from ripasso.ui.services.background import Background


@dataclass(frozen=True)
class Found:
    """The shots that a line asks for: their places in the facts of the library."""

    line: str
    library: LibraryFacts
    places: tuple[int, ...]

    @property
    def facts(self) -> Facts:
        """The facts of all shots."""
        return self.library.facts

    @property
    def sessions(self) -> int:
        """How many sessions they are from."""
        return len(np.unique(self.facts.ints("session")[list(self.places)]))

    def place(self, row: int) -> tuple[str, str]:
        """The keys of session and shot of a row."""
        at = self.places[row]
        return self.session(row), self.facts.key(at)

    def session(self, row: int) -> str:
        """The key of the session of a row."""
        return self.facts.text_at("session_key", int(self.places[row]))


class Search:
    """Answers search lines."""

    def __init__(self, index: LibraryIndex, background: Background) -> None:
        self._index, self._background = index, background
        self._request: int | None = None

    def ask(self, line: str, then: Callable[[Found], None], refused: Callable[[str], None]) -> None:
        """Find in the background; a line that cannot be read is refused at once, with a sentence."""
        try:
            query = parse_query(line, FIELDS)
        except NotAQuery as error:
            refused(str(error))
            return
        if self._request is not None:
            self._background.forget(self._request)
        index = self._index

        def ready(found: Found) -> None:
            self._request = None
            then(found)

        def failed(error: Exception) -> None:
            self._request = None
            refused(str(error))

        self._request = self._background.run(lambda: _find(index, line, query), ready, failed)

    def take(self, shots: Sequence[str], then: Callable[[Found], None]) -> None:
        """Shots by their keys as if they had been searched for."""
        index = self._index
        self._background.run(lambda: _listed(index, shots), then)


def _listed(index: LibraryIndex, shots: Sequence[str]) -> Found:
    """Shots by their keys, in the given order; those that are gone are left out."""
    library = index.read()
    keys = library.facts.array("key") if len(library.facts) else np.array([], "S1")
    places = {key: place for place, key in enumerate(keys.tolist())}
    found = (places.get(shot.encode()) for shot in shots)
    return Found("", library, tuple(place for place in found if place is not None))


def _find(index: LibraryIndex, line: str, query: Query | None) -> Found:
    library = index.read()
    if not len(library.facts):
        return Found(line, library, ())
    wanted = matching(query, library.columns)
    return Found(line, library, tuple(np.flatnonzero(wanted).tolist()))
