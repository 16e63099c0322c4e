"""Facts for full statistics from what a library stores of its shots, without building a record."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from ripasso.core.figures.columns import CONTEXT, CONTEXT_NUMBERS, UNKNOWN_NUMBER, ShotColumns
from ripasso.core.figures.facts import NO, UNKNOWN, YES, Facts
from ripasso.core.measures.errors import KINDS, Thresholds
from ripasso.review.measuring.errors import AWKWARD_DELIVERY, AWKWARD_METHODS

#: Columns of facts and the measures they are.
_MEASURES = {
    "cut_deg": "cut_deg",
    "cue_travel": "cue_travel",
    "object_travel": "object_travel",
    "left_mrad": "tolerance_left_mrad",
    "right_mrad": "tolerance_right_mrad",
    "chance": "chance",
    "distance": "distance",
    "along": "along",
    "across": "across",
    "loss": "position_loss",
    "leave": "leave",
    "crossing_deg": "crossing_deg",
    "angle_miss": "angle_miss_deg",
    "travel": "cue_travelled",
    "ball_to_cushion": "ball_to_cushion",
    "window_deg": "window_deg",
    "best_chance": "best_chance",
}
_SAID = (
    "person",
    "intent",
    "delivery",
    "methods",
    "position",
    "pace",
    "angle",
    "verdict",
    "pocket",
    "contact",
    "stroke",
    "stroke_pace",
    "luck",
    "ball",
    "causes",
    "events",
    "tags",
)
#: Measures that say whether an error was unforced.
_NEEDED = ("chance", "chance_aim", "chance_rest", "leave", "best_chance", "snookered")
_FLAGS = ("tried", "made", "failed", "fouled", "fluke", "down")


@dataclass(frozen=True)
class Setting:
    """What statistics need of a session: its date, the table's length (m), the table in words, the game."""

    date: str
    length: float
    table: str
    game: str = ""


def facts_of(
    shots: ShotColumns, measures: Mapping[str, npt.NDArray[Any]], settings: Mapping[str, Setting]
) -> Facts:
    """The facts of stored shots; `settings` are those of the sessions by their keys."""
    sessions = {key: place for place, key in enumerate(dict.fromkeys(shots.session.tolist()))}
    nothing = Setting("", np.nan, "")
    played = {key: settings.get(key, nothing) for key in sessions}
    obstacle = np.array([value is not None and value != "" for value in measures["obstacle"]])
    left = measures["tolerance_left_mrad"].astype(np.float64)
    columns: dict[str, npt.NDArray[Any]] = {
        **{name: getattr(shots, name) for name in (*_SAID, *_FLAGS)},
        **{name: measures[measure].astype(np.float64) for name, measure in _MEASURES.items()},
        "session": np.array([sessions[key] for key in shots.session], dtype=np.int64),
        "rack": shots.rack,
        "number": shots.number,
        "visit": shots.visit,
        "said_side": shots.side,
        **{name: _words(measures[name]) for name in ("side", "spin_cut", "spin_rail", "route")},
        "snookered": _answers(measures["snookered"]),
        "laid": _laid(shots, _answers(measures["snookered"])),
        **{name: getattr(shots, name) for name in CONTEXT},
        **{name: _known(getattr(shots, name)) for name in CONTEXT_NUMBERS},
        "root_back": np.where(shots.root >= 0, shots.number - shots.root, UNKNOWN),
        "free": ~obstacle & ~np.isnan(left),
        "zone": _answers(measures["zone_hit"]),
        "table_length": np.array([played[key].length for key in shots.session], dtype=np.float64),
        "date": np.array([played[key].date for key in shots.session], dtype=object),
        "game": np.array([played[key].game for key in shots.session], dtype=object),
        "table": np.array([played[key].table for key in shots.session], dtype=object),
        "unforced": np.array(_unforced(shots, measures), dtype=object),
    }
    return Facts.of_columns(columns, len(shots))


def _laid(shots: ShotColumns, snookered: npt.NDArray[np.int64]) -> npt.NDArray[np.int64]:
    """Whether the opponent was snookered on the next shot of the rack."""
    found = np.full(len(shots), UNKNOWN, dtype=np.int64)
    same = (shots.session[1:] == shots.session[:-1]) & (shots.rack[1:] == shots.rack[:-1])
    follows = np.asarray(same, dtype=np.bool_) & shots.goes_to_other[:-1]
    found[:-1][follows] = snookered[1:][follows]
    return found


def _words(values: npt.NDArray[Any]) -> npt.NDArray[np.object_]:
    return np.array([value or "" for value in values], dtype=object)


def _answers(values: npt.NDArray[Any]) -> npt.NDArray[np.int64]:
    """Yes, no, and what is not known, from 1, 0 and NaN."""
    numbers = values.astype(np.float64)
    return np.where(np.isnan(numbers), UNKNOWN, np.where(numbers == 1, YES, NO)).astype(np.int64)


def _known(values: npt.NDArray[Any]) -> npt.NDArray[np.float64]:
    """Numbers with NaN for what is not known."""
    numbers = values.astype(np.float64)
    return np.where(numbers == UNKNOWN_NUMBER, np.nan, numbers)


def _unforced(shots: ShotColumns, measures: Mapping[str, npt.NDArray[Any]]) -> list[str]:
    """The kinds of unforced errors of each shot: as judged, and by chance where that was left open.

    The definitions are those of `core.measures.errors`, over columns.
    """
    limits, number = Thresholds(), {name: measures[name].astype(np.float64) for name in _NEEDED}
    with np.errstate(invalid="ignore"):
        fell = (number["chance_aim"] >= limits.open) & (number["chance_rest"] < limits.hardly)
        open_leave = number["leave"] >= limits.open
        fair = number["chance"] >= limits.fair
        free = (number["best_chance"] >= limits.open) | (number["snookered"] == 0)
    left_open = (shots.intent == "safety") & ~shots.fouled & shots.goes_to_other & open_leave
    by_chance: dict[str, npt.NDArray[np.bool_]] = {
        "pot": fair,
        "position": fell,
        "safety": open_leave & free & ~np.isnan(number["best_chance"]) & ~np.isnan(number["snookered"]),
        "foul": number["snookered"] == 0,
        "break": shots.fouled,
    }
    found = []
    measured = {"position": shots.made & fell, "safety": left_open}
    any_measured = measured["position"] | measured["safety"]
    for place, text in enumerate(shots.errors):
        if not text and not any_measured[place]:
            found.append("")
            continue
        said = dict(word.split(":") for word in str(text).split())
        for kind, flags in measured.items():
            if flags[place]:
                said.setdefault(kind, "?")
        found.append(
            " ".join(
                kind
                for kind in KINDS
                if kind in said
                and (
                    said[kind] == "yes"
                    or (
                        said[kind] == "?"
                        and (kind in ("decision", "missed_chance") or _at(by_chance, kind, place))
                        and not (kind == "pot" and _is_awkward(shots, place))
                    )
                )
            )
        )
    return found


def _at(flags: Mapping[str, npt.NDArray[np.bool_]], kind: str, place: int) -> bool:
    """An escape is never decided by chance."""
    return kind in flags and bool(flags[kind][place])


def _is_awkward(shots: ShotColumns, place: int) -> bool:
    return bool(
        AWKWARD_DELIVERY & set(str(shots.delivery[place]).split())
        or AWKWARD_METHODS & set(str(shots.methods[place]).split())
        or "awkward_cueing" in str(shots.causes[place]).split()
    )
