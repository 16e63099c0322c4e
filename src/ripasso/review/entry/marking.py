"""Marks: the strike that begins a shot, and all balls at rest. One key each; neither inverts the other."""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.core.rules import RackScore
from ripasso.core.rules.pool import opponent
from ripasso.review.document.command import Command
from ripasso.review.document.edits import Path, add_rack, add_shot, new_key, set_values, several
from ripasso.review.document.snapshot import RackRow, ShotRow, Snapshot
from ripasso.review.entry.implied import imply_pot
from ripasso.review.record.model import Shot
from ripasso.review.scoring.meant import POT_INTENTS
from ripasso.review.table.layouts import carried, follow_facts

# Two strikes closer than this are one strike marked twice; the fastest honest pair of strokes is slower.
SAME_STRIKE_S = 0.5
#: After a shot meant so its player may go on; any other ends the turn, whatever came of it.
MAY_GO_ON = (None, "break", *POT_INTENTS)


class NothingToMark(ValueError):
    """There is no shot for this mark; the message says what to do."""


@dataclass(frozen=True)
class Moment:
    """A time on a recording, in seconds from its start."""

    recording: str
    t: float


def mark_strike(snapshot: Snapshot, at: Moment, selected: str | None) -> tuple[Command, str]:
    """The command for a strike at a moment, and the key of the shot it belongs to.

    A selected shot without a time gets this one; a strike marked twice is moved; else a new shot is
    begun at its place in time, in a new rack when the one before it is over. What the strike implies of
    the shot before it is proposed with it.
    """
    values: dict[Path, object] = {("recording",): at.recording, ("t_strike",): at.t}
    chosen = snapshot.shot(selected) if selected else None
    if chosen is not None and chosen.record.t_strike is None:
        return _mark(snapshot, chosen, values), chosen.key
    on_film = [s for s in snapshot.shots if s.record.recording == at.recording]
    for shot in on_film:
        if shot.record.t_strike is not None and abs(shot.record.t_strike - at.t) < SAME_STRIKE_S:
            return _mark(snapshot, shot, values), shot.key
    before = [s for s in on_film if s.record.t_strike is not None and s.record.t_strike < at.t]
    last = max(before, key=lambda s: float(s.record.t_strike or 0), default=None)
    last = last or (snapshot.shots[-1] if snapshot.shots and not on_film else None)
    implied = _implied(snapshot, last)
    if implied is None:
        return _new_shot(snapshot, at, last)
    commands = [implied]
    between = snapshot.applied(implied.changes) or snapshot
    followed = follow_facts(between, last.key) if last is not None else None
    if followed is not None:
        commands.append(followed)
        between = between.applied(followed.changes) or between
    command, key = _new_shot(between, at, between.shot(last.key) if last else None)
    return several(command.label, [*commands, command]), key


def _implied(snapshot: Snapshot, last: ShotRow | None) -> Command | None:
    """What a strike after the last shot of a rack says of it."""
    rack = snapshot.rack(last.rack) if last else None
    if last is None or rack is None or rack.shots[-1].key != last.key:
        return None
    return imply_pot(snapshot, last.key)


def _mark(snapshot: Snapshot, shot: ShotRow, values: dict[Path, object]) -> Command:
    return set_values(snapshot, "shot", shot.key, values, f"Mark the strike of shot {shot.record.number}")


def _new_shot(snapshot: Snapshot, at: Moment, last: ShotRow | None) -> tuple[Command, str]:
    shot_key = new_key()
    waiting = snapshot.racks[-1] if snapshot.racks else None
    is_waiting = waiting is not None and not waiting.shots and not waiting.record.not_shown
    if waiting is not None and is_waiting and (last is not None or not snapshot.shots):
        # A rack has been begun already, as after racks that are not shown: this is its first shot.
        shot = _first_values(snapshot, waiting.key, at, first_player(snapshot, waiting))
        return add_shot(snapshot, waiting.key, 0, shot, shot_key), shot_key
    first = next((row for row in snapshot.racks if not row.record.not_shown), None)
    rack = snapshot.rack(last.rack) if last else first
    position = rack.place(last.key) + 1 if rack and last else 0
    if rack is None or (position == len(rack.shots) and _is_over(snapshot, rack)):
        rack_key = new_key()
        breaker = next_breaker(snapshot)
        begin = add_rack(snapshot, {"breaker": breaker} if breaker else {}, rack_key)
        snapshot = snapshot.applied(begin.changes) or snapshot
        shot = _first_values(snapshot, rack_key, at, breaker)
        strike = add_shot(snapshot, rack_key, 0, shot, shot_key)
        return several("Mark a strike: a new rack", [begin, strike]), shot_key
    if position == 0:
        shot = _first_values(snapshot, rack.key, at, first_player(snapshot, rack))
    else:
        shot = {"recording": at.recording, "t_strike": at.t}
        player = next_player(snapshot, rack, position)
        if player and not is_open(snapshot, rack, position):
            shot["player"] = player
        layout = carried(snapshot, rack.shots[position - 1])
        if layout is not None:
            shot["before"] = layout
    command = add_shot(snapshot, rack.key, position, shot, shot_key)
    return several(f"Mark the strike of shot {position + 1}", [command]), shot_key


