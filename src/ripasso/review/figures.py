"""Shots of a session as rows of columns, and the output of `ripasso stats`.

This is the one place that says what a record counts as: made, failed, an error. The library stores the
rows; statistics read them and never build records.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ripasso.core.measures import ERROR_KINDS
from ripasso.core.measures.columns import Row
from ripasso.core.rules import MatchScore, ShotScore
from ripasso.review.context import contexts_of
from ripasso.review.meant import POT_INTENTS, meant_at_all, meant_ball, meant_ball_down
from ripasso.review.model import Error, Session, Shot
from ripasso.review.people import person_key
from ripasso.review.proposals import OUTCOME, is_proposed, settled
from ripasso.review.scoring import score_of

#: Part of what is stored beside derived rows: rows of another version are computed anew.
FIGURES_VERSION = 5


def shot_rows(session: Session, keys: Sequence[str] = (), score: MatchScore | None = None) -> list[Row]:
    """The rows of a session's shots in order; `keys` are the shots' keys in the library."""
    score = score or score_of(session)
    contexts = contexts_of(session, score)
    people = {p.id: person_key(session, p.id) for p in session.players or () if not p.ghost}
    rows: list[Row] = []
    for rack_index, rack in enumerate(session.racks or ()):
        for shot_index, shot in enumerate(rack.shots or ()):
            judged = score.racks[rack_index].shots[shot_index] if score else None
            key = keys[len(rows)] if keys else ""
            person = people.get(shot.player or "", "")
            context = contexts[rack_index][shot_index]
            rows.append((*_row(key, session.id, rack.number, person, shot, judged), *context.row()))
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
        went.tried and not went.fluke and meant_ball_down(shot, judged),
    )


def _said(shot: Shot, judged: ShotScore | None) -> tuple[Any, ...]:
    """What a search asks for besides: the meant ball and pocket, stroke, flags, causes, tags, notes."""
    stroke, result, errors = shot.stroke, shot.result, recorded_errors(shot)
    causes = dict.fromkeys(cause for error in errors for cause in error.causes or ())
    roots = [error.cause_shot for error in errors if error.cause_shot is not None]
    texts = [shot.note, *(comment.text for comment in shot.comments or ())]
    return (
        (meant_ball(shot, judged) if meant_at_all(shot) else None) or "",
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
