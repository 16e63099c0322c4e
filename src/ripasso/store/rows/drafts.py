"""What is being typed and not kept yet: stored with every key, so that a killed process loses one at most."""

from __future__ import annotations

from sqlalchemy import Connection, delete, select
from sqlalchemy.dialects.sqlite import insert as upsert

from ripasso.store.rows import tables


def keep(connection: Connection, session: str, place: str, text: str) -> None:
    """Store what is typed at a place of a session."""
    made = upsert(tables.draft).values(place=place, session=session, text=text)
    connection.execute(made.on_conflict_do_update(index_elements=["place"], set_={"text": text}))


def forget(connection: Connection, place: str) -> None:
    """What was typed at a place is kept elsewhere, or left."""
    connection.execute(delete(tables.draft).where(tables.draft.c.place == place))


def of_session(connection: Connection, session: str) -> dict[str, str]:
    """What was being typed in a session, by place."""
    draft = tables.draft
    query = select(draft.c.place, draft.c.text).where(draft.c.session == session)
    return {row.place: row.text for row in connection.execute(query)}