def _first_values(snapshot: Snapshot, rack: str, at: Moment, breaker: str | None) -> dict[str, object]:
    row = snapshot.rack(rack)
    values: dict[str, object] = {"recording": at.recording, "t_strike": at.t}
    if breaker:
        values["player"] = breaker
    if row is None or row.shots or _goes_on(snapshot, row):
        return values
    if row.record.layout is not None:
        values["before"] = row.record.layout
    elif row.record.in_progress is None:
        values["intent"] = "break"
    return values


def first_player(snapshot: Snapshot, rack: RackRow) -> str | None:
    """Who strikes first in a rack: whoever its film found at the table, else the breaker."""
    going_on = rack.record.in_progress
    if going_on is not None:
        return going_on.player
    return rack.record.breaker or next_breaker(snapshot, rack.record.number)


def _goes_on(snapshot: Snapshot, rack: RackRow) -> bool:
    """Play goes on from the rack before, as in straight pool: this rack has no break of its own."""
    place = snapshot.rack_index(rack.key)
    before = snapshot.score.racks[place - 1] if snapshot.score and place else None
    return before is not None and before.ended_by == "reracked"


def _rack_score(snapshot: Snapshot, rack: RackRow) -> RackScore | None:
    return snapshot.score.racks[snapshot.rack_index(rack.key)] if snapshot.score else None


def _is_over(snapshot: Snapshot, rack: RackRow) -> bool:
    score = _rack_score(snapshot, rack)
    return score is not None and score.ended_by is not None


def _players(snapshot: Snapshot) -> tuple[str, ...]:
    return tuple(p.id for p in snapshot.head.players or () if not p.ghost)


def next_player(snapshot: Snapshot, rack: RackRow, position: int) -> str | None:
    """Who strikes at a place of a rack by the rules; where they do not say, the player before goes on."""
    players = _players(snapshot)
    before = rack.shots[position - 1].record if position else None
    score = _rack_score(snapshot, rack)
    outcome = score.shots[position - 1].outcome if score and before else None
    if outcome is not None and outcome.next_players:
        # Where both may be next (after a push-out) the opponent is the usual case.
        other = opponent(players, before.player if before else None)
        return other if other in outcome.next_players else outcome.next_players[0]
    if before:
        return before.player
    return players[0] if players else None


def is_open(snapshot: Snapshot, rack: RackRow, position: int) -> bool:
    """Nobody can say yet who strikes at a place of a rack: what came of the shot before is not said.

    Marks alone would give every second shot to the other player.
    """
    before = rack.shots[position - 1].record if position else None
    if before is None or before.facts is not None or before.intent not in MAY_GO_ON:
        return False
    return _rack_score(snapshot, rack) is not None and len(_players(snapshot)) > 1


def settled_players(snapshot: Snapshot, shot: str) -> Command | None:
    """After a fact of a shot was said: who strikes next, where that was left open, shot by shot."""
    row = snapshot.shot(shot)
    rack = snapshot.rack(row.rack) if row else None
    commands: list[Command] = []
    place = rack.place(shot) + 1 if rack is not None else 0
    while rack is not None and place < len(rack.shots):
        later = rack.shots[place]
        player = next_player(snapshot, rack, place)
        if later.record.player is not None or player is None or is_open(snapshot, rack, place):
            break
        commands.append(
            set_values(snapshot, "shot", later.key, {("player",): player}, "Say who strikes next")
        )
        snapshot = snapshot.applied(commands[-1].changes) or snapshot
        rack, place = snapshot.rack(rack.key), place + 1
    return several("Say who strikes next", commands) if commands else None


def next_breaker(snapshot: Snapshot, number: int | None = None) -> str | None:
    """Who breaks the next rack, or the rack of a number, by the order of breaks."""
    players = _players(snapshot)
    if not snapshot.racks:
        return players[0] if players else None
    played = [rack for rack in snapshot.racks if rack.shots]
    if not played:
        return players[0] if players else None
    last = played[-1]
    order = (snapshot.head.rules or {}).get("break_order", "alternate")
    if order == "alternate":
        breaker = last.record.breaker or (last.shots[0].record.player if last.shots else None)
        # Over racks that are not shown the breaks go on by turns.
        is_even = number is not None and (number - last.record.number) % 2 == 0
        return breaker if is_even else opponent(players, breaker)
    if number is not None and number != last.record.number + 1:
        return None  # who won the rack before is not shown
    score = _rack_score(snapshot, last)
    winner = score.winner if score else None
    return winner if order == "winner" else opponent(players, winner)


def mark_rest(snapshot: Snapshot, at: Moment) -> tuple[Command, str]:
    """All balls at rest: ends the last shot that was struck before this moment."""
    struck = [
        shot
        for shot in snapshot.shots
        if shot.record.recording == at.recording
        and shot.record.t_strike is not None
        and shot.record.t_strike <= at.t
    ]
    if not struck:
        raise NothingToMark("No strike is marked before this moment; mark the strike first.")
    shot = max(struck, key=lambda s: float(s.record.t_strike or 0))
    label = f"Mark shot {shot.record.number} at rest"
    return set_values(snapshot, "shot", shot.key, {("t_rest",): at.t}, label), shot.key


def strike_of(shot: Shot) -> Moment | None:
    """Where a shot stands on its recording."""
    if shot.recording is None or shot.t_strike is None:
        return None
    return Moment(shot.recording, float(shot.t_strike))
