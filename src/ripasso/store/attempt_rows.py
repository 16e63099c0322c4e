"""The stored sets of attempts, each with the head of its session."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import Connection, select

from ripasso.review.record.model import AttemptSet, Session
from ripasso.store import tables


@dataclass(frozen=True)
class StoredAttempts:
    """A set of attempts; `head` is its session without racks and sets."""

    session: str
    head: Session
    record: AttemptSet


def attempt_sets(connection: Connection, sessions: Sequence[str] | None) -> list[StoredAttempts]:
    """The sets of the given sessions (None: of all), by date."""
    made, session = tables.attempt_set, tables.session
    query = (
        select(made.c.session, session.c.record.label("head"), made.c.record)
        .join(session, session.c.key == made.c.session)
        .order_by(session.c.date, made.c.session, made.c.position)
    )
    if sessions is not None:
        query = query.where(made.c.session.in_(list(sessions)))
    return [
        StoredAttempts(
            row.session, Session.model_validate_json(row.head), AttemptSet.model_validate_json(row.record)
        )
        for row in connection.execute(query)
    ]
