"""What a search may ask of attempts: columns as for shots, a row an attempt; what they lack is nothing."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

from ripasso.core.figures.facts import UNKNOWN
from ripasso.core.finding.matching import FIELDS, coded, matching
from ripasso.core.finding.query import Query
from ripasso.review.record.people import persons
from ripasso.review.record.practice import Attempt
from ripasso.store.rows.attempt_rows import StoredAttempts

Row = tuple[StoredAttempts, Attempt]


def _called(part: str) -> Callable[[Row], str]:
    def value(row: Row) -> str:
        target = row[0].record.target
        return str((getattr(target, part) if target is not None else None) or "")

    return value


def _exercise(row: Row) -> str:
    """The title of the exercise, and that of the set where it has its own."""
    stored = row[0]
    plan = stored.head.practice_plan
    named = {one.id: one.title for one in (plan.exercises if plan is not None else None) or ()}
    titles = (named.get(stored.record.exercise or ""), stored.record.title)
    return " ".join(dict.fromkeys(one for one in titles if one)) or stored.record.id


#: The text of an attempt under each field; the other fields of texts are empty.
TEXTS: Mapping[str, Callable[[Row], str]] = {
    "game": lambda row: row[0].head.game or "",
    "kind": lambda row: row[0].head.kind or "",
    "session": lambda row: row[0].head.title,
    "date": lambda row: row[0].record.date or row[0].head.date or "",
    "player": lambda row: " ".join(persons(row[0].head).values()),
    "exercise": _exercise,
    "outcome": lambda row: row[1].outcome or "",
    "changed": lambda row: " ".join(one.what or "other" for one in row[1].changed or ()),
    "contact": lambda row: row[1].miss or "",
    "cause": lambda row: " ".join(row[1].every_cause),
    "note": lambda row: row[1].note or "",
    "ball": _called("ball"),
    "pocket": _called("pocket"),
}
_MADE = {"success": 1, "failure": 0}


class AttemptColumns(Mapping[str, npt.NDArray[Any]]):
    """Every column that a query may ask for, made when it is asked for."""

    def __init__(self, rows: Sequence[Row]) -> None:
        self._rows = rows

    def __iter__(self) -> Iterator[str]:
        return iter(FIELDS)

    def __len__(self) -> int:
        return len(FIELDS)

    def __getitem__(self, name: str) -> npt.NDArray[Any]:
        kind = FIELDS[name].kind
        if kind == "number":
            return np.array([_number(name, row) for row in self._rows], dtype=np.float64)
        if kind == "answer":
            return np.array([_answer(name, row[1]) for row in self._rows], dtype=np.int64)
        if kind == "flag":
            return np.zeros(len(self._rows), dtype=np.bool_)
        text = TEXTS.get(name)
        return coded([text(row) if text is not None else "" for row in self._rows])


def _number(name: str, row: Row) -> float:
    balls = row[1].count
    return float(balls) if name == "balls" and balls is not None else np.nan


def _answer(name: str, attempt: Attempt) -> int:
    return _MADE.get(attempt.outcome or "", UNKNOWN) if name == "made" else UNKNOWN


def found_attempts(query: Query | None, stored: Sequence[StoredAttempts]) -> list[StoredAttempts]:
    """The sets with the attempts asked for alone; a set without one is left out."""
    if query is None:
        return list(stored)
    rows = [(one, attempt) for one in stored for attempt in one.record.attempts or ()]
    wanted = iter(matching(query, AttemptColumns(rows)).tolist()) if rows else iter(())
    found = []
    for one in stored:
        kept = tuple(attempt for attempt in one.record.attempts or () if next(wanted))
        if kept:
            record = one.record.model_copy(update={"attempts": kept})
            is_whole = one.is_whole and len(kept) == len(one.record.attempts or ())
            found.append(StoredAttempts(one.session, one.head, record, is_whole))
    return found
