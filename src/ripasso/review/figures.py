"""Shots of a session as rows of columns, and the output of `ripasso stats`.

This is the one place that says what a record counts as: made, failed, an error. The library stores the
rows; statistics read them and never build records.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ripasso.core.measures import ERROR_KINDS, Count, JudgedFigures, Rate, ShotColumns, judged_figures
from ripasso.core.measures.attempts import attempt_figures
from ripasso.core.measures.columns import Row
from ripasso.core.measures.intervals import CONFIDENCE, FEW
from ripasso.core.rules import MatchScore, ShotScore
from ripasso.review.model import AttemptSet, Error, Session, Shot
from ripasso.review.proposals import OUTCOME, is_proposed, settled
from ripasso.review.scoring import score_of

#: Part of what is stored beside derived rows: rows of another version are computed anew.
FIGURES_VERSION = 3
POT_INTENTS = ("pot", "two_way")


def person_key(session: Session, player: str | None) -> str:
    """Who a player is across sessions: the name without case and extra spaces, else the session's id."""
    for candidate in session.players or ():
        if candidate.id == player:
            name = " ".join((candidate.name or "").split()).casefold()
            return name or f"id:{candidate.id}"
    return ""


def persons(session: Session) -> dict[str, str]:
    """Key and shown name of everybody in a session, ghosts left out."""
    return {
        person_key(session, player.id): " ".join((player.name or player.id).split())
        for player in session.players or ()
        if not player.ghost
    }


def shot_rows(session: Session, keys: Sequence[str] = (), score: MatchScore | None = None) -> list[Row]:
    """The rows of a session's shots in order; `keys` are the shots' keys in the library."""
    score = score or score_of(session)
    people = {p.id: person_key(session, p.id) for p in session.players or () if not p.ghost}
    rows: list[Row] = []
    for rack_index, rack in enumerate(session.racks or ()):
        for shot_index, shot in enumerate(rack.shots or ()):
            judged = score.racks[rack_index].shots[shot_index] if score else None
            key = keys[len(rows)] if keys else ""
            person = people.get(shot.player or "", "")
            rows.append(_row(key, session.id, rack.number, person, shot, judged))
    return rows


def _row(key: str, session: str, rack: int, person: str, record: Shot, judged: ShotScore | None) -> Row:
    shot = settled(record)
    result = shot.result
    went = outcome_of(record, judged)
    return (
        key,
        session,
        rack,
        shot.number,
        person,
        judged.visit if judged and judged.visit is not None else -1,
        shot.intent or "",
        went.tried,
        went.made,
        went.failed,
        went.fouled,
        went.fluke,
        (result and result.position) or "",
        (result and result.pace) or "",
        (result and result.side) or "",
        (result and result.angle) or "",
        (shot.decision and shot.decision.verdict) or "",
        " ".join(_errors(shot, made=went.made, failed=went.failed, fouled=went.fouled)),
        *_said(shot, judged),
    )


def _said(shot: Shot, judged: ShotScore | None) -> tuple[Any, ...]:
    """What a search asks for besides: the meant ball and pocket, stroke, flags, causes, tags, notes."""
    stroke, result, errors = shot.stroke, shot.result, recorded_errors(shot)
    causes = dict.fromkeys(cause for error in errors for cause in error.causes or ())
    roots = [error.cause_shot for error in errors if error.cause_shot is not None]
    meant = shot.intent in POT_INTENTS or (shot.call is not None and shot.call.ball is not None)
    texts = [shot.note, *(comment.text for comment in shot.comments or ())]
    return (
        (meant_ball(shot, judged) if meant else None) or "",
        (shot.call and shot.call.pocket) or "",
        (result and result.contact) or "",
        (result and result.luck) or "",
        (stroke and stroke.kind) or "",
        (stroke and stroke.pace) or "",
        " ".join(shot.methods or ()),
        " ".join(shot.delivery or ()),
        " ".join(causes),
        " ".join(shot.events or ()),
        " ".join(tag.replace(" ", "_") for tag in shot.tags or ()),
        roots[0] if roots else -1,
        " ".join(text for text in texts if text),
    )


