"""What came of each rack: who won it, on whose break, in one visit or not, and rows of racks won.

Racks count whether or not a player came to the table in them. A side is the id of a player in a session, the
key of a person in statistics ("" for a ghost).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from ripasso.core.json_data import JsonMapping, JsonObject

BREAK_AND_RUN, RUN_OUT, WON_ON_BREAK = "break_and_run", "run_out", "won_on_break"


@dataclass(frozen=True, slots=True)
class Claim:
    """What somebody says of a side in racks that are not shown: a row of racks, a run, a break."""

    side: str
    what: str
    value: int
    by: str = ""

    @property
    def words(self) -> str:
        """Such as "5, says Ida"."""
        return f"{self.value}, says {self.by}" if self.by else f"{self.value}, as said"


@dataclass(frozen=True, slots=True)
class RackResult:
    """One rack, or one gap: racks that are not shown. Tuples have an entry a side.

    `before` is the score in racks when it began (empty where points are counted), `stated` says that the
    record gives it. `run` is one of the three
    words above, "" where the rack was won otherwise, and where film of it is missing. `claims` are what is
    said with it of racks that are not shown.
    """

    number: int
    sides: tuple[str, ...]
    before: tuple[int, ...]
    strokes: tuple[int, ...] = ()
    winner: str | None = None
    breaker: str | None = None
    ended_by: str = ""
    run: str = ""
    shown: bool = True
    stated: bool = False
    claims: tuple[Claim, ...] = ()

    def strokes_of(self, side: str) -> int:
        """How often a side struck."""
        return dict(zip(self.sides, self.strokes, strict=False)).get(side, 0)

    def data(self) -> JsonObject:
        """As it is kept."""
        return asdict(self)

    @classmethod
    def of(cls, kept: JsonMapping) -> RackResult:
        """What was kept; raises TypeError for anything else."""
        lists: dict[str, Any] = {name: tuple(kept[name]) for name in ("sides", "before", "strokes")}
        lists["claims"] = tuple(Claim(**one) for one in kept.get("claims", ()))
        return cls(**{**kept, **lists})


@dataclass(frozen=True, slots=True)
class Streak:
    """A row of racks: its length, and the places (0 first, the end behind it) of its racks.

    `at_least`: something that is not shown may have made a longer one. `by_score`: a part is not shown, but
    the score before and after leaves no other course.
    """

    length: int = 0
    first: int = 0
    end: int = 0
    at_least: bool = False
    by_score: bool = False

    @property
    def words(self) -> str:
        """Such as "3", "at least 2 shown", "5, by the score"."""
        if self.by_score:
            return f"{'at least ' if self.at_least else ''}{self.length}, by the score"
        return f"at least {self.length} shown" if self.at_least else str(self.length)


def highest_claim(results: Sequence[RackResult], side: str, what: str) -> Claim | None:
    """The highest that was said of a side."""
    said = [one for result in results for one in result.claims if (one.side, one.what) == (side, what)]
    return max(said, key=lambda one: one.value, default=None)


def won_in_gap(results: Sequence[RackResult], place: int) -> tuple[int, ...] | None:
    """How many of the racks that are not shown each side won; None where the next score is not stated.

    Of several records in a row that are not shown the last one has it all.
    """
    here, after = results[place], results[place + 1] if place + 1 < len(results) else None
    if after is not None and not after.shown and not after.stated:
        return (0,) * len(here.before)
    if after is None or not after.stated or len(after.before) != len(here.before):
        return None
    won = tuple(later - now for now, later in zip(here.before, after.before, strict=True))
    return won if min(won, default=0) >= 0 else None


def longest_streak(results: Sequence[RackResult], side: str) -> Streak:
    """The longest row of racks that a side won, in one session."""
    return _longest(results, side, lambda one: one.winner == side, gaps=True)


def longest_row_of(results: Sequence[RackResult], side: str, run: str) -> Streak:
    """The longest row of racks that a side won by such a run; a gap always ends it."""
    return _longest(results, side, lambda one: one.winner == side and one.run == run, gaps=False)


def _longest(
    results: Sequence[RackResult], side: str, counts: Callable[[RackResult], bool], *, gaps: bool
) -> Streak:
    best, length, first = Streak(), 0, 0
    by_score = at_least = False
    if results and results[0].shown and sum(results[0].before) > 0:
        # The film begins in the middle of the match: as after a gap from the first rack on.
        own = dict(zip(results[0].sides, results[0].before, strict=False)).get(side, 0)
        if own and (sum(results[0].before) > own or not gaps):
            at_least = True
        elif own:
            length, by_score, best = own, True, Streak(own, 0, 0, by_score=True)
    for place, one in enumerate(results):
        if one.shown:
            won = int(counts(one))
            others = 1 - won
        else:
            in_gap = won_in_gap(results, place)
            own = dict(zip(one.sides, in_gap or (), strict=False)).get(side, 0)
            won, others = own, sum(in_gap or ()) - own
            # Where both won, their order is not known.
            if in_gap is None or (won and (others or not gaps)):
                at_least, won, others = True, 0, 1
        if others:
            length, by_score = 0, False
        elif won:
            first = first if length else place
            length, by_score = length + won, by_score or not one.shown
        if length > best.length:
            best = Streak(length, first, place + 1, by_score=by_score)
    return Streak(best.length, best.first, best.end, at_least, best.by_score)
