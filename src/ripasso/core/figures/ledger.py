"""The visit ledger and the course of a match: how visits began and ended, who won on whose break.

What needs to know where balls lay (chances, safeties left open, long pots) comes in as a `Look` a shot, for
those that were measured.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ripasso.core.figures.rack_results import (
    BREAK_AND_RUN,
    RUN_OUT,
    WON_ON_BREAK,
    RackResult,
    Streak,
    longest_row_of,
    longest_streak,
)
from ripasso.core.measures.errors import Thresholds
from ripasso.core.measures.film_time import LiveFilm
from ripasso.core.rules import MatchScore, RackScore, Visit

#: Balls that make a win in one visit a run-out.
RUN_OUT_BALLS = 5
#: A chance that is open, and the points in a visit that count as taking it (snooker's 30).
OPEN_CHANCE, CONVERTED_POINTS = Thresholds().open, 30
#: Straight pool goes on from rack to rack: a chance is taken that is continued for so many balls.
CONVERTED_BALLS = 10
#: What a visit may have begun with otherwise, when its first shot is a long pot.
LONG_POT_AFTER = ("safety", "miss")

Place = tuple[int, int]  # rack and shot, both from 1


@dataclass(frozen=True, slots=True)
class Stamp:
    """When a shot was struck and all was at rest, in seconds of a recording; None where not marked."""

    recording: str | None = None
    strike_s: float | None = None
    rest_s: float | None = None
    intent: str | None = None
    free_ball: bool = False
    replaced: bool = False


@dataclass(frozen=True, slots=True)
class Look:
    """What was measured of a shot: the best pot's chance before it, and whether a long pot was made."""

    chance: float | None = None
    long_pot_made: bool = False


@dataclass(frozen=True, slots=True)
class VisitLine:
    """A visit in the ledger."""

    visit: Visit
    began: str
    strokes: int
    seconds: float | None
    #: Film is missing between its first strike and its last rest: there may be more to it.
    cut: bool = False
    #: The chance it began with, where it is known.
    chance: float | None = None
    #: What came of an open chance, see `is_taken`; None without such a chance.
    converted: bool | None = None

    @property
    def seconds_per_stroke(self) -> float | None:
        """Seconds from strike to strike, the whole visit shared out."""
        return self.seconds / self.strokes if self.seconds is not None and self.strokes else None


@dataclass(frozen=True, slots=True)
class RackLine:
    """A rack in the course of the match; `after` is the score when it was over."""

    result: RackResult
    after: Mapping[str, int]
    shots: int
    seconds: float | None
    best: Visit | None
    cut: bool = False

    @property
    def on_own_break(self) -> bool | None:
        """Whether the winner had broken; None when either is unknown."""
        one = self.result
        return one.winner == one.breaker if one.winner and one.breaker else None


@dataclass(frozen=True, slots=True)
class MatchCourse:
    """Everything the match page shows."""

    racks: tuple[RackLine, ...]
    visits: tuple[VisitLine, ...]
    longest_streak: Mapping[str, Streak]
    break_and_runs_in_a_row: Mapping[str, Streak]


def match_course(
    score: MatchScore,
    stamps: Mapping[Place, Stamp],
    results: Sequence[RackResult],
    film: LiveFilm | None = None,
    looks: Mapping[Place, Look] | None = None,
    *,
    game: str | None = None,
) -> MatchCourse:
    """The course of a match from its score, what came of its racks, and what was marked.

    `film` says which seconds of the recordings count (all, where it is not given).
    """
    clock = _Clock(stamps, film or LiveFilm())
    visits = tuple(_visit_line(score, visit, clock, (looks or {}, game)) for visit in score.visits)
    # A visit with a cut in it may have been longer: it is no best one.
    whole = [line.visit for line in visits if not line.cut]
    racks = tuple(
        _rack_line(score, rack, result, clock, whole)
        for rack, result in zip(score.racks, results, strict=True)
    )
    return MatchCourse(
        racks,
        visits,
        {side: longest_streak(results, side) for side in score.score},
        {side: longest_row_of(results, side, BREAK_AND_RUN) for side in score.score},
    )