@dataclass(frozen=True, slots=True)
class Went:
    """How a shot went, as every figure counts it."""

    tried: bool
    made: bool
    failed: bool
    fouled: bool
    fluke: bool


def outcome_of(record: Shot, judged: ShotScore | None) -> Went:
    """Whether a pot was tried, made, failed, a foul, a fluke.

    A proposal carries the score along, but counts in no figure until it is accepted.
    """
    shot, is_open = settled(record), is_proposed(record, OUTCOME)
    tried = shot.intent in POT_INTENTS and shot.facts is not None and not is_open
    fouled = _is_foul(shot, None if is_proposed(record, ("facts",)) else judged)
    fluke = bool(shot.result and shot.result.luck == "fluke")
    down = tried and meant_ball_down(shot, judged)
    return Went(tried, down and not fouled and not fluke, tried and (fluke or not down), fouled, fluke)


def _is_foul(shot: Shot, judged: ShotScore | None) -> bool:
    """By the rules where they are known, else by what is a foul in every game."""
    if judged is not None and judged.outcome is not None:
        return not judged.outcome.legal
    facts = shot.facts
    return bool(facts and (facts.cue_potted or facts.off_table or facts.other_fouls))


def meant_ball(shot: Shot, judged: ShotScore | None) -> str | None:
    """The ball a pot was meant for: called, else the only ball on, else the ball hit first."""
    if shot.call and shot.call.ball:
        return shot.call.ball
    on = judged.balls_on if judged else ()
    if len(on) == 1:
        return on[0]
    first = shot.facts.first_contact if shot.facts else None
    if first is not None and (not on or first in on):
        return first
    return None


def meant_ball_down(shot: Shot, judged: ShotScore | None) -> bool:
    """The meant ball fell into the meant pocket (any pocket where none was called or recorded)."""
    ball = meant_ball(shot, judged)
    pocket = shot.call.pocket if shot.call else None
    fallen = (shot.facts.potted if shot.facts else None) or ()
    return any(p.ball == ball and (not pocket or not p.pocket or p.pocket == pocket) for p in fallen)


def recorded_errors(shot: Shot) -> tuple[Error, ...]:
    """The errors as recorded; one stands for itself, a list for its members."""
    error = shot.error
    if error is None:
        return ()
    return (error,) if isinstance(error, Error) else error


def found_kinds(shot: Shot, *, made: bool, failed: bool, fouled: bool) -> tuple[str, ...]:
    """The kinds of error that follow from the record without any measuring."""
    kinds = []
    if failed:
        kinds.append("pot")
    if made and shot.result and shot.result.position == "lost":
        kinds.append("position")
    if fouled:
        kinds.append("break" if shot.intent == "break" else "foul")
    if shot.decision and shot.decision.verdict == "mistake":
        kinds.append("decision")
    return tuple(kinds)


def _errors(shot: Shot, *, made: bool, failed: bool, fouled: bool) -> list[str]:
    words = {None: "?", True: "yes", False: "no"}
    recorded = {error.kind: words[error.unforced] for error in recorded_errors(shot)}
    found = found_kinds(shot, made=made, failed=failed, fouled=fouled)
    merged = dict.fromkeys(found, "?") | recorded
    return [f"{kind}:{merged[kind]}" for kind in ERROR_KINDS if kind in merged]


