"""What is asked of the statistics, and the page that answers it: no window, so that it runs in any thread."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ripasso.core.figures.facts import Facts, Flags
from ripasso.core.finding import matching
from ripasso.core.finding.query import Query
from ripasso.statistics.library_index import LibraryFacts, LibraryIndex
from ripasso.statistics.pages.attempt_pages import attempts_page
from ripasso.statistics.pages.figures import FigurePage
from ripasso.statistics.pages.lines import Side
from ripasso.statistics.pages.pages import ATTEMPTS, CROSSED, OVERVIEW, PRACTICE, crossed_page, page_of
from ripasso.statistics.pages.practice_page import practice_page
from ripasso.statistics.pages.ready import Overview, overview_of
from ripasso.statistics.rows.attempt_columns import found_attempts
from ripasso.store.library import Library

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


class Answers:
    """Answers choices from the facts of a library."""

    def __init__(self, library: Library, index: LibraryIndex) -> None:
        self._library, self._index = library, index

    def answer(self, choice: Choice) -> FigurePage | Overview:
        """The page that was chosen."""
        everything = self._index.read()
        facts = _chosen(everything, choice)
        if choice.page == OVERVIEW:
            return overview_of(facts, _side_of(facts, choice.first, everything.names), choice.game)
        if choice.page in (ATTEMPTS, PRACTICE):
            name = everything.names.get(choice.first, choice.first)
            sets = found_attempts(choice.query, self._library.attempt_sets(choice.sessions))
            person = None if choice.first == EVERYBODY else choice.first
            page = attempts_page if choice.page == ATTEMPTS else practice_page
            return page(sets, person, name, everything.titles)
        sides = sides_of(choice, facts, everything.names)
        if choice.page == CROSSED:
            return crossed_page(facts, sides[0], choice.rows, choice.across, choice.counted)
        return page_of(choice.page, facts, sides)


def _chosen(everything: LibraryFacts, choice: Choice) -> Facts:
    """The shots that are looked at; all of them are not copied."""
    facts = everything.facts
    if choice.query is None and choice.sessions is None:
        return facts
    keep = matching(choice.query, everything.columns)
    if choice.sessions is not None:
        keep = keep & facts.equal("session_key", *choice.sessions)
    return facts.where(keep)


def _own(facts: Facts, person: str) -> Flags:
    """The shots of a player, or those of everybody who is known."""
    return facts.known("person") if person == EVERYBODY else facts.equal("person", person)


def _side_of(facts: Facts, person: str, names: Mapping[str, str]) -> Side:
    """The column of one person, or of everybody."""
    whom = None if person == EVERYBODY else person
    return Side(person, names.get(person, person), _own(facts, person), whom)


def sides_of(choice: Choice, facts: Facts, names: Mapping[str, str]) -> Sequence[Side]:
    """The columns of a page: one player, two players, or a player since a date and before it."""
    own = _own(facts, choice.first)
    person = None if choice.first == EVERYBODY else choice.first
    if choice.second.startswith(BEFORE):
        date = choice.second.removeprefix(BEFORE)
        later = facts.of_text("date", lambda one: one >= date)
        earlier = facts.of_text("date", lambda one: "" < one < date)
        return (
            Side("since", f"since {date}", own & later, person, later),
            Side("before", f"before {date}", own & earlier, person, earlier),
        )
    first = _side_of(facts, choice.first, names)
    if not choice.second or choice.second == choice.first:
        return (first,)
    return first, _side_of(facts, choice.second, names)
