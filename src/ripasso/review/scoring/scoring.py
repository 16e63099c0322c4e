"""From records to the rule engine, and its answer as the output of `ripasso score`."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from operator import is_
from typing import Literal

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.rules import (
    MISSING,
    InProgress,
    MatchScore,
    Pot,
    RackFacts,
    RackScore,
    RackStep,
    SessionFacts,
    ShotFacts,
    ShotScore,
    game_for,
    match_score,
    score_racks,
)
from ripasso.core.rules.facts import Missing
from ripasso.review.record.model import Facts, Rack, Session, Shot


@dataclass(frozen=True)
class Scoring:
    """A scored session with the steps of its racks, from which a later scoring goes on."""

    facts: SessionFacts
    steps: tuple[RackStep, ...]
    score: MatchScore


def scored(facts: SessionFacts, before: Scoring | None = None) -> Scoring | None:
    """Score a session, going on from the score `before`; None for a game that is not known."""
    game = game_for(facts)
    if game is None:
        return None
    is_like = before is not None and replace(before.facts, racks=()) == replace(facts, racks=())
    known = before.steps if before is not None and is_like else ()
    steps = score_racks(facts, game, known)
    if before is not None and len(steps) == len(known) and all(map(is_, steps, known)):
        return before
    return Scoring(facts, steps, match_score(steps, facts, game))


def score_of(session: Session) -> MatchScore | None:
    """The score of a session; None for a game whose rules the program does not know."""
    found = scored(session_facts(session, [rack_facts(rack) for rack in session.racks or ()]))
    return found.score if found is not None else None


def session_facts(session: Session, racks: Iterable[RackFacts]) -> SessionFacts:
    """The plain facts of a session; `racks` are those of its racks."""
    players = tuple(p.id for p in session.players or () if not p.ghost)
    ghost = next((p.id for p in session.players or () if p.ghost), None)
    is_played = session.kind != "attempts"
    return SessionFacts(session.game, players, tuple(racks), session.rules or {}, ghost, is_played)


def rack_facts(rack: Rack) -> RackFacts:
    """The plain facts of one rack."""
    return RackFacts(
        shots=tuple(shot_facts(shot) for shot in rack.shots or ()),
        breaker=rack.breaker,
        layout=_balls_of(rack),
        in_progress=_in_progress(rack),
        score_before=rack.score_before,
        not_shown=bool(rack.not_shown),
        conceded_by=rack.conceded_by,
    )


def _balls_of(rack: Rack) -> tuple[str, ...] | None:
    """The balls a rack starts with; None for a full rack."""
    if rack.layout is not None:
        return tuple(rack.layout)
    return rack.in_progress.balls if rack.in_progress is not None else None


def _in_progress(rack: Rack) -> InProgress | None:
    said = rack.in_progress
    if said is None:
        return None
    return InProgress(said.points or {}, said.player, said.run or 0, said.on, said.groups or {})


def shot_facts(shot: Shot) -> ShotFacts:
    """The plain facts of one stroke; what is missing stays missing."""
    facts = shot.facts
    call = shot.call
    seen = facts or Facts()
    return ShotFacts(
        player=shot.player,
        intent=shot.intent,
        call_ball=call.ball if call else None,
        call_pocket=call.pocket if call else None,
        recorded=facts is not None,
        first_contact=_first_contact(seen),
        potted=tuple(Pot(pot.ball, pot.pocket) for pot in seen.potted or ()),
        cue_potted=bool(seen.cue_potted),
        off_table=seen.off_table or (),
        cushion_after_contact=seen.cushion_after_contact is not False,
        balls_to_cushion=seen.balls_to_cushion,
        other_fouls=seen.other_fouls or (),
        cue_to_cushion=seen.cue_to_cushion is not False,
        free_ball=bool(shot.free_ball),
        replaced=bool(shot.replaced),
        miss=bool(seen.miss),
    )


def _first_contact(facts: Facts) -> str | Literal[Missing.MISSING] | None:
    return facts.first_contact if "first_contact" in facts.model_fields_set else MISSING


def score_report(session: Session) -> JsonObject | None:
    """The output of `score --json`; None for a game whose rules the program does not know."""
    score = score_of(session)
    if score is None:
        return None
    return {
        "format": "ripasso-score",
        "version": 1,
        "racks": [_rack_report(rack) for rack in score.racks],
        "visits": [
            {
                "rack": visit.rack,
                "player": visit.player,
                "first_shot": visit.first_shot,
                "last_rack": visit.last_rack,
                "last_shot": visit.last_shot,
                "balls": visit.balls,
                "points": visit.points,
                "ended_by": visit.ended_by,
            }
            for visit in score.visits
        ],
        "match": {"score": dict(score.score), "winner": score.winner, "race_to": score.race_to},
        "problems": [{"path": path, "problem": text} for path, text in score.problems],
    }


def _rack_report(rack: RackScore) -> JsonObject:
    return {
        "number": rack.number,
        "shots": [_shot_report(shot) for shot in rack.shots],
        "score": dict(rack.score),
        "winner": rack.winner,
        "ended_by": rack.ended_by,
    }


def _shot_report(shot: ShotScore) -> JsonObject:
    report: JsonObject = {"number": shot.number, "player": shot.player}
    outcome = shot.outcome
    if outcome is None:
        return {**report, **_NOT_JUDGED, "warnings": list(shot.warnings)}
    report |= {
        "legal": outcome.legal,
        "fouls": list(outcome.fouls),
        "points": dict(outcome.points),
        "counted": list(outcome.counted),
        "spotted": list(outcome.spotted),
        "turn_ends": outcome.turn_ends,
        "next_players": list(outcome.next_players),
        "ball_in_hand": outcome.ball_in_hand_from is not None,
        "ball_in_hand_from": outcome.ball_in_hand_from,
        "rack_ends": outcome.rack_ends,
        "warnings": list(shot.warnings),
    }
    if outcome.foul_count is not None:
        report["foul_count"] = dict(outcome.foul_count)
    if outcome.snooker is not None:
        report |= {
            "next_on": outcome.snooker.next_on,
            "remaining_points": outcome.snooker.remaining_points,
            "lead": dict(outcome.snooker.lead),
            "snookers_required": outcome.snooker.snookers_required,
            "respotted_black": outcome.snooker.respotted_black,
        }
    return report


_NOT_JUDGED: JsonMapping = {
    "legal": None,
    "fouls": [],
    "points": {},
    "counted": [],
    "spotted": [],
    "turn_ends": False,
    "next_players": [],
    "ball_in_hand": False,
    "ball_in_hand_from": None,
    "rack_ends": False,
}
