"""Document: scoring, and one key from press to stored, beside bare SQLite."""

from __future__ import annotations

import sqlite3
import statistics
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from ripasso.core.rules import game_for, score_session
from ripasso.demo.matches.sessions import shipped
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session, set_values
from ripasso.review.record.model import Session
from ripasso.review.scoring.scoring import rack_facts, session_facts
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import open_library

ROUNDS = 30


def measure() -> Iterator[str]:
    match = shipped()[-1]
    shots = sum(len(rack.shots or ()) for rack in match.racks or ())
    for session in shipped():
        yield f"{session.title}: {_scoring_us(session):.0f} microseconds a shot"
    with tempfile.TemporaryDirectory() as folder:
        key = _key_times(Path(folder) / "bench.ripasso", match)
        bare = _bare_times(Path(folder) / "bare.sqlite")
    words = f"{1000 * key:.1f} ms in a match of {shots} shots, {key / bare:.1f} x one bare SQLite update"
    yield f"one key stored: {words}"


def _scoring_us(session: Session) -> float:
    """Microseconds a shot for scoring a whole session, by its median."""
    facts = session_facts(session, [rack_facts(rack) for rack in session.racks or ()])
    game = game_for(facts)
    times = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        score_session(facts, game)
        times.append(time.perf_counter() - start)
    return 1e6 * statistics.median(times) / sum(len(rack.shots) for rack in facts.racks)


def _key_times(path: Path, match: object) -> float:
    library = open_library(path)
    document = Document(library, derived_rows)
    document.run(add_session(match))
    times = []
    for turn in range(ROUNDS):
        snapshot = document.session(match.id)
        shot = snapshot.shots[100].key
        start = time.perf_counter()
        document.run(set_values(snapshot, "shot", shot, {("note",): str(turn)}, "note"))
        times.append(time.perf_counter() - start)
    library.close()
    return statistics.median(times)


def _bare_times(path: Path) -> float:
    connection = sqlite3.connect(path, isolation_level=None)
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = NORMAL")
    connection.execute("CREATE TABLE shot (key TEXT PRIMARY KEY, record TEXT)")
    connection.execute("INSERT INTO shot VALUES ('k', '')")
    times = []
    for turn in range(ROUNDS):
        start = time.perf_counter()
        connection.execute("BEGIN IMMEDIATE")
        connection.execute("UPDATE shot SET record = ? WHERE key = 'k'", (str(turn) * 100,))
        connection.execute("COMMIT")
        times.append(time.perf_counter() - start)
    connection.close()
    return statistics.median(times)
