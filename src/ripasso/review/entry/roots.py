"""The shot that caused a failure: one key takes the suggestion over, and walks back from it."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.core.measures.errors import FAILURES, FoundError
from ripasso.review.document.edits import REMOVE, Path
from ripasso.review.record.model import Shot, serialize
from ripasso.review.scoring.outcome import recorded_errors


class NoRoot(ValueError):
    """There is nothing to say of a cause here; the message is one sentence for the user."""


def root_values(shot: Shot, found: Sequence[FoundError]) -> dict[Path, object]:
    """The next thing one key says: the suggested shot, the one before, and so on, then nothing again.

    `found` are the shot's errors with their suggestions.
    """
    failures = [error for error in found if error.kind in FAILURES]
    if not failures:
        raise NoRoot("Nothing failed here, so there is no cause to look for.")
    error = failures[0]
    if error.cause_shot is not None:
        earlier = error.cause_shot - 1
        return _caused_by(shot, error.kind, earlier if earlier >= 1 else None)
    suggested = error.cause_suggested
    if suggested is None and shot.number <= 1:
        raise NoRoot("There is no shot before this one in the rack.")
    return _caused_by(shot, error.kind, suggested if suggested is not None else shot.number - 1)


def _caused_by(shot: Shot, kind: str, number: int | None) -> dict[Path, object]:
    """The shot's errors with the cause of one of them."""
    errors = [serialize(error) for error in recorded_errors(shot)]
    mine = next((error for error in errors if error["kind"] == kind), None)
    if mine is None:
        mine = {"kind": kind}
        errors.append(mine)
    if number is None:
        mine.pop("cause_shot", None)
    else:
        mine["cause_shot"] = number
    kept = [error for error in errors if set(error) != {"kind"}]
    if not kept:
        return {("error",): REMOVE}
    return {("error",): kept[0] if len(kept) == 1 else kept}
