"""A session scored, measured and judged as a whole, as the command line reads a file."""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.core.figures.session_columns import SessionColumns
from ripasso.core.measures.errors import FoundError
from ripasso.core.rules import MatchScore
from ripasso.review.measuring.errors import rack_errors
from ripasso.review.measuring.measuring import measure_session
from ripasso.review.record.model import Session
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.rows.encoding import constants_of, encoded, measure_rows
from ripasso.statistics.rows.shot_rows import rack_results, shot_rows


@dataclass(frozen=True)
class MeasuredSession:
    """A session with everything that was found of it."""

    session: Session
    score: MatchScore | None
    columns: SessionColumns
    errors: tuple[tuple[tuple[FoundError, ...], ...], ...]  # by rack and shot


def measured_session(session: Session) -> MeasuredSession:
    """Score, measure and judge a whole session."""
    score, measured = score_of(session), measure_session(session)
    errors = tuple(
        tuple(rack_errors(rack, score.racks[i] if score else None, measured[i]))
        for i, rack in enumerate(session.racks or ())
    )
    rows, racks = shot_rows(session, score), rack_results(session, score)
    columns = encoded(rows, measure_rows(measured), constants_of(session), racks)
    return MeasuredSession(session, score, columns, errors)
