"""Attempts on film: shots of a session that begin from an exercise's layout, with what they come to."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ripasso.core.geometry.zones import distance_outside
from ripasso.core.table import TableSpec, table_spec
from ripasso.core.table.places import Place
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.entry.attempts import POT
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.record.practice import AttemptSet, Exercise
from ripasso.review.table.layouts import shown

#: A ball was set up again where it lies within this of its place (m): a hand's care, and what reading is off.
SET_UP_M = 0.05


@dataclass(frozen=True)
class FilmAttempt:
    """A shot that is an attempt: its key, its film and moment, and which criteria it met."""

    shot: str
    recording: str
    t_strike: float
    met: Mapping[str, bool]

    @property
    def success(self) -> bool:
        """It met them all."""
        return all(self.met.values())


def is_set_up(lies: Mapping[str, Place], layout: Mapping[str, Place]) -> bool:
    """Whether balls lie as an exercise wants them, and no other is near one of them."""
    return lies.keys() >= layout.keys() and all(
        math.dist(lies[ball], place) <= SET_UP_M for ball, place in layout.items()
    )


def attempts_on_film(snapshot: Snapshot, exercise: Exercise, counted: AttemptSet | None) -> list[FilmAttempt]:
    """The shots that begin from the exercise's layout and are not counted yet, in the order of the record."""
    layout = _places(exercise.layout or {})
    known = {
        (one.recording, float(one.t_strike))
        for one in (counted.attempts if counted is not None else None) or ()
        if one.t_strike is not None
    }
    return [one for one in _found(snapshot, exercise, layout) if (one.recording, one.t_strike) not in known]


def _found(snapshot: Snapshot, exercise: Exercise, layout: dict[str, Place]) -> Iterator[FilmAttempt]:
    spec = table_spec(snapshot.head.table)
    for row in snapshot.shots if layout else ():
        record = row.record
        if record.recording is None or record.t_strike is None or record.facts is None:
            continue
        if is_set_up(shown(snapshot, row, "before"), layout):
            met = _met(snapshot, row, exercise, layout, spec)
            yield FilmAttempt(row.key, record.recording, float(record.t_strike), met)


def _met(
    snapshot: Snapshot, row: ShotRow, exercise: Exercise, layout: Mapping[str, Place], spec: TableSpec
) -> dict[str, bool]:
    """The pot into its pocket without a scratch, and the cue ball in each area that is asked for."""
    facts, target = row.record.facts, exercise.target
    assert facts is not None
    fallen = [
        one
        for one in facts.potted or ()
        if target is None or (one.ball == target.ball and target.pocket in (None, one.pocket))
    ]
    found = {POT: bool(fallen) and not facts.cue_potted}
    rest = shown(snapshot, row, "after").get("cue")
    for criterion in exercise.criteria or ():
        zone = core_zone(criterion.zone, layout, spec) if criterion.zone is not None else None
        if zone is not None:
            found[criterion.id] = rest is not None and distance_outside(zone, rest) == 0
    return found


def _places(layout: Mapping[str, tuple[float, float]]) -> dict[str, Place]:
    return {ball: (float(place[0]), float(place[1])) for ball, place in layout.items()}
