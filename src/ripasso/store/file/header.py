"""What tells a library from any other file of SQLite, and one version of it from another."""

from __future__ import annotations

#: "Rips" in ASCII.
APPLICATION_ID = 0x52697073
#: Another number for every change of the tables; `migrations/versions/` has a step for each.
LIBRARY_VERSION = 13
#: The tables a library may hold; a file with others was changed by somebody else.
TABLES = frozenset(
    (
        *("session", "rack", "shot", "attempt_set", "person", "session_person"),
        *("shot_measure", "shot_figure", "session_columns", "draft", "layout", "report", "alembic_version"),
    )
)
