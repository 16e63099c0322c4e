"""Figures of the school "judged": what the analyst said, counted. What was not judged is in no figure.

Each figure comes with the shots behind it, as places in the facts.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np

from ripasso.core.figures.facts import Facts, Flags, Ints
from ripasso.core.inference.intervals import Count, Rate, count_per, rate

ERROR_KINDS = ("pot", "position", "safety", "escape", "foul", "decision", "missed_chance", "break")
#: Finding of a judged position: the column and the word that make it.
POSITION_FINDINGS: Mapping[str, tuple[str, str]] = {
    "perfect": ("position", "perfect"),
    "good": ("position", "good"),
    "poor": ("position", "poor"),
    "lost": ("position", "lost"),
    "long": ("pace", "long"),
    "short": ("pace", "short"),
    "wrong_side": ("said_side", "wrong"),
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


def judged_figures(facts: Facts, own: Flags) -> JudgedFigures:
    """The judged figures of the shots that are one's own; those of others are left out."""
    made, tried = facts.flags("made") & own, facts.flags("tried") & own
    pots, two_way = facts.equal("intent", "pot"), facts.equal("intent", "two_way")
    potted = made & (pots | two_way)
    judged_position = potted & facts.known("position")
    verdicts = own & facts.equal("verdict", *DECISIONS)
    errors = _Errors.read(facts, own)
    visits = distinct(facts, own & (facts.ints("visit") >= 0), "visit")
    racks = distinct(facts, own, "rack")
    shots = np.flatnonzero(own)
    return JudgedFigures(
        shots=shots,
        pot_success=_evidence(made & pots, tried & pots),
        two_way_success=_evidence(made & two_way, tried & two_way),
        flukes=np.flatnonzero(facts.flags("fluke") & own),
        position={
            name: _evidence(judged_position & facts.equal(column, word), judged_position)
            for name, (column, word) in POSITION_FINDINGS.items()
        },
        position_not_judged=np.flatnonzero(potted & ~facts.known("position")),
        agreement=_evidence(verdicts & facts.equal("verdict", "agree"), verdicts),
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
    def read(cls, facts: Facts, own: Flags) -> _Errors:
        kinds = {kind: own & facts.of_text("errors", partial(_says, f"{kind}:yes")) for kind in ERROR_KINDS}
        open_ones = own & facts.of_text("errors", lambda text: ":?" in text)
        unforced = {kind: np.flatnonzero(mask) for kind, mask in kinds.items() if mask.any()}
        any_kind = np.logical_or.reduce(list(kinds.values()))
        total = sum(len(found) for found in unforced.values())
        return cls(unforced, np.flatnonzero(any_kind), np.flatnonzero(open_ones), total)


def _says(word: str, text: str) -> bool:
    return word in text.split()


def _evidence(made: Flags, of: Flags) -> Evidence:
    return Evidence(rate(int(made.sum()), int(of.sum())), np.flatnonzero(of), np.flatnonzero(made))


def distinct(facts: Facts, keep: Flags, name: str) -> int:
    """How many different visits, or racks, the shots belong to: pairs of session and number."""
    pairs = np.stack([facts.ints("session")[keep], facts.ints(name)[keep]])
    return int(np.unique(pairs, axis=1).shape[1])