def stats_report(
    sessions: Sequence[Session], player: str | None = None, shots: ShotColumns | None = None
) -> dict[str, Any]:
    """The output of `stats --json` over sessions pooled in order (the judged school).

    `shots` are those that count, where not all do.
    """
    columns = shots
    if columns is None:
        columns = ShotColumns.from_rows([row for session in sessions for row in shot_rows(session)])
    players: dict[str, Any] = {}
    for key, (name, shown) in _people(sessions).items():
        if player is None or player.casefold() in (name, shown.casefold(), key.casefold()):
            figures = judged_figures(columns, name)
            players[key] = {"name": shown, **figures_report(figures, columns)}
    settings = {"school": "judged", "interval": CONFIDENCE, "few": FEW}
    report = {"format": "ripasso-stats", "version": 1, "settings": settings, "players": players}
    sets = [_attempts(one) for session in sessions for one in session.attempt_sets or ()]
    return {**report, "attempts": sets} if sets else report


def _attempts(made: AttemptSet) -> dict[str, Any]:
    """The figures of one set of attempts."""
    outcomes = [None if one.outcome is None else one.outcome == "success" for one in made.attempts or ()]
    figures = attempt_figures(outcomes)
    tries = figures.tries
    return {
        "id": made.id,
        "until_first_success": figures.until_first_success,
        "rate": _rate(figures.rate),
        "tries_per_success": {"value": tries.value, "low": tries.low, "high": tries.high},
    }


def _people(sessions: Sequence[Session]) -> dict[str, tuple[str, str]]:
    """Output key (the first session's id of the person, made unique) to person key and shown name."""
    found: dict[str, tuple[str, str]] = {}
    known: set[str] = set()
    for session in sessions:
        for player in session.players or ():
            person = person_key(session, player.id)
            if player.ghost or person in known:
                continue
            known.add(person)
            key, copy = player.id, 2
            while key in found:
                key, copy = f"{player.id}-{copy}", copy + 1
            found[key] = (person, player.name or player.id)
    return found


def figures_report(figures: JudgedFigures, columns: ShotColumns) -> dict[str, Any]:
    """One player's figures in the shape of `stats --json`."""
    return {
        "shots": len(figures.shots),
        "pot_success": _rate(figures.pot_success.rate),
        "two_way_success": _rate(figures.two_way_success.rate),
        "flukes": _places(columns, figures.flukes),
        "position_judged": {name: _rate(e.rate) for name, e in figures.position.items()},
        "decisions": {"agreement": _rate(figures.agreement.rate)},
        "errors": {
            "list": _error_list(columns, figures),
            "unforced": {kind: len(shots) for kind, shots in figures.unforced.items()},
            "unforced_total": figures.unforced_total,
            "per_100_shots": _count(figures.per_100_shots),
            "per_visit": _count(figures.per_visit),
            "per_rack": _count(figures.per_rack),
        },
        "not_judged": {
            "position": len(figures.position_not_judged),
            "decisions": len(figures.decisions_not_judged),
            "errors": len(figures.errors_not_judged),
        },
    }


def _error_list(columns: ShotColumns, figures: JudgedFigures) -> list[dict[str, Any]]:
    judged = {"yes": True, "no": False, "?": None}
    listed = []
    for i in figures.shots.tolist():
        for word in str(columns.errors[i]).split():
            kind, unforced = word.split(":")
            school = None if unforced == "?" else "judged"
            listed.append(
                {**_place(columns, i), "kind": kind, "unforced": judged[unforced], "school": school}
            )
    return listed


def _places(columns: ShotColumns, indices: Any) -> list[dict[str, int]]:
    return [_place(columns, i) for i in np.asarray(indices).tolist()]


def _place(columns: ShotColumns, index: int) -> dict[str, int]:
    return {"rack": int(columns.rack[index]), "number": int(columns.number[index])}


def _rate(rate: Rate) -> dict[str, Any]:
    return {"made": rate.made, "of": rate.of, "rate": rate.rate, "low": rate.low, "high": rate.high}


def _count(count: Count) -> dict[str, Any]:
    return {
        "count": count.count,
        "per": count.per,
        "rate": count.rate,
        "low": count.low,
        "high": count.high,
    }
