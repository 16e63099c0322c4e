"""Columns for the search line: from a library's rows, or from sessions as files hold them.

What only attempts have (`attempt_columns`) is nothing of a shot.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
import numpy.typing as npt

from ripasso.core.figures.facts import UNKNOWN, Facts
from ripasso.core.figures.session_columns import JoinedColumns
from ripasso.core.finding.matching import FIELDS, Coded, recoded
from ripasso.review.record.model import Session
from ripasso.review.record.people import persons
from ripasso.statistics.rows.measured_session import measured_session

#: Search field to the measure it reads, and whether its sign counts.
MEASURED: Mapping[str, tuple[str, bool]] = {
    "chance": ("chance", True),
    "cut": ("cut_deg", False),
    "fullness": ("fullness", True),
    "cue_travel": ("cue_travel", True),
    "object_travel": ("object_travel", True),
    "window": ("window_deg", True),
    "visible": ("visible", True),
    "leave": ("leave", True),
    "best": ("best_chance", True),
    "angle_left": ("angle_left_deg", True),
    "angle_miss": ("angle_miss", True),
    "distance": ("distance", True),
    "along": ("along", True),
    "across": ("across", True),
    "zone_distance": ("zone_distance", True),
    "loss": ("loss", True),
    "ran": ("travel", True),
    "ran_least": ("travel_least", True),
    "by_choice": ("given_choice", True),
    "by_stroke": ("given_stroke", True),
    "clear": ("clear_before", True),
    "clear_choice": ("clear_choice", True),
    "clear_stroke": ("clear_stroke", True),
    "percent": ("pace_percent", True),
    "raised": ("raised", True),
}
#: Fields of texts whose column has another name.
_COLUMN_OF = {
    "side": "said_side",
    "note": "words",
    "line_side": "side",
    "spin": "spin_cut",
    "spin_cushion": "spin_rail",
    "method": "methods",
    "delivery": "delivery",
    "cause": "causes",
    "event": "events",
    "tag": "tags",
    "role": "roles",
    "pressure": "pressure",
    "amount": "side_amount",
    "meant": "colour_meant",
    "ended": "visit_end",
    "aim": "aims",
    "purpose": "purposes",
    "expected": "predicted",
}


#: Fields that are plain flags and numbers of facts, by their columns.
_FLAGS = {"tried": "tried", "foul": "fouled", "in_hand": "in_hand"}
_ANSWERS = ("snookered", "zone", "rattled", "insurance", "replanned")
#: What can be asked of a pot that was tried.
_OF_POTS = ("made", "failed", "fluke")
_ERRORS = {"error": "", "unforced": "yes", "forced": "no"}


@dataclass(frozen=True)
class SessionWords:
    """What a search asks of a session besides its shots."""

    title: str
    kind: str


class SearchColumns(Mapping[str, npt.NDArray[Any]]):
    """Every column that a query may ask for, made from facts when it is asked for.

    `sessions` and `names` are what is said of sessions and people by their keys.
    """

    def __init__(self, facts: Facts, sessions: Mapping[str, SessionWords], names: Mapping[str, str]) -> None:
        self._facts, self._sessions, self._names = facts, sessions, names
        self._made: dict[str, npt.NDArray[Any]] = {}

    def __iter__(self) -> Iterator[str]:
        return iter(FIELDS)

    def __len__(self) -> int:
        return len(FIELDS)

    def __getitem__(self, name: str) -> npt.NDArray[Any]:
        if name not in self._made:
            self._made[name] = self._column(name)
        return self._made[name]

    def _column(self, name: str) -> npt.NDArray[Any]:
        facts = self._facts
        if FIELDS[name].kind == "number":
            return self._number(name)
        if name in _FLAGS:
            return facts.flags(_FLAGS[name])
        if name in _ANSWERS:
            return facts.ints(name)
        if name in _OF_POTS:
            return np.where(facts.flags("tried"), facts.flags(name), UNKNOWN)
        return self._text(name)

    def _number(self, name: str) -> npt.NDArray[Any]:
        facts = self._facts
        match name:
            case "balls":
                return np.full(len(facts), np.nan)
            case "rack" | "root":
                return _known(facts.ints(name))
            case "feathers":
                return _known(facts.ints(name))
            case "shot":
                return _known(facts.ints("number"))
            case "visit":
                return _running_visits(facts)
            case "seconds":
                return facts.numbers("since_rest_s")
            case "way":
                return np.asarray(facts.numbers("cue_travel") + facts.numbers("object_travel"))
        column, signed = MEASURED[name]
        return facts.numbers(column) if signed else np.abs(facts.numbers(column))

    def _text(self, name: str) -> npt.NDArray[Any]:
        nothing = SessionWords("", "")
        match name:
            case "session":
                return self._coded("session_key", lambda key: self._sessions.get(key, nothing).title)
            case "kind":
                return self._coded("session_key", lambda key: self._sessions.get(key, nothing).kind)
            case "player":
                return self._coded("person", lambda key: self._names.get(key, ""))
            case "error" | "unforced" | "forced":
                return self._coded("errors", partial(_error_kinds, _ERRORS[name]))
            case "exercise" | "outcome" | "changed":
                return self._coded("session_key", lambda _key: "")
        return self._coded(_COLUMN_OF.get(name, name), _findable)

    def _coded(self, column: str, words: Callable[[str], str]) -> Coded:
        codes, values = self._facts.coded(column)
        return recoded(codes, [words(value) for value in values])


def _findable(text: str) -> str:
    """A value as it is asked for: "none" asks for shots of which nothing was said."""
    return "no" if text == "none" else text


def _known(values: npt.NDArray[np.int64]) -> npt.NDArray[np.float64]:
    return np.where(values < 0, np.nan, values)


def _running_visits(facts: Facts) -> npt.NDArray[np.float64]:
    """The number of each shot's visit in its session, 0 first; NaN where it was not judged."""
    visit, found = facts.ints("visit"), np.full(len(facts), np.nan)
    judged = visit >= 0
    session = facts.ints("session")[judged]
    starts = np.stack([session, visit[judged]])
    visits, place = np.unique(starts, axis=1, return_inverse=True)
    found[judged] = place.ravel() - np.searchsorted(visits[0], session)
    return found


def _error_kinds(answer: str, errors: str) -> str:
    """The kinds of error in a text of errors that were judged so; all of them for no answer."""
    judged = [word.partition(":") for word in errors.split()]
    return " ".join(kind for kind, _, said in judged if not answer or said == answer)


def columns_of(sessions: Sequence[Session]) -> tuple[Facts, SearchColumns]:
    """The facts of sessions as files hold them, and what a query may ask of them."""
    facts = Facts(JoinedColumns([measured_session(session).columns for session in sessions]))
    words = {session.id: SessionWords(session.title, session.kind or "") for session in sessions}
    names = {key: name for session in sessions for key, name in persons(session).items()}
    return facts, SearchColumns(facts, words, names)
