"""What the score says of a shot: pressure, how its visit began and what it came to, safety exchanges."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby

from ripasso.core.figures.ledger import Stamp, run_of, visit_began
from ripasso.core.rules import MatchScore, RackScore
from ripasso.core.rules.snooker import COLOUR, MOST_FOUL, RED, RED_AND_BLACK, value
from ripasso.review.record.model import Rack, Session, Shot
from ripasso.review.scoring.meant import POT_INTENTS, meant_ball

#: The words of pressure: of the rack (or frame), and of one shot in snooker.
PRESSURE = ("decider", "match_point", "facing_match_point", "frame_ball", "needs_snookers")
GUARDED = ("safety", "escape")


def pressure_of(score: MatchScore, rack: int, place: int, shot: Shot) -> str:
    """The pressure on the striker of a shot (rack and place, 0 first), as words of `PRESSURE`."""
    sides = score.score_before[rack] if rack < len(score.score_before) else {}
    player, target = shot.player, score.race_to
    words: list[str] = []
    if player is not None and player in sides and target is not None and len(sides) > 1:
        others = [racks for side, racks in sides.items() if side != player]
        own, other = sides[player] == target - 1, max(others) == target - 1
        if own and other:
            words.append("decider")
        elif own:
            words.append("match_point")
        elif other:
            words.append("facing_match_point")
    return " ".join((*words, *_in_frame(shot, score.racks[rack], place)))


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


def standing_of(score: MatchScore, rack: int, shot: Shot) -> str:
    """Whether the striker was ahead when the rack began; "" where there is no one to be ahead of."""
    sides = score.score_before[rack] if rack < len(score.score_before) else {}
    if shot.player is None or shot.player not in sides or len(sides) != 2:
        return ""
    lead = 2 * sides[shot.player] - sum(sides.values())
    return "ahead" if lead > 0 else "behind" if lead < 0 else "level"


@dataclass(frozen=True, slots=True)
class VisitWords:
    """Of a visit: the place of its first shot (rack and shot, 0 first), balls, how it began, its run.

    `one_visit` says of a visit that won a frame of snooker whether it made all its winner's points; else −1.
    """

    rack: int
    shot: int
    balls: int
    began: str
    run: str
    one_visit: int = -1


def visit_words(session: Session, score: MatchScore) -> Iterator[VisitWords]:
    """The words of every visit."""
    racks = session.racks or ()
    for visit in score.visits:
        shots = racks[visit.rack - 1].shots or ()
        first = shots[visit.first_shot - 1]
        stamp = Stamp(intent=first.intent, free_ball=bool(first.free_ball), replaced=bool(first.replaced))
        last = racks[visit.last_rack - 1].shots or ()
        run = run_of(score.racks[visit.last_rack - 1], visit, last[0].intent if last else None)
        began = visit_began(score, visit, stamp)
        one = -1
        if visit.ended_by == "rack_won" and session.game == "snooker":
            one = int(score.racks[visit.last_rack - 1].score.get(visit.player) == visit.points)
        yield VisitWords(visit.rack - 1, visit.first_shot - 1, visit.balls, began, run or "", one)


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
