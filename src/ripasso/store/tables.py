"""The library's tables. docs/library.md says what each column holds.

A row carries its whole record as JSON; the other columns repeat what lists and searches need. A change
here needs a migration in `migrations/versions/` and a step of `LIBRARY_VERSION`.
"""

from __future__ import annotations

from sqlalchemy import (
    Boolean,
    Column,
    Float,
    ForeignKey,
    Index,
    Integer,
    MetaData,
    String,
    Table,
    Text,
)

from ripasso.core.figures import columns
from ripasso.core.measures import measure_columns

#: "Rips" in ASCII; tells a library from any other SQLite file.
APPLICATION_ID = 0x52697073
LIBRARY_VERSION = 5

#: What a search asks for besides what counts, see docs/library.md.
SAID = (
    "ball",
    "pocket",
    "contact",
    "luck",
    "stroke",
    "stroke_pace",
    "methods",
    "delivery",
    "causes",
    "events",
    "tags",
    "root",
    "words",
)
#: What hangs on the shots about a shot, see docs/library.md; stored as the columns of statistics are typed.
CONTEXT = ("down", *columns.CONTEXT)
_STORED = {"Texts": String, "Numbers": Float, "Flags": Boolean, "Ints": Integer}
metadata = MetaData()


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
    *(Column(name, String) for name in measure_columns.TEXTS),
    *(Column(name, Boolean) for name in measure_columns.FLAGS),
    *(Column(name, Float) for name in measure_columns.NUMBERS),
)

# Derived from the records by `review.figures`; rows of another version are computed anew.
shot_figure = Table(
    "shot_figure",
    metadata,
    Column("key", String, primary_key=True),
    Column(
        "session",
        String,
        ForeignKey("session.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED"),
        nullable=False,
    ),
    Column("rack", Integer, nullable=False),
    Column("number", Integer, nullable=False),
    Column("person", String, nullable=False),
    Column("visit", Integer, nullable=False),
    Column("intent", String, nullable=False),
    Column("tried", Boolean, nullable=False),
    Column("made", Boolean, nullable=False),
    Column("failed", Boolean, nullable=False),
    Column("fouled", Boolean, nullable=False),
    Column("fluke", Boolean, nullable=False),
    Column("position", String, nullable=False),
    Column("pace", String, nullable=False),
    Column("side", String, nullable=False),
    Column("angle", String, nullable=False),
    Column("verdict", String, nullable=False),
    Column("errors", String, nullable=False),
    *(Column(name, Integer if name == "root" else String, nullable=False) for name in SAID),
    *(Column(name, _STORED[columns.ShotColumns.__annotations__[name]], nullable=False) for name in CONTEXT),
    Column("place", Integer, nullable=False),
    Column("version", Integer, nullable=False),
    Index("shot_figure_session_place", "session", "place"),
    Index("shot_figure_person", "person"),
)
