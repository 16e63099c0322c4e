"""Checks of a table as records: rolls and lags, and the state that they say the table is in."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import partial
from statistics import mean

from ripasso.core.json_data import JsonObject
from ripasso.core.practice.table_checks import Roll, cloth_word, level_check, mean_drift, rolling_constant
from ripasso.core.table import TableSpec, table_spec
from ripasso.core.table.places import Place
from ripasso.review.document.command import Command
from ripasso.review.document.edits import REMOVE, RefusedEdit, edit, set_values
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.translation import noop, tr
from ripasso.review.record.model import serialize
from ripasso.review.record.parts import TableCheck

DIGITS = 4
#: So many balls pass through no mouth.
MOST_BALLS = 3.0
MOUTHS: Mapping[str, str] = {"corner": noop("Corner pockets"), "side": noop("Middle pockets")}


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
def add_typed_check(snapshot: Snapshot, text: str) -> Command:
    """A check as typed; two numbers alone are a lag. Raises `RefusedEdit`.

    `lag 2.3 6.8` (metres, seconds), `cushion 45 41` (degrees in and out), `corner 2.1` or `middle 2.3` (balls
    that pass side by side).
    """
    words = text.replace(",", ".").casefold().split()
    kind = words.pop(0) if words and not words[0][0].isdigit() else "lag"
    try:
        numbers = [float(word) for word in words]
        made = _TYPED[kind](*numbers)
    except (KeyError, ValueError, TypeError):
        raise RefusedEdit(
            "Type lag 2.3 6.8 (metres, seconds), cushion 45 41 (degrees), or corner 2.1 (balls side by side)."
        ) from None
    return _with(snapshot, made, "Measure the table")


def _lag(distance: float, seconds: float) -> JsonObject:
    rolling_constant(distance, seconds)
    return {"kind": "lag", "distance": distance, "seconds": seconds}


def _cushion(angle_in: float, angle_out: float) -> JsonObject:
    if not (0 < angle_in < 90 and 0 < angle_out < 90):
        raise ValueError("an angle from the cushion is between 0 and 90 degrees")
    return {"kind": "cushion", "angle_in_deg": angle_in, "angle_out_deg": angle_out}


def _pocket(pocket: str, balls: float) -> JsonObject:
    if not 1 < balls < MOST_BALLS:
        raise ValueError("a ball fits, and not three")
    return {"kind": "pocket", "pocket": pocket, "balls": balls}


_TYPED: Mapping[str, Callable[..., JsonObject]] = {
    "lag": _lag,
    "cushion": _cushion,
    "corner": partial(_pocket, "corner"),
    "middle": partial(_pocket, "side"),
    "side": partial(_pocket, "side"),
}


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
    """What was measured becomes the table's: level (mm per metre), cloth, mouths of pockets.

    Angles at a cushion are told and kept; no number of the table follows from them alone.
    """
    checks = snapshot.head.table_checks or ()
    found = level_check(rolls_of(checks))
    values: dict[tuple[str | int, ...], object] = {}
    if found.along is not None or found.across is not None:
        along, across = (one.mm_per_m if one is not None else 0.0 for one in (found.along, found.across))
        values["table_state", "level"] = [round(along, 2), round(across, 2)]
    constants = list(_constants(checks))
    if constants:
        values["table_state", "cloth"] = cloth_word(sum(constants) / len(constants))
    for pocket, mouth in mouths_of(checks, table_spec(snapshot.head.table)).items():
        values["table", f"{pocket}_mouth"] = round(mean(mouth), 4)
    if not values and checks:
        raise RefusedEdit(
            "Angles at a cushion change no number of the table: measure a roll, a lag, a pocket."
        )
    if not values:
        raise RefusedEdit("Nothing was measured here yet.")
    return set_values(snapshot, "session", snapshot.key, values, "Use what was measured of the table")


def _constants(checks: Sequence[TableCheck]) -> Iterator[float]:
    for one in checks:
        if one.kind == "lag" and one.distance and one.seconds:
            yield rolling_constant(float(one.distance), float(one.seconds))


def mouths_of(checks: Sequence[TableCheck], spec: TableSpec) -> dict[str, list[float]]:
    """The mouths that were measured in balls, in metres, by `corner` and `side`."""
    found: dict[str, list[float]] = {}
    for one in checks:
        if one.kind == "pocket" and one.pocket is not None and one.balls:
            found.setdefault(one.pocket, []).append(float(one.balls) * 2 * spec.ball_radius)
    return found


def pocket_lines(checks: Sequence[TableCheck], spec: TableSpec) -> list[str]:
    """The mouths in millimetres and in balls."""
    lines = []
    for pocket, mouths in mouths_of(checks, spec).items():
        width = mean(mouths)
        balls = width / (2 * spec.ball_radius)
        words = tr(MOUTHS[pocket])
        lines.append(
            f"{words}: {1000 * width:.0f} mm, {balls:.2f} balls side by side ({len(mouths)} measured)"
        )
    return lines


def cushion_lines(checks: Sequence[TableCheck]) -> list[str]:
    """Angles from the cushion, in and out, and by how much they differ."""
    pairs = [
        (float(one.angle_in_deg), float(one.angle_out_deg))
        for one in checks
        if one.kind == "cushion" and one.angle_in_deg is not None and one.angle_out_deg is not None
    ]
    if not pairs:
        return []
    found = mean_drift([out - angle for angle, out in pairs])
    assert found is not None
    interval = f" ({found.low:+.1f} to {found.high:+.1f})" if found.low is not None else ""
    inward = mean(angle for angle, _ in pairs)
    return [
        f"Cushion: {inward:.0f}° in, {found.mm_per_m:+.1f}° out against it{interval}, {found.of} measured"
    ]


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
