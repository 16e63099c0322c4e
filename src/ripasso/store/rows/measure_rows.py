"""The stored measures of shots: what they were computed from, and how they are written."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from sqlalchemy import Connection, insert, select

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.store.rows import tables


def stamps(connection: Connection, session: str) -> dict[str, str]:
    """What the stored measures of a session were computed from, by shot."""
    row = tables.shot_measure
    found = connection.execute(select(row.c.key, row.c.stamp).where(row.c.session == session))
    return {line.key: line.stamp for line in found}


def unmeasured(connection: Connection) -> list[str]:
    """Sessions that have shots without measures."""
    figure, row = tables.shot_figure, tables.shot_measure
    measured = select(row.c.key)
    query = select(figure.c.session).where(figure.c.key.not_in(measured)).distinct()
    return list(connection.execute(query).scalars())


def write(connection: Connection, session: str, rows: Mapping[str, tuple[str, JsonMapping]]) -> None:
    """Store stamp and measures by shot; shots that are gone meanwhile are left out."""
    shot, row = tables.shot, tables.shot_measure
    there = set(connection.execute(select(shot.c.key).where(shot.c.key.in_(list(rows)))).scalars())
    values: Sequence[JsonObject] = [
        {"key": key, "session": session, "stamp": stamp, **measures}
        for key, (stamp, measures) in rows.items()
        if key in there
    ]
    if values:
        connection.execute(insert(row).prefix_with("OR REPLACE"), values)


def measures(connection: Connection, session: str) -> dict[str, JsonObject]:
    """The stored measures of a session by shot."""
    row = tables.shot_measure
    found = connection.execute(select(row).where(row.c.session == session)).mappings()
    return {line["key"]: dict(line) for line in found}
