"""The racks of a player among facts of shots: also those in which the player never came to the table."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby
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
    counts = np.bincount(facts.ints("session")[kept], minlength=len(facts.racks)).tolist()
    whole = among is None and facts.is_whole
    wanted: list[tuple[str, RackResult, int, bool]] = []
    for session, results in enumerate(facts.racks):
        is_here = bool(
            whole or (counts[session] and counts[session] >= sum(sum(one.strokes) for one in results))
        )
        if is_here or counts[session]:
            wanted.extend(
                (side, one, session, is_here)
                for one in results
                for side in one.sides
                if side and person in (None, side)
            )
    codes, people = facts.coded("person")
    code_of = {name: code for code, name in enumerate(people)}
    many = len(people) or 1
    racks = facts.ints("session") * _RACKS + facts.ints("rack")
    asked = np.array([session * _RACKS + one.number for _, one, session, _ in wanted], dtype=np.int64)
    own = np.array([code_of.get(side, -1) for side, *_ in wanted], dtype=np.int64)
    first = _first_places(racks, kept, asked)
    struck = _first_places(racks * many + codes, kept, np.where(own < 0, -1, asked * many + own))
    shots = np.where(struck < 0, first, struck).tolist()
    return tuple(
        PlacedRack(side, one, session, shot)
        for (side, one, session, is_here), shot in zip(wanted, shots, strict=True)
        if is_here or shot >= 0
    )


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
    ordered = sorted(racks, key=lambda one: (one.person, one.session))
    for (person, _), group in groupby(ordered, key=lambda one: (one.person, one.session)):
        own = list(group)
        results = [one.result for one in own]
        found = longest_row_of(results, person, run) if run else longest_streak(results, person)
        at_least = at_least or found.at_least
        if found.length > best.length:
            best, shown = found, [one for one in own[found.first : found.end] if one.won]
    return Streak(best.length, best.first, best.end, at_least, best.by_score), shown
