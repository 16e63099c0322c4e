"""What the score line says of a moment: the score, and what a practitioner of the game asks next."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.rules import MatchScore, ShotScore
from ripasso.core.rules.eight_ball import group_of
from ripasso.core.rules.interface import SnookerState
from ripasso.review.language.vocabulary import count, in_racks
from ripasso.review.present.describing import on_words
from ripasso.review.record.model import Session

#: Games whose score within a rack is points.
POINT_GAMES = ("snooker", "rotation", "straight_pool")
GROUP_WORDS = {"low": "solids", "high": "stripes"}


@dataclass(frozen=True)
class Standing:
    """The score in front of a shot: figures by side, what they count, and a line on the visit."""

    figures: Mapping[str, int]
    caption: str
    line: str


def standing(session: Session, score: MatchScore, rack: int, place: int) -> Standing:
    """The standing before shot `place` (0 first) of rack `rack` (0 first)."""
    before = score.score_before[rack]
    shots = score.racks[rack].shots
    points: dict[str, int] = dict.fromkeys(before, 0)
    going_on = score.racks[rack].in_progress
    points |= going_on.points if going_on is not None else {}
    for shot in shots[:place]:
        for player, scored in (shot.outcome.points if shot.outcome else {}).items():
            points[player] = points.get(player, 0) + scored
    racks = " – ".join(str(value) for value in before.values())
    if session.game == "straight_pool":
        figures = {side: before[side] + points[side] for side in before}
        caption = f"of {score.race_to}" if score.race_to else "points"
    elif session.game in POINT_GAMES:
        figures = points
        caption = f"{'frames' if session.game == 'snooker' else 'racks'} {racks}"
    else:
        figures, caption = dict(before), "racks"
    carried = going_on.run if going_on is not None and shots[place].visit == (rack + 1, 1) else 0
    return Standing(figures, caption, _line(session, score, shots, place, carried))


def _line(session: Session, score: MatchScore, shots: tuple[ShotScore, ...], place: int, carried: int) -> str:
    shot = shots[place]
    run = carried + _run(shots, place)
    game = session.game
    racks = in_racks(run) if game == "straight_pool" else ""
    told = f"run {run} ({racks})" if racks else f"run {run}"
    parts = [f"break {run}" if game == "snooker" else told, f"on: {on_words(shot.balls_on)}"]
    earlier = next((s.outcome for s in reversed(shots[:place]) if s.outcome), None)
    if game == "snooker" and earlier is not None and earlier.snooker is not None:
        parts += _frame_parts(earlier.snooker, shot.player or "")
    if game == "eight_ball":
        parts.append(_group_words(shot.balls_on))
    if game == "straight_pool":
        parts.append(f"{count(len(shot.on_table), 'ball')} up")
    fouls = (earlier.foul_count or {}).get(shot.player or "", 0) if earlier else 0
    if fouls > 1:
        parts.append(f"on {count(fouls, 'foul')}")
    return " · ".join(parts)


def _frame_parts(frame: SnookerState, player: str) -> list[str]:
    """What remains in a frame, the player's lead, the snookers he requires."""
    parts = [f"{frame.remaining_points} remaining"]
    lead = frame.lead.get(player, 0)
    if lead:
        parts.append(f"{abs(lead)} {'ahead' if lead > 0 else 'behind'}")
    if frame.snookers_required:
        parts.append(f"{count(frame.snookers_required, 'snooker')} required")
    return parts


def _group_words(balls_on: tuple[str, ...]) -> str:
    """The group in eight-ball, from the balls on."""
    if len({group_of(ball) for ball in balls_on if ball != "8"}) > 1:
        return "open table"
    group = group_of(balls_on[0]) if balls_on else None
    return GROUP_WORDS.get(group or "", "the 8")


def _run(shots: tuple[ShotScore, ...], place: int) -> int:
    """Balls of the running visit before the shot; points where the game counts points."""
    visit = shots[place].visit
    earlier = [s.outcome for s in shots[:place] if s.visit == visit and s.outcome]
    player = shots[place].player or ""
    points = sum(o.points.get(player, 0) for o in earlier)
    return points or sum(len(o.counted) for o in earlier)
