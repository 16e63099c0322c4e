"""The stored sets of attempts, each with the head of its session."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError
from sqlalchemy import Connection, Row, select

from ripasso.review.record.model import Session
from ripasso.review.record.practice import AttemptSet
from ripasso.store.rows import tables


@dataclass(frozen=True)
class StoredAttempts:
    """A set of attempts; `head` is its session without racks and sets.

    `is_whole` is not so where a search left some of its attempts out.
    """

    session: str
    head: Session
    record: AttemptSet
    is_whole: bool = True


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
    return [one for row in connection.execute(query) if (one := _stored(row)) is not None]


def _stored(row: Row[Any, Any, Any]) -> StoredAttempts | None:
    """A set of a row; None where its record, or that of its session, is damaged."""
    try:
        head, record = Session.model_validate_json(row.head), AttemptSet.model_validate_json(row.record)
    except (ValidationError, TypeError):
        return None
    return StoredAttempts(row.session, head, record)
