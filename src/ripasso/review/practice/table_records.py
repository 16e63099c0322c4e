"""Checks of a table as records: rolls and lags, and the state that they say the table is in."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence

from ripasso.core.json_data import JsonObject
from ripasso.core.practice.table_checks import Roll, cloth_word, level_check, rolling_constant
from ripasso.core.table.places import Place
from ripasso.review.document.command import Command
from ripasso.review.document.edits import REMOVE, RefusedEdit, edit, set_values
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import serialize
from ripasso.review.record.parts import TableCheck

DIGITS = 4


def rolls_of(checks: Sequence[TableCheck]) -> list[Roll]:
    """The rolls among checks that say where they began and stopped."""
    return [
        Roll(_place(one.from_), _place(one.aimed_at), _place(one.stopped_at), one.spin or "none")
        for one in checks
        if one.kind == "roll" and one.from_ and one.aimed_at and one.stopped_at
    ]


def _place(value: tuple[float, float] | None) -> Place:
    assert value is not None
    return float(value[0]), float(value[1])


def straight_aim(start: Place, stop: Place) -> Place:
    """Where a roll was aimed that was played straight along or across the table."""
    if abs(stop[0] - start[0]) >= abs(stop[1] - start[1]):
        return (stop[0], start[1])
    return (start[0], stop[1])


@edit
def add_roll(snapshot: Snapshot, start: Place, stop: Place, spin: str) -> Command:
    """One roll more."""
    aim = straight_aim(start, stop)
    made = {"kind": "roll", "spin": spin, "from": _listed(start), "aimed_at": _listed(aim)}
    return _with(snapshot, {**made, "stopped_at": _listed(stop)}, "Measure a roll")


@edit
def add_lag(snapshot: Snapshot, text: str) -> Command:
    """A lag as typed: metres and seconds; raises `RefusedEdit`."""
    try:
        distance, seconds = (float(part.replace(",", ".")) for part in text.split())
        rolling_constant(distance, seconds)
    except ValueError:
        raise RefusedEdit("A lag is metres and seconds, such as 2.3 6.8.") from None
    return _with(snapshot, {"kind": "lag", "distance": distance, "seconds": seconds}, "Measure a lag")


@edit
def take_back_check(snapshot: Snapshot) -> Command:
    """The last check was none."""
    checks = [serialize(one) for one in snapshot.head.table_checks or ()]
    if not checks:
        raise RefusedEdit("Nothing was measured here yet.")
    return set_values(
        snapshot, "session", snapshot.key, {("table_checks",): checks[:-1] or REMOVE}, "Take a check back"
    )


@edit
def use_checks(snapshot: Snapshot) -> Command:
    """What was measured becomes the table's state: level (mm per metre) and cloth."""
    checks = snapshot.head.table_checks or ()
    found = level_check(rolls_of(checks))
    values: dict[tuple[str | int, ...], object] = {}
    if found.along is not None or found.across is not None:
        along, across = (one.mm_per_m if one is not None else 0.0 for one in (found.along, found.across))
        values["table_state", "level"] = [round(along, 2), round(across, 2)]
    constants = list(_constants(checks))
    if constants:
        values["table_state", "cloth"] = cloth_word(sum(constants) / len(constants))
    if not values:
        raise RefusedEdit("Nothing was measured here yet.")
    return set_values(snapshot, "session", snapshot.key, values, "Use what was measured of the table")


def _constants(checks: Sequence[TableCheck]) -> Iterator[float]:
    for one in checks:
        if one.kind == "lag" and one.distance and one.seconds:
            yield rolling_constant(float(one.distance), float(one.seconds))


def cloth_lines(checks: Sequence[TableCheck]) -> list[str]:
    """The cloth in a word and in the simulator's constant."""
    found = list(_constants(checks))
    if not found:
        return ["Cloth: no lag yet"]
    middle = sum(found) / len(found)
    spread = f" ({min(found):.4f} to {max(found):.4f}, {len(found)} lags)" if len(found) > 1 else ""
    return [f"Cloth: {cloth_word(middle)}, rolling {middle:.4f} of gravity{spread}"]


def _with(snapshot: Snapshot, made: JsonObject, label: str) -> Command:
    TableCheck.model_validate_json(json.dumps(made))
    checks = [serialize(one) for one in snapshot.head.table_checks or ()]
    return set_values(snapshot, "session", snapshot.key, {("table_checks",): [*checks, made]}, label)


def _listed(place: Place) -> list[float]:
    return [round(place[0], DIGITS), round(place[1], DIGITS)]
