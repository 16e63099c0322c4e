"""Sessions for tests, made from a few words."""

from __future__ import annotations

import json
from typing import Any

from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Rows
from ripasso.review.record.model import Session
from ripasso.statistics.rows.shot_rows import derived_rows


def session_data(**changes: Any) -> dict[str, Any]:
    """The data of a nine-ball match of two with nothing in it, and what is changed of it."""
    return {
        "format": "ripasso-session",
        "version": 1,
        "id": "test",
        "title": "A test",
        "kind": "match",
        "game": "nine_ball",
        "players": [{"id": "a", "name": "Ada Quill"}, {"id": "b", "name": "Bram Oster"}],
        "racks": [],
        **changes,
    }


def session(**changes: Any) -> Session:
    """The same as a record."""
    return Session.model_validate_json(json.dumps(session_data(**changes)))


def rack_of(*shots: dict[str, Any], breaker: str = "a", **more: Any) -> dict[str, Any]:
    """A rack with its shots numbered."""
    numbered = [{"number": i, **shot} for i, shot in enumerate(shots, start=1)]
    return {"number": 1, "breaker": breaker, "shots": numbered, **more}


def played(player: str, *potted: str, intent: str = "pot", **facts: Any) -> dict[str, Any]:
    """A shot with what fell, each ball into foot left."""
    fallen = [{"ball": ball, "pocket": "foot_left"} for ball in potted]
    return {"player": player, "intent": intent, "facts": {"potted": fallen, **facts}}


class MemoryStorage:
    """A storage that keeps everything in memory, as the library would."""

    read_only = False

    def __init__(self) -> None:
        self.rows: dict[str, dict[Any, Any]] = {}
        self.commits = 0
        self.fail_with: Exception | None = None

    def load(self, session: str) -> Rows:
        return dict(self.rows.get(session, {}))

    def keys(self) -> set[str]:
        return {key for key, rows in self.rows.items() if ("session", key) in rows}

    def commit(self, changes: Any, derived: Any) -> None:
        if self.fail_with is not None:
            raise self.fail_with
        changes = list(changes)
        self.commits += 1
        key = derived.session if derived else next(c.key for c in changes if c.table == "session")
        rows = self.rows.setdefault(key, {})
        for change in changes:
            if change.after is None:
                rows.pop((change.table, change.key), None)
            else:
                rows[change.table, change.key] = change.after


def document_with(record: Session) -> Document:
    """A document in memory that holds one session."""
    document = Document(MemoryStorage(), derived_rows)
    document.run(add_session(record))
    return document


def warnings_of(report):
    """Everything a score report warns of."""
    shots = [shot for rack in report["racks"] for shot in rack["shots"]]
    return {warning for shot in shots for warning in shot["warnings"]}
