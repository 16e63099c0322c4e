"""What a search line finds over the whole library, in the background."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.figures.facts import Facts, Ints
from ripasso.core.finding import FIELDS, NotAQuery, matching, parse_query
from ripasso.core.finding.query import Query
from ripasso.statistics.library_index import LibraryFacts, LibraryIndex
from ripasso.ui.services.background import Background, LatestRequest


@dataclass(frozen=True)
class Found:
    """The shots that a line asks for: their places in the facts of the library."""

    line: str
    library: LibraryFacts
    places: Ints

    def __len__(self) -> int:
        return len(self.places)

    @property
    def facts(self) -> Facts:
        """The facts of all shots."""
        return self.library.facts

    @property
    def sessions(self) -> int:
        """How many sessions they are from."""
        return int(np.count_nonzero(np.bincount(self.facts.ints("session")[self.places])))

    def place(self, row: int) -> tuple[str, str]:
        """The keys of session and shot of a row."""
        at = int(self.places[row])
        return self.session(row), self.facts.key(at)

    def session(self, row: int) -> str:
        """The key of the session of a row."""
        return self.facts.text_at("session_key", int(self.places[row]))


class Search:
    """Answers search lines."""

    def __init__(self, index: LibraryIndex, background: Background) -> None:
        self._index, self._background = index, background
        self._request = LatestRequest[Found](background)

    def ask(self, line: str, then: Callable[[Found], None], refused: Callable[[str], None]) -> None:
        """Find in the background; a line that cannot be read is refused at once, with a sentence."""
        try:
            query = parse_query(line, FIELDS)
        except NotAQuery as error:
            refused(str(error))
            return
        index = self._index
        self._request.ask(lambda: _find(index, line, query), then, lambda error: refused(str(error)))

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
    return Found("", library, np.array([place for place in found if place is not None], dtype=np.int64))


def _find(index: LibraryIndex, line: str, query: Query | None) -> Found:
    library = index.read()
    if not len(library.facts):
        return Found(line, library, np.array([], dtype=np.int64))
    wanted = matching(query, library.columns)
    return Found(line, library, np.flatnonzero(wanted))
