"""Columns for the search line: from a library's rows, or from sessions as files hold them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from ripasso.core.figures.columns import ShotColumns
from ripasso.core.finding.matching import FIELDS, Columns, coded
from ripasso.core.measures.measure_columns import MEASURE_FIELDS, TEXTS, measure_row
from ripasso.review.measuring.measuring import measure_session
from ripasso.review.record.model import Session
from ripasso.review.record.people import persons
from ripasso.statistics.rows.shot_rows import shot_rows

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
    "angle_miss": ("angle_miss_deg", True),
    "distance": ("distance", True),
    "along": ("along", True),
    "across": ("across", True),
    "zone_distance": ("zone_distance", True),
    "loss": ("position_loss", True),
    "ran": ("cue_travelled", True),
}
MEASURED_TEXTS = {
    "obstacle": "obstacle",
    "next_ball": "next_ball",
    "next_pocket": "next_pocket",
    "line_side": "side",
    "crossing": "crossing",
    "spin": "spin_cut",
    "spin_cushion": "spin_rail",
    "route": "route",
}
_SAID = (
    "intent",
    "ball",
    "pocket",
    "stroke",
    "stroke_pace",
    "contact",
    "position",
    "pace",
    "side",
    "angle",
    "luck",
    "verdict",
    "phase",
    "standing",
    "began",
)
_MANY = {
    "method": "methods",
    "delivery": "delivery",
    "cause": "causes",
    "event": "events",
    "tag": "tags",
    "role": "roles",
    "pressure": "pressure",
}


@dataclass(frozen=True)
class SessionFacts:
    """What a search asks of a session."""

    title: str
    date: str
    game: str
    kind: str


def find_columns(
    shots: ShotColumns,
    sessions: Mapping[str, SessionFacts],
    names: Mapping[str, str],
    measures: Mapping[str, npt.NDArray[Any]],
) -> Columns:
    """Every column a query may ask for; `names` by person, `measures` by the names of `MEASURE_FIELDS`."""
    none = SessionFacts("", "", "", "")
    facts = [sessions.get(key, none) for key in shots.session]
    players = [names.get(person, "") for person in shots.person]
    columns: dict[str, npt.NDArray[Any]] = {
        "session": coded([one.title for one in facts]),
        "date": coded([one.date for one in facts]),
        "game": coded([one.game for one in facts]),
        "kind": coded([one.kind for one in facts]),
        "player": coded(players),
        "note": coded(list(shots.words)),
        "words": coded(
            [
                f"{words} {player} {one.title} {tags}"
                for words, player, one, tags in zip(shots.words, players, facts, shots.tags, strict=True)
            ]
        ),
        "rack": shots.rack.astype(np.float64),
        "shot": shots.number.astype(np.float64),
        "visit": np.where(shots.visit < 0, np.nan, shots.visit),
        "root": np.where(shots.root < 0, np.nan, shots.root),
        "made": shots.made,
        "failed": shots.failed,
        "tried": shots.tried,
        "foul": shots.fouled,
        "fluke": shots.fluke,
        "in_hand": shots.in_hand,
        "seconds": np.where(shots.since_rest_s < 0, np.nan, shots.since_rest_s),
        **{name: coded(list(getattr(shots, name))) for name in _SAID},
        **{name: coded(list(getattr(shots, column))) for name, column in _MANY.items()},
        **_errors(shots),
    }
    for name, (measure, signed) in MEASURED.items():
        values = measures[measure].astype(np.float64)
        columns[name] = values if signed else np.abs(values)
    columns["way"] = columns["cue_travel"] + columns["object_travel"]
    columns["snookered"] = measures["snookered"] == 1
    columns["zone"] = measures["zone_hit"] == 1
    for name, measure in MEASURED_TEXTS.items():
        columns[name] = coded(["" if value is None else str(value) for value in measures[measure]])
    missing = set(FIELDS) - set(columns)
    assert not missing, missing
    return columns


def _errors(shots: ShotColumns) -> dict[str, npt.NDArray[Any]]:
    """Kinds of error, all of them and by what was judged."""
    found: dict[str, list[str]] = {"error": [], "unforced": [], "forced": []}
    for text in shots.errors:
        judged = [word.partition(":") for word in str(text).split()]
        found["error"].append(" ".join(kind for kind, _, _ in judged))
        found["unforced"].append(" ".join(kind for kind, _, answer in judged if answer == "yes"))
        found["forced"].append(" ".join(kind for kind, _, answer in judged if answer == "no"))
    return {name: coded(values) for name, values in found.items()}


def columns_of(sessions: Sequence[Session]) -> tuple[ShotColumns, Columns]:
    """The shots of sessions as columns, and what a query may ask of them."""
    shots = ShotColumns.from_rows([row for session in sessions for row in shot_rows(session)])
    rows = [measure_row(one) for session in sessions for rack in measure_session(session) for one in rack]
    facts = {
        session.id: SessionFacts(session.title, session.date or "", session.game or "", session.kind or "")
        for session in sessions
    }
    names = {key: name for session in sessions for key, name in persons(session).items()}
    return shots, find_columns(shots, facts, names, measure_arrays(rows))


def measure_arrays(rows: Sequence[Mapping[str, Any]]) -> dict[str, npt.NDArray[Any]]:
    """Measures by name: numbers and flags as floats with NaN for nothing, texts as they are."""
    texts = set(TEXTS)
    arrays: dict[str, npt.NDArray[Any]] = {}
    for name in MEASURE_FIELDS:
        values = [row.get(name) for row in rows]
        if name in texts:
            arrays[name] = np.array(values, dtype=object)
        else:
            arrays[name] = np.array([np.nan if v is None else float(v) for v in values], dtype=np.float64)
    return arrays
