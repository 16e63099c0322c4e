"""Figures of the school "judged": what the analyst said, counted. What was not judged is in no figure.

Each figure comes with the shots behind it, as indices into the columns.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ripasso.core.figures.columns import Flags, Ints, ShotColumns
from ripasso.core.inference.intervals import Count, Rate, count_per, rate

ERROR_KINDS = ("pot", "position", "safety", "escape", "foul", "decision", "missed_chance", "break")
#: Finding of a judged position: the column and the word that make it.
POSITION_FINDINGS: Mapping[str, tuple[str, str]] = {
    "good": ("position", "good"),
    "lost": ("position", "lost"),
    "long": ("pace", "long"),
    "short": ("pace", "short"),
    "wrong_side": ("side", "wrong"),
    "too_straight": ("angle", "too_straight"),
    "too_steep": ("angle", "too_steep"),
}
DECISIONS = ("agree", "prefer_other", "mistake")


@dataclass(frozen=True)
class Evidence:
    """A rate with the shots that are in it (`of`) and those that make it (`made`), as indices."""

    rate: Rate
    of: Ints
    made: Ints


@dataclass(frozen=True)
class JudgedFigures:
    """What the judged school says of one player's shots."""

    shots: Ints
    pot_success: Evidence
    two_way_success: Evidence
    flukes: Ints
    position: Mapping[str, Evidence]
    position_not_judged: Ints
    agreement: Evidence
    decisions_not_judged: Ints
    unforced: Mapping[str, Ints]
    unforced_shots: Ints
    errors_not_judged: Ints
    unforced_total: int
    per_100_shots: Count
    per_visit: Count
    per_rack: Count
    visits: int
    racks: int


def judged_figures(columns: ShotColumns, own: Flags) -> JudgedFigures:
    """The judged figures of the shots that are one's own; those of others are left out."""
    made, tried = columns.made & own, columns.tried & own
    pots = columns.intent == "pot"
    two_way = columns.intent == "two_way"
    potted = made & (pots | two_way)
    judged_position = potted & (columns.position != "")
    verdicts = own & np.isin(columns.verdict.astype(str), DECISIONS)
    errors = _Errors.read(columns, own)
    visits = _distinct(columns, own & (columns.visit >= 0), columns.visit)
    racks = _distinct(columns, own, columns.rack)
    shots = np.flatnonzero(own)
    return JudgedFigures(
        shots=shots,
        pot_success=_evidence(made & pots, tried & pots),
        two_way_success=_evidence(made & two_way, tried & two_way),
        flukes=np.flatnonzero(columns.fluke & own),
        position={
            name: _evidence(judged_position & (getattr(columns, column) == word), judged_position)
            for name, (column, word) in POSITION_FINDINGS.items()
        },
        position_not_judged=np.flatnonzero(potted & (columns.position == "")),
        agreement=_evidence(verdicts & (columns.verdict == "agree"), verdicts),
        decisions_not_judged=np.flatnonzero(own & ~verdicts),
        unforced=errors.unforced,
        unforced_shots=errors.unforced_shots,
        errors_not_judged=errors.not_judged,
        unforced_total=errors.total,
        per_100_shots=count_per(errors.total, len(shots) / 100),
        per_visit=count_per(errors.total, visits),
        per_rack=count_per(errors.total, racks),
        visits=visits,
        racks=racks,
    )


@dataclass(frozen=True)
class _Errors:
    """The (shot, kind) pairs that were judged unforced, and the shots with an error nobody judged."""

    unforced: Mapping[str, Ints]
    unforced_shots: Ints
    not_judged: Ints
    total: int

    @classmethod
    def read(cls, columns: ShotColumns, own: Flags) -> _Errors:
        kinds: dict[str, list[int]] = {}
        not_judged: list[int] = []
        for index in np.flatnonzero(own & (columns.errors != "")).tolist():
            open_ones = False
            for word in str(columns.errors[index]).split():
                kind, judged = word.split(":")
                if judged == "yes":
                    kinds.setdefault(kind, []).append(index)
                open_ones = open_ones or judged == "?"
            if open_ones:
                not_judged.append(index)
        unforced = {k: np.array(kinds[k], dtype=np.int64) for k in ERROR_KINDS if k in kinds}
        shots = sorted({i for found in kinds.values() for i in found})
        return cls(
            unforced,
            np.array(shots, dtype=np.int64),
            np.array(not_judged, dtype=np.int64),
            sum(len(found) for found in kinds.values()),
        )


def _evidence(made: Flags, of: Flags) -> Evidence:
    return Evidence(rate(int(made.sum()), int(of.sum())), np.flatnonzero(of), np.flatnonzero(made))


def _distinct(columns: ShotColumns, keep: Flags, numbers: Ints) -> int:
    """How many different (session, number) pairs stand where `keep` is true."""
    return len(set(zip(columns.session[keep].tolist(), numbers[keep].tolist(), strict=True)))