class _Clock:
    """When the shots were struck, and how much of the time between them was spent at the table."""

    def __init__(self, stamps: Mapping[Place, Stamp], film: LiveFilm) -> None:
        self._stamps, self._film = stamps, film

    def stamp(self, place: Place) -> Stamp:
        """What was marked of a shot."""
        return self._stamps.get(place, Stamp())

    def span(self, places: Sequence[Place]) -> tuple[float | None, bool]:
        """Live seconds from the first strike to the last rest, and whether film is missing between.

        None when a mark is missing, on two recordings, and across a cut.
        """
        if not places:
            return None, False
        first, last = self.stamp(places[0]), self.stamp(places[-1])
        end = last.rest_s if last.rest_s is not None else last.strike_s
        if first.strike_s is None or end is None or first.recording != last.recording or end < first.strike_s:
            return None, False
        cut = self._film.is_cut(first.recording, first.strike_s, end)
        return self._film.seconds(first.recording, first.strike_s, end), cut


def _visit_line(
    score: MatchScore, visit: Visit, clock: _Clock, seen: tuple[Mapping[Place, Look], str | None]
) -> VisitLine:
    looks, game = seen
    places = _places(score, visit)
    seconds, cut = clock.span(places)
    look = looks.get((visit.rack, visit.first_shot), Look())
    began = visit_began(score.racks[visit.rack - 1], visit, clock.stamp((visit.rack, visit.first_shot)))
    if began == "safety" and look.chance is not None and look.chance >= OPEN_CHANCE:
        began = "safety_left_open"
    elif began in LONG_POT_AFTER and look.long_pot_made:
        began = "long_pot"
    return VisitLine(visit, began, len(places), seconds, cut, look.chance, _converted(visit, look, cut, game))


def is_taken(ended_by: str, points: int, balls: int, game: str | None) -> bool:
    """A visit made what its chance promised: the rack; 30 points in snooker, ten balls in straight pool."""
    if ended_by == "rack_won" or (game == "snooker" and points >= CONVERTED_POINTS):
        return True
    return game == "straight_pool" and balls >= CONVERTED_BALLS


def _converted(visit: Visit, look: Look, cut: bool, game: str | None) -> bool | None:
    """What came of an open chance; None without one, and where film is missing from the visit."""
    if look.chance is None or look.chance < OPEN_CHANCE:
        return None
    if is_taken(visit.ended_by, visit.points, visit.balls, game):
        return True
    return None if cut else False


def _places(score: MatchScore, visit: Visit) -> list[Place]:
    """The shots of a visit, from rack to rack where it goes on."""
    found: list[Place] = []
    for rack in range(visit.rack, visit.last_rack + 1):
        first = visit.first_shot if rack == visit.rack else 1
        last = visit.last_shot if rack == visit.last_rack else len(score.racks[rack - 1].shots)
        found += [(rack, number) for number in range(first, last + 1)]
    return found


def visit_began(rack: RackScore, visit: Visit, stamp: Stamp) -> str:
    """What gave the player the table: the break, or the end of the visit before.

    `rack` is the one it began in, `stamp` that of its first shot.
    """
    if stamp.free_ball:
        return "free_ball"
    if stamp.replaced:
        return "replaced"
    if visit.first_shot == 1:
        return "own_break" if stamp.intent == "break" else "start"
    earlier = rack.shots[visit.first_shot - 2]
    before = earlier.outcome
    if before is None:
        return "start"
    if before.next_players == (visit.player,) and earlier.player == visit.player:
        return "again"
    if before.ball_in_hand_from is not None:
        return "ball_in_hand"
    return before.visit_end or "out_of_turn"


def _rack_line(
    score: MatchScore,
    rack: RackScore,
    result: RackResult,
    clock: _Clock,
    whole: Sequence[Visit],
) -> RackLine:
    number = rack.number
    own = [v for v in whole if v.rack <= number <= v.last_rack]
    best = max(own, key=lambda v: (v.points, v.balls), default=None)
    after = score.score_before[number] if number < len(score.score_before) else score.score
    seconds, cut = clock.span([(number, i + 1) for i in range(len(rack.shots))])
    return RackLine(
        result=result,
        after=dict(after),
        shots=len(rack.shots),
        seconds=seconds,
        best=best if best is not None and (best.points or best.balls) else None,
        cut=cut,
    )


def run_of(rack: RackScore, visit: Visit, first_intent: str | None) -> str | None:
    """What a visit that won a rack was: a run from the break, a run-out, won by the break itself; else None.

    `first_intent` is that of the rack's first shot.
    """
    if visit.ended_by != "rack_won" or rack.ended_by == "conceded":
        return None
    if visit.rack == rack.number and visit.first_shot == 1 and first_intent == "break":
        is_break_alone = (visit.last_rack, visit.last_shot) == (visit.rack, 1)
        return WON_ON_BREAK if is_break_alone else BREAK_AND_RUN
    return RUN_OUT if visit.balls >= RUN_OUT_BALLS else None
