"""What is asked of the statistics, and the page that answers it: no window, so that it runs in any thread."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from threading import Lock

import numpy as np

from ripasso.core.figures.columns import Flags
from ripasso.core.figures.facts import Facts
from ripasso.core.finding import matching
from ripasso.core.finding.query import Query
from ripasso.statistics.pages.attempt_pages import attempts_page
from ripasso.statistics.pages.figures import FigurePage
from ripasso.statistics.pages.pages import ATTEMPTS, CROSSED, OVERVIEW, Side, crossed_page, page_of
from ripasso.statistics.pages.ready import Overview, overview_of
from ripasso.store import Library
from ripasso.ui.services.search import SearchIndex, read_index

#: Before a date, where the key of a second player would stand.
BEFORE = "before:"


#: All players together, where the key of one would stand.
EVERYBODY = "everybody"


@dataclass(frozen=True)
class Choice:
    """Who, what slice, which page. `second` is a person, `BEFORE` and a date, or "" for nobody."""

    page: str
    first: str
    second: str = ""
    sessions: tuple[str, ...] | None = None
    game: str | None = None
    query: Query | None = None
    rows: str = "cut"
    across: str = "distance"
    counted: str = "pots"


class AnswerCache:
    """Answers choices; what was read is kept until `forget`."""

    def __init__(self, library: Library) -> None:
        self._library = library
        self._everything: SearchIndex | None = None
        self._changes = 0
        self._lock = Lock()

    def forget(self) -> None:
        """The library has changed."""
        self._changes += 1
        self._everything = None

    def _read(self) -> SearchIndex:
        """Everything in the library; what changed while it was read is not kept."""
        with self._lock:
            if self._everything is not None:
                return self._everything
            changes, everything = self._changes, read_index(self._library)
            if changes == self._changes:
                self._everything = everything
            return everything

    def answer(self, choice: Choice) -> FigurePage | Overview:
        """The page that was chosen."""
        everything = self._read()
        keep = matching(choice.query, everything.columns)
        if choice.sessions is not None:
            keep = keep & np.isin(everything.shots.session.astype(str), list(choice.sessions))
        shots, facts = everything.shots.where(keep), everything.facts.where(keep)
        if choice.page == OVERVIEW:
            return overview_of(shots, facts, _own(facts, choice.first), choice.game)
        if choice.page == ATTEMPTS:
            name = everything.names.get(choice.first, choice.first)
            sets = self._library.attempt_sets(choice.sessions)
            person = None if choice.first == EVERYBODY else choice.first
            return attempts_page(sets, person, name, everything.titles)
        sides = sides_of(choice, facts, everything.names)
        if choice.page == CROSSED:
            return crossed_page(shots, facts, sides[0], choice.rows, choice.across, choice.counted)
        return page_of(choice.page, shots, facts, sides)


def _own(facts: Facts, person: str) -> Flags:
    """The shots of a player, or those of everybody who is known."""
    return facts.known("person") if person == EVERYBODY else facts.equal("person", person)


def sides_of(choice: Choice, facts: Facts, names: dict[str, str]) -> Sequence[Side]:
    """The columns of a page: one player, two players, or a player since a date and before it."""
    own = _own(facts, choice.first)
    name = names.get(choice.first, choice.first)
    if choice.second.startswith(BEFORE):
        date = choice.second.removeprefix(BEFORE)
        dates = facts.texts("date").astype(str)
        later = own & (dates >= date)
        earlier = own & (dates < date) & (dates != "")
        return (
            Side("since", f"since {date}", later),
            Side("before", f"before {date}", earlier),
        )
    first = Side(choice.first, name, own)
    if not choice.second or choice.second == choice.first:
        return (first,)
    other = choice.second
    return first, Side(other, names.get(other, other), facts.equal("person", other))
