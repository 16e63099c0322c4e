"""Shots as columns: what every statistic reads. Statistics never build records.

All arrays have one entry a shot, in the order of sessions, racks and shots.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

Texts = npt.NDArray[np.object_]
Flags = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]
Numbers = npt.NDArray[np.float64]

#: Names of the columns, in the order a row gives them.
FIELDS = (
    "key",  # the shot's key in the library ("" for a file)
    "session",
    "rack",  # number of the rack
    "number",  # number of the shot in its rack
    "person",  # key of the person who struck, "" when unknown
    "visit",  # running number of the visit in its session, -1 when not judged
    "intent",  # "" when not recorded
    "tried",  # a pot or two-way shot of which it is known what happened
    "made",
    "failed",
    "fouled",
    "fluke",
    "position",  # good, playable, lost, "" when not judged
    "pace",  # short, good, long
    "side",  # right, straight, wrong
    "angle",  # too_straight, good, too_steep
    "verdict",  # agree, prefer_other, mistake, unsure
    "errors",  # "kind:yes kind:no kind:?" in the order recorded, then those found
    "ball",  # meant
    "pocket",  # meant
    "contact",  # thick, clean, thin
    "luck",
    "stroke",  # kind of stroke
    "stroke_pace",
    "methods",  # several words each from here on
    "delivery",
    "causes",
    "events",
    "tags",
    "root",  # the shot that caused a failure, -1 for none
    "words",  # note and comments
    "down",  # the meant ball fell where it was meant to
    "phase",  # from here on as in `review.context.Context`
    "potted",
    "legal_balls",
    "cue_potted",
    "has_next",
    "goes_to_other",
    "answered",
    "after_long_visit",
    "after_fault",
    "own_break",
    "outer",
    "second_row",
    "head_in_side",
    "central",
    "left_in_rack",
    "since_rest_s",
    "to_rest_s",
    "cushions",
    "visit_score",
    "visit_end",
    "visit_balls",
    "began",
    "run",
    "won",
    "pressure",
    "standing",
    "in_hand",
    "opponent",
    "roles",
    "late",
    "exchange",
    "exchange_of",
    "break_ball",
    "break_kind",
    "break_power",
    "insurance",
    "replanned",
    "given_away",
    "judge",
    "colour_meant",
    "cue_behind",
    "to_baulk",
    "one_visit",
    "rack_s",
)
#: What hangs on the shots about a shot; those of them that are numbers and may be unknown.
CONTEXT = FIELDS[FIELDS.index("phase") :]
CONTEXT_NUMBERS = (
    *("left_in_rack", "since_rest_s", "to_rest_s"),
    *("given_away", "break_power", "to_baulk", "rack_s"),
)
UNKNOWN_NUMBER = -1.0
Row = tuple[Any, ...]


_KINDS: dict[str, Any] = {"Texts": object, "Ints": np.int64, "Flags": np.bool_, "Numbers": np.float64}


@dataclass(frozen=True)
class ShotColumns:
    """Columns of shots, all of the same length."""

    key: Texts
    session: Texts
    rack: Ints
    number: Ints
    person: Texts
    visit: Ints
    intent: Texts
    tried: Flags
    made: Flags
    failed: Flags
    fouled: Flags
    fluke: Flags
    position: Texts
    pace: Texts
    side: Texts
    angle: Texts
    verdict: Texts
    errors: Texts
    ball: Texts
    pocket: Texts
    contact: Texts
    luck: Texts
    stroke: Texts
    stroke_pace: Texts
    methods: Texts
    delivery: Texts
    causes: Texts
    events: Texts
    tags: Texts
    root: Ints
    words: Texts
    down: Flags
    phase: Texts
    potted: Ints
    legal_balls: Ints
    cue_potted: Flags
    has_next: Flags
    goes_to_other: Flags
    answered: Flags
    after_long_visit: Flags
    after_fault: Flags
    own_break: Flags
    outer: Ints
    second_row: Ints
    head_in_side: Ints
    central: Ints
    left_in_rack: Numbers
    since_rest_s: Numbers
    to_rest_s: Numbers
    cushions: Ints
    visit_score: Ints
    visit_end: Texts
    visit_balls: Ints
    began: Texts
    run: Texts
    won: Ints
    pressure: Texts
    standing: Texts
    in_hand: Flags
    opponent: Texts
    roles: Texts
    late: Ints
    exchange: Ints
    exchange_of: Ints
    break_ball: Texts
    break_kind: Texts
    break_power: Numbers
    insurance: Ints
    replanned: Ints
    given_away: Numbers
    judge: Texts
    colour_meant: Texts
    cue_behind: Ints
    to_baulk: Numbers
    one_visit: Ints
    rack_s: Numbers

    @classmethod
    def from_rows(cls, rows: Sequence[Row]) -> ShotColumns:
        """Columns from rows in the order of `FIELDS`."""
        columns = list(zip(*rows, strict=True)) if rows else [()] * len(FIELDS)
        types = cls.__annotations__
        made: dict[str, npt.NDArray[np.generic]] = {}
        for name, values in zip(FIELDS, columns, strict=True):
            kind = _KINDS[types[name]]
            made[name] = np.array(values, dtype=kind)
        return cls(**made)  # type: ignore[arg-type]

    def __len__(self) -> int:
        return len(self.key)

    def where(self, keep: Flags) -> ShotColumns:
        """The shots for which `keep` is true."""
        return ShotColumns(**{name: getattr(self, name)[keep] for name in FIELDS})
