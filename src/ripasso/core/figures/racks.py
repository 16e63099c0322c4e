"""The racks of a player among facts of shots: also those in which the player never came to the table."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import compress, groupby
from operator import attrgetter
from typing import NamedTuple

import numpy as np

from ripasso.core.figures.facts import Facts, Flags
from ripasso.core.figures.rack_results import (
    BREAK_AND_RUN,
    Claim,
    RackResult,
    Streak,
    highest_claim,
    longest_row_of,
    longest_streak,
)

#: A row of racks is one person's in one session.
_ROW = attrgetter("person", "session")
#: More than any rack's number.
_RACKS = 1 << 21


class PlacedRack(NamedTuple):
    """A rack of a person: its result, the session's place, and the place of a shot that shows it (−1: none).

    The shot is the person's first, or the rack's first where the person did not strike.
    """

    person: str
    result: RackResult
    session: int
    shot: int

    @property
    def known(self) -> bool:
        """It is shown, and somebody won it."""
        return self.result.shown and self.result.winner is not None

    @property
    def won(self) -> bool:
        """The person won it."""
        return self.known and self.result.winner == self.person

    @property
    def own_break(self) -> bool:
        """The person broke."""
        return self.result.breaker == self.person

    @property
    def without_stroke(self) -> bool:
        """The person never struck in it."""
        return self.result.strokes_of(self.person) == 0


def racks_of(facts: Facts, person: str | None, among: Flags | None = None) -> tuple[PlacedRack, ...]:
    """The racks of a person (None: of everybody known), in order, with those that are not shown.

    Of a choice of shots, and of `among`, the racks that have one of them. A rack without any shot counts
    where all shots of its session are there.
    """
    kept = np.ones(len(facts), dtype=np.bool_) if among is None else among
    whole = among is None and facts.is_whole
    sides, results, sessions, is_here = _of_person(facts, person, kept, whole=whole)
    codes, people = facts.coded("person")
    code_of = {name: code for code, name in enumerate(people)}
    many = len(people) or 1
    racks = facts.ints("session") * _RACKS + facts.ints("rack")
    asked = np.array(sessions, dtype=np.int64) * _RACKS + np.array([one.number for one in results], np.int64)
    own = np.array([code_of.get(side, -1) for side in sides], dtype=np.int64)
    first = _first_places(racks, kept, asked)
    struck = _first_places(racks * many + codes, kept, np.where(own < 0, -1, asked * many + own))
    shots = np.where(struck < 0, first, struck)
    found = map(PlacedRack, sides, results, sessions, shots.tolist())
    return tuple(compress(found, (np.array(is_here, dtype=np.bool_) | (shots >= 0)).tolist()))


def _of_person(
    facts: Facts, person: str | None, kept: Flags, *, whole: bool
) -> tuple[list[str], list[RackResult], list[int], list[bool]]:
    """Side, result and session of each rack, and whether all of its session's shots are kept."""
    counts = np.bincount(facts.ints("session")[kept], minlength=len(facts.racks)).tolist()
    sides: list[str] = []
    found: list[RackResult] = []
    sessions: list[int] = []
    is_here: list[bool] = []
    for session, results in enumerate(facts.racks):
        count = counts[session]
        all_here = whole or bool(count and count >= sum(sum(one.strokes) for one in results))
        if not all_here and not count:
            continue
        before = len(found)
        for one in results:
            own = [side for side in one.sides if side] if person is None else [person] * (person in one.sides)
            sides += own
            found += [one] * len(own)
        sessions += [session] * (len(found) - before)
        is_here += [all_here] * (len(found) - before)
    return sides, found, sessions, is_here


def _first_places(codes: np.ndarray, kept: Flags, asked: np.ndarray) -> np.ndarray:
    """Where each code that is asked for stands first among what is kept; −1 where it does not."""
    places = np.flatnonzero(kept)
    if not len(places):
        return np.full(len(asked), -1, dtype=np.int64)
    found = codes[places]
    # Shots that follow each other are of the same code mostly: fewer have to be sorted.
    starts = np.concatenate([[0], np.flatnonzero(np.diff(found)) + 1])
    values, first = np.unique(found[starts], return_index=True)
    at = np.minimum(np.searchsorted(values, asked), len(values) - 1)
    return np.where(values[at] == asked, places[starts[first[at]]], -1)


def streak_of(racks: Sequence[PlacedRack]) -> tuple[Streak, list[PlacedRack]]:
    """The longest row of racks won in one session, and its racks; a gap is no rack that can be shown."""
    return _longest(racks, "")


def claim_of(racks: Sequence[PlacedRack], what: str) -> Claim | None:
    """The highest row of racks, run or break that is said of racks that are not shown."""
    found = (highest_claim([rack.result], rack.person, what) for rack in racks)
    return max((one for one in found if one is not None), key=lambda one: one.value, default=None)


def runs_in_a_row(racks: Sequence[PlacedRack]) -> tuple[Streak, list[PlacedRack]]:
    """The longest row of racks won from the break in one visit, and its racks."""
    return _longest(racks, BREAK_AND_RUN)


def _longest(racks: Sequence[PlacedRack], run: str) -> tuple[Streak, list[PlacedRack]]:
    best, shown, at_least = Streak(), list[PlacedRack](), False
    for (person, _), group in groupby(sorted(racks, key=_ROW), key=_ROW):
        own = list(group)
        results = [one.result for one in own]
        found = longest_row_of(results, person, run) if run else longest_streak(results, person)
        at_least = at_least or found.at_least
        if found.length > best.length:
            best, shown = found, [one for one in own[found.first : found.end] if one.won]
    return Streak(best.length, best.first, best.end, at_least, best.by_score), shown
