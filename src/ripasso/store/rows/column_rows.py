"""The rows that facts are made of, and the columns of facts as they are kept for each session."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from sqlalchemy import Connection, delete, insert, select

from ripasso.core.figures.schema import MEASURE_FIELDS, SHOT_FIELDS, Row
from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.store.rows import tables


def rows_of(connection: Connection, session: str) -> tuple[list[Row], list[JsonMapping | None]]:
    """The rows of a session's shots in order, and what was measured of each (None: nothing)."""
    figure, row = tables.shot_figure, tables.shot_measure
    query = (
        select(
            *(figure.c[name] for name in SHOT_FIELDS), row.c.key, *(row.c[name] for name in MEASURE_FIELDS)
        )
        .select_from(figure.outerjoin(row, row.c.key == figure.c.key))
        .where(figure.c.session == session)
        .order_by(figure.c.place)
    )
    rows: list[Row] = []
    measured: list[JsonMapping | None] = []
    width = len(SHOT_FIELDS)
    for line in connection.execute(query):
        values = tuple(line)
        rows.append(values[:width])
        is_measured = values[width] is not None
        measures = dict(zip(MEASURE_FIELDS, values[width + 1 :], strict=True))
        measured.append(measures if is_measured else None)
    return rows, measured


def read(connection: Connection, sessions: Iterable[str]) -> dict[str, bytes]:
    """The columns that are kept of the given sessions."""
    kept = tables.session_columns
    wanted = set(sessions)
    query = select(kept.c.session, kept.c.data)
    if len(wanted) < 100:
        query = query.where(kept.c.session.in_(wanted))
    return {key: data for key, data in connection.execute(query) if key in wanted}


def write(connection: Connection, columns: Mapping[str, bytes]) -> None:
    """Keep columns; sessions that are gone meanwhile are left out."""
    session, kept = tables.session, tables.session_columns
    there = connection.execute(select(session.c.key).where(session.c.key.in_(list(columns)))).scalars()
    values: Sequence[JsonObject] = [{"session": key, "data": columns[key]} for key in there]
    if values:
        connection.execute(insert(kept).prefix_with("OR REPLACE"), values)


def forget(connection: Connection, session: str) -> None:
    """The columns of a session are not what its rows are any more."""
    connection.execute(delete(tables.session_columns).where(tables.session_columns.c.session == session))
