"""What the score says of a shot: pressure, how its visit began and what it came to, safety exchanges."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby

from ripasso.core.figures.ledger import Stamp, run_of, visit_began
from ripasso.core.rules import RackScore, Visit
from ripasso.core.rules.snooker import COLOUR, MOST_FOUL, RED, RED_AND_BLACK, value
from ripasso.review.record.model import Rack, Shot
from ripasso.review.scoring.meant import POT_INTENTS, meant_ball

#: The words of pressure: of the rack (or frame), and of one shot in snooker.
PRESSURE = ("decider", "match_point", "facing_match_point", "frame_ball", "needs_snookers")
GUARDED = ("safety", "escape")


@dataclass(frozen=True, slots=True)
class Before:
    """How the match stood before a rack: racks (points of a long game) by side, and what wins it."""

    sides: Mapping[str, int]
    race_to: int | None


def pressure_of(before: Before, rack: RackScore, place: int, shot: Shot) -> str:
    """The pressure on the striker of a shot (its place in the rack, 0 first), as words of `PRESSURE`."""
    return " ".join((*_in_match(before, shot.player), *_in_frame(shot, rack, place)))


def _in_match(before: Before, player: str | None) -> Iterator[str]:
    """What one more rack would mean."""
    sides, target = before.sides, before.race_to
    if player is None or player not in sides or target is None or len(sides) < 2:
        return
    own = sides[player] == target - 1
    other = max(racks for side, racks in sides.items() if side != player) == target - 1
    if own and other:
        yield "decider"
    elif own:
        yield "match_point"
    elif other:
        yield "facing_match_point"


def _in_frame(shot: Shot, rack: RackScore, place: int) -> Iterator[str]:
    """Snooker: the ball that leaves the opponent needing snookers, and needing them."""
    before = rack.shots[place - 1].outcome if place else None
    state = before.snooker if before is not None else None
    if state is None or shot.player is None:
        return
    lead, remaining = state.lead.get(shot.player, 0), state.remaining_points
    if -lead > remaining:
        yield "needs_snookers"
        return
    ball = meant_ball(shot, rack.shots[place])
    if ball is None or shot.intent not in POT_INTENTS:
        return
    worth = value(ball)
    # What the opponent could still make: with the ball missed, and with it down.
    missed = remaining - (MOST_FOUL if state.next_on == COLOUR else 0)
    left = {RED: missed - RED_AND_BLACK, COLOUR: missed}.get(state.next_on or "", missed - worth)
    if lead <= missed and lead + worth > left:
        yield "frame_ball"


def standing_of(before: Before, shot: Shot) -> str:
    """Whether the striker was ahead when the rack began; "" where there is no one to be ahead of."""
    sides = before.sides
    if shot.player is None or shot.player not in sides or len(sides) != 2:
        return ""
    lead = 2 * sides[shot.player] - sum(sides.values())
    if lead == 0:
        return "level"
    return "ahead" if lead > 0 else "behind"


@dataclass(frozen=True, slots=True)
class EndOfVisit:
    """The rack a visit ended in, the intent of that rack's first shot, and whether film of it is missing."""

    rack: RackScore
    first_intent: str | None
    cut: bool = False


@dataclass(frozen=True, slots=True)
class VisitWords:
    """Of a visit: how it began and what it came to.

    `one_visit` says of a visit that won a frame of snooker whether it made all its winner's points; else −1.
    """

    began: str
    run: str
    one_visit: int = -1


def visit_words(visit: Visit, first: Shot, rack: RackScore, end: EndOfVisit, *, snooker: bool) -> VisitWords:
    """The words of a visit that began with the shot `first` in `rack`."""
    stamp = Stamp(intent=first.intent, free_ball=bool(first.free_ball), replaced=bool(first.replaced))
    one = -1
    if snooker and visit.ended_by == "rack_won":
        one = int(end.rack.score.get(visit.player) == visit.points)
    run = None if end.cut else run_of(end.rack, visit, end.first_intent)
    return VisitWords(visit_began(rack, visit, stamp), run or "", one)


def won_by(judged: RackScore | None, shot: Shot) -> int:
    """Whether the striker won the rack; −1 where nobody did."""
    if judged is None or judged.winner is None or shot.player is None:
        return -1
    return int(judged.winner == shot.player)


def exchanges(rack: Rack) -> Iterator[tuple[int, int, int]]:
    """Safety exchanges of a rack: the place of each shot (0 first), its place in the exchange, its length.

    Safeties and escapes in a row are one exchange when both players take part.
    """
    place = 0
    for guarded, group in groupby(rack.shots or (), key=lambda shot: shot.intent in GUARDED):
        shots: Sequence[Shot] = tuple(group)
        if guarded and len({shot.player for shot in shots}) > 1:
            for i in range(len(shots)):
                yield place + i, i + 1, len(shots)
        place += len(shots)
