"""The library's tables. docs/library.md says what each column holds.

A row carries its whole record as JSON; the other columns repeat what lists and searches need. A change
here needs a migration in `migrations/versions/` and a step of `header.LIBRARY_VERSION`.
"""

from __future__ import annotations

from typing import Any

from sqlalchemy import (
    Boolean,
    Column,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    String,
    Table,
    Text,
)

from ripasso.core.figures import schema

_STORED = {
    "text": String,
    "words": String,
    "flag": Boolean,
    "answer": Integer,
    "count": Integer,
    "number": Float,
}
#: A flag of the measures may be unknown, so it is no answer there.
_MEASURED = {**_STORED, "answer": Boolean}
metadata = MetaData()


def _of_session() -> ForeignKey:
    """A row goes when its session goes."""
    return ForeignKey("session.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED")


def _figure_column(column: schema.Column) -> Column[Any]:
    kind = _STORED[column.kind]
    if column.stored == "key":
        return Column("key", kind, primary_key=True)
    if column.stored == "session":
        return Column("session", kind, _of_session(), nullable=False)
    return Column(column.stored, kind, nullable=False)


def _child(name: str, parent: str, *columns: Column[object]) -> Table:
    """A table of rows with a record each, which go when their parent goes."""
    return Table(
        name,
        metadata,
        Column("key", String, primary_key=True),
        Column(
            parent,
            String,
            ForeignKey(f"{parent}.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED"),
            nullable=False,
            index=True,
        ),
        Column("position", Integer, nullable=False),
        *columns,
        Column("record", Text, nullable=False),
    )


session = Table(
    "session",
    metadata,
    Column("key", String, primary_key=True),
    Column("title", String, nullable=False),
    Column("date", String),
    Column("game", String),
    Column("kind", String),
    Column("racks", Integer, nullable=False),
    Column("shots", Integer, nullable=False),
    Column("judged", Integer, nullable=False),
    # What came of each rack, derived; see `core.figures.rack_results`.
    Column("course", Text, nullable=False),
    Column("record", Text, nullable=False),
)
rack = _child("rack", "session", Column("number", Integer, nullable=False))
shot = _child(
    "shot",
    "rack",
    Column("number", Integer, nullable=False),
    Column("player", String),
    Column("intent", String),
    Column("recording", String),
    Column("t_strike", Float),
)
attempt_set = _child("attempt_set", "session", Column("title", String))

person = Table(
    "person",
    metadata,
    Column("key", String, primary_key=True),
    Column("name", String, nullable=False),
)
session_person = Table(
    "session_person",
    metadata,
    Column(
        "session",
        String,
        ForeignKey("session.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED"),
        primary_key=True,
    ),
    Column("person", String, ForeignKey("person.key"), primary_key=True),
    Column("position", Integer, nullable=False),
)

# Derived from layouts and plans in the background; `stamp` tells what a row was computed from.
shot_measure = Table(
    "shot_measure",
    metadata,
    Column(
        "key",
        String,
        ForeignKey("shot.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED"),
        primary_key=True,
    ),
    Column(
        "session",
        String,
        ForeignKey("session.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED"),
        nullable=False,
        index=True,
    ),
    Column("stamp", String, nullable=False),
    *(Column(column.stored, _MEASURED[column.kind]) for column in schema.MEASURES),
)

# Derived from the records by `statistics.rows`; rows of another version are computed anew.
shot_figure = Table(
    "shot_figure",
    metadata,
    *(_figure_column(column) for column in schema.RECORD),
    Column("place", Integer, nullable=False),
    Column("version", Integer, nullable=False),
    Index("shot_figure_session_place", "session", "place"),
    Index("shot_figure_person", "person"),
)

# The facts of a session as statistics read them, see `core.figures.session_columns`. A row goes with the next
# change of its session and is made again when statistics or a search ask for it.
session_columns = Table(
    "session_columns",
    metadata,
    Column("session", String, _of_session(), primary_key=True),
    Column("data", LargeBinary, nullable=False),
)

# Layouts that are kept for use in any session; see `review.record.kept_layout`.
layout = Table(
    "layout",
    metadata,
    Column("key", String, primary_key=True),
    Column("title", String, nullable=False),
    Column("game", String),
    Column("record", Text, nullable=False),
)

# Which pages a report has; see `review.record.report`.
report = Table(
    "report",
    metadata,
    Column("key", String, primary_key=True),
    Column("title", String, nullable=False),
    Column("record", Text, nullable=False),
)

# What is being typed; a row goes when the text is kept, or left. `place` names the record and the key.
draft = Table(
    "draft",
    metadata,
    Column("place", String, primary_key=True),
    Column("session", String, _of_session(), nullable=False),
    Column("text", Text, nullable=False),
)
