"""Shots of a session as rows of columns, and the output of `ripasso stats`.

This is the one place that says what a record counts as: made, failed, an error. The library stores the
rows; statistics read them and never build records.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ripasso.core.figures.columns import Row
from ripasso.core.figures.judged import ERROR_KINDS
from ripasso.core.rules import MatchScore, ShotScore
from ripasso.review.document.document import Derived
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import Session, Shot
from ripasso.review.record.people import person_key, persons
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.meant import meant_at_all, meant_ball, meant_ball_down
from ripasso.review.scoring.outcome import found_kinds, recorded_errors, shot_outcome
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.rows.contexts import contexts_of

#: Part of what is stored beside derived rows: rows of another version are computed anew.
FIGURES_VERSION = 5


def derived_rows(snapshot: Snapshot) -> Derived:
    """What is stored beside a session's record."""
    session = snapshot.session
    rows = shot_rows(session, [shot.key for shot in snapshot.shots], snapshot.score)
    return Derived(snapshot.key, rows, persons(session), FIGURES_VERSION)


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
    shot = without_proposals(record)
    result = shot.result
    went = shot_outcome(record, judged)
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


def _errors(shot: Shot, *, made: bool, failed: bool, fouled: bool) -> list[str]:
    words = {None: "?", True: "yes", False: "no"}
    recorded = {error.kind: words[error.unforced] for error in recorded_errors(shot)}
    found = found_kinds(shot, made=made, failed=failed, fouled=fouled)
    merged = dict.fromkeys(found, "?") | recorded
    return [f"{kind}:{merged[kind]}" for kind in ERROR_KINDS if kind in merged]
