"""The list of sessions, read by plain SQLite: what the window shows first waits for no other package."""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Iterable
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from ripasso.store.errors import failure
from ripasso.store.file.connecting import connect

_LINES = "SELECT key, title, date, game, kind, racks, shots, judged FROM session ORDER BY date DESC, title"
_NAMES = """
    SELECT link.session, person.name FROM session_person AS link JOIN person ON person.key = link.person
    ORDER BY link.session, link.position
"""


@dataclass(frozen=True)
class SessionLine:
    """What a list of sessions shows of one."""

    key: str
    title: str
    date: str | None
    game: str | None
    kind: str | None
    players: tuple[str, ...]
    racks: int
    shots: int
    judged: int


def session_lines(path: Path) -> list[SessionLine]:
    """A line for each session of an up-to-date library, the latest date first; raises `LibraryError`."""
    try:
        with closing(connect(path)) as library:
            found = library.execute(_LINES).fetchall()
            linked = library.execute(_NAMES).fetchall()
    except sqlite3.Error as error:
        raise failure(error, path) from error
    names: dict[str, tuple[str, ...]] = {}
    for key, name in linked:
        names[key] = (*names.get(key, ()), name)
    return [
        SessionLine(key, title, day, game, kind, names.get(key, ()), racks, shots, judged)
        for key, title, day, game, kind, racks, shots, judged in found
    ]


def told_apart(sessions: Iterable[tuple[str, str, str | None]]) -> dict[str, str]:
    """Titles by key, from key, title and date: two of one title get their dates, then numbers."""
    found = list(sessions)
    titles = Counter(title for _, title, _ in found)
    named = [(key, f"{title}, {day}" if titles[title] > 1 and day else title) for key, title, day in found]
    again, seen = Counter(name for _, name in named), Counter[str]()
    made = {}
    for key, name in sorted(named):
        seen[name] += 1
        made[key] = f"{name} ({seen[name]})" if again[name] > 1 and seen[name] > 1 else name
    return made
