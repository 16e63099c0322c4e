"""The errors of a session's shots, both schools, from records and measures."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.core.measures.errors import (
    FoundError,
    Played,
    RecordedError,
    Seen,
    Thresholds,
    errors_of,
    is_awkward,
)
from ripasso.core.measures.shots import ShotMeasures
from ripasso.core.rules import RackScore, ShotScore
from ripasso.review.record.model import Rack, Shot
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.outcome import recorded_errors, shot_outcome


def rack_errors(
    rack: Rack,
    score: RackScore | None,
    measured: Sequence[ShotMeasures],
    limits: Thresholds | None = None,
) -> list[tuple[FoundError, ...]]:
    """The errors of each shot of a rack."""
    played = []
    shots = rack.shots or ()
    for place, shot in enumerate(shots):
        judged = score.shots[place] if score else None
        later = shots[place + 1] if place + 1 < len(shots) else None
        played.append(_played(shot, later, judged, measured[place]))
    return errors_of(played, limits)


def _played(record: Shot, later: Shot | None, judged: ShotScore | None, measures: ShotMeasures) -> Played:
    shot = without_proposals(record)
    outcome = shot_outcome(record, judged)
    recorded = recorded_errors(shot)
    causes = {cause for error in recorded for cause in error.causes or ()}
    result = shot.result
    return Played(
        number=shot.number,
        visit=judged.visit if judged else None,
        intent=shot.intent,
        made=outcome.made,
        failed=outcome.failed,
        fouled=outcome.fouled,
        awkward=is_awkward(shot.delivery or (), shot.methods or (), causes),
        judged_lost=bool(result and result.position == "lost"),
        leaves_to_other=later is not None and later.player != shot.player,
        mistake=bool(shot.decision and shot.decision.verdict == "mistake"),
        recorded=tuple(RecordedError(e.kind, e.unforced, e.cause_shot) for e in recorded),
        seen=Seen.of(measures),
    )
