"""Racks split, merged and bounded anew, shots put in, visits given to the other: one step of undo each.

Whatever names a shot by its number follows it; what leads into another rack names nothing any more.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from typing import Any

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.rules.pool import opponent
from ripasso.review.document.command import RECORDS, Change, Command, Entry
from ripasso.review.document.edits import RefusedEdit, add_shot, edit, new_key, set_values, several
from ripasso.review.document.renumbering import rack_numbers
from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.record.model import serialize
from ripasso.review.record.parts import Record

#: Where each shot stands: rack (key) and number.
Places = Mapping[str, tuple[str, int]]


@edit
def split_rack(snapshot: Snapshot, shot: str) -> Command:
    """A new rack begins with this shot. Raises `RefusedEdit` for the first of a rack."""
    rack, place = _where(snapshot, shot)
    if place == 0:
        raise RefusedEdit("A rack begins with this shot already.")
    keys = [row.key for row in rack.shots]
    made = new_key()
    order = []
    for row in snapshot.racks:
        if row.key == rack.key:
            order += [(row.key, keys[:place]), (made, keys[place:])]
        else:
            order.append((row.key, [one.key for one in row.shots]))
    return _rearranged(snapshot, order, f"Begin a rack at shot {place + 1}")


@edit
def merge_racks(snapshot: Snapshot, shot: str) -> Command:
    """The rack of a shot and the one before it are one. Raises `RefusedEdit` for the first rack."""
    rack, _ = _where(snapshot, shot)
    at = snapshot.rack_index(rack.key)
    if at == 0:
        raise RefusedEdit("There is no rack before this one.")
    if snapshot.racks[at - 1].record.not_shown:
        raise RefusedEdit("The rack before this one is not shown; nothing can be added to it.")
    order = [(row.key, [one.key for one in row.shots]) for row in snapshot.racks]
    before, gone = order[at - 1], order.pop(at)
    order[at - 1] = (before[0], [*before[1], *gone[1]])
    return _rearranged(snapshot, order, "Make two racks one")


@edit
def move_boundary(snapshot: Snapshot, shot: str) -> Command:
    """The rack of a shot begins with it: those before it belong to the rack before. Raises `RefusedEdit`."""
    rack, place = _where(snapshot, shot)
    at = snapshot.rack_index(rack.key)
    if place == 0:
        raise RefusedEdit("A rack begins with this shot already.")
    if at == 0 or snapshot.racks[at - 1].record.not_shown:
        raise RefusedEdit("There is no rack before this one that could take the shots before.")
    order = [(row.key, [one.key for one in row.shots]) for row in snapshot.racks]
    keys = order[at][1]
    order[at - 1] = (order[at - 1][0], [*order[at - 1][1], *keys[:place]])
    order[at] = (order[at][0], keys[place:])
    return _rearranged(snapshot, order, f"Let the rack begin at shot {place + 1}")


@edit
def insert_shot(snapshot: Snapshot, shot: str) -> Command:
    """A shot that was not marked, before this one, by the player of this one."""
    rack, place = _where(snapshot, shot)
    player = rack.shots[place].record.player
    return add_shot(snapshot, rack.key, place, {"player": player} if player else {})


@edit
def change_visit(snapshot: Snapshot, shot: str) -> Command:
    """The other player struck the whole visit of a shot. Raises `RefusedEdit` where there is no other."""
    rack, place = _where(snapshot, shot)
    player = rack.shots[place].record.player
    people = tuple(p.id for p in snapshot.head.players or () if not p.ghost)
    other = opponent(people, player)
    if other is None or other == player:
        raise RefusedEdit("This session has no other player.")
    first = last = place
    while first > 0 and rack.shots[first - 1].record.player == player:
        first -= 1
    while last + 1 < len(rack.shots) and rack.shots[last + 1].record.player == player:
        last += 1
    label = f"Give the visit of {last - first + 1} to the other player"
    chosen = rack.shots[first : last + 1]
    return several(
        label, [set_values(snapshot, "shot", row.key, {("player",): other}, label) for row in chosen]
    )


def _where(snapshot: Snapshot, shot: str) -> tuple[RackRow, int]:
    row = snapshot.shot(shot)
    rack = snapshot.rack(row.rack) if row else None
    if rack is None:
        raise RefusedEdit("There is no shot here.")
    return rack, rack.place(shot)


def _rearranged(snapshot: Snapshot, order: Sequence[tuple[str, Sequence[str]]], label: str) -> Command:
    """The racks in `order`, each with its shots; racks that are left out go, keys that are new are made."""
    old: dict[str, tuple[str, int]] = {
        row.key: (rack.key, row.record.number) for rack in snapshot.racks for row in rack.shots
    }
    new = {shot: (rack, number) for rack, shots in order for number, shot in enumerate(shots, start=1)}
    changes: list[Change] = []
    known = {row.key: row.record for row in snapshot.racks}
    numbers = rack_numbers(list(known.values()), [known.get(key) for key, _ in order])
    for position, ((key, _), rack_number) in enumerate(zip(order, numbers, strict=True)):
        if key in known:
            before = snapshot.entry("rack", key)
            data = _rack_data(serialize(before.record), key, old, new) | {"number": rack_number}
            changes += _changed("rack", key, before, Entry(_made("rack", data), before.parent, position))
        else:
            record = _made("rack", {"number": rack_number, "shots": []})
            changes.append(Change("rack", key, None, Entry(record, snapshot.key, position)))
    for shot, (rack, number) in new.items():
        before = snapshot.entry("shot", shot)
        data = _shot_data(serialize(before.record), old[shot], rack, old, new) | {"number": number}
        changes += _changed("shot", shot, before, Entry(_made("shot", data), rack, number - 1))
    kept = {key for key, _ in order}
    gone = [row.key for row in snapshot.racks if row.key not in kept]
    changes += [Change("rack", key, snapshot.entry("rack", key), None) for key in gone]
    now = dict(zip([key for key, _ in order], numbers, strict=True))
    changes += _film_parts(snapshot, now, old, new)
    return Command(label, snapshot.key, tuple(changes))


def _changed(table: Any, key: str, before: Entry, after: Entry) -> list[Change]:
    return [Change(table, key, before, after)] if after != before else []


def _made(table: Any, data: JsonMapping) -> Record:
    return RECORDS[table].model_validate_json(json.dumps(data))


def _shot_at(rack: str, number: int, old: Places) -> str | None:
    return next((shot for shot, place in old.items() if place == (rack, number)), None)


def _renumbered(number: Any, from_rack: str, to_rack: str, old: Places, new: Places) -> int | None:
    """The number that the shot with a number of a rack has now, None where it is in another rack."""
    shot = _shot_at(from_rack, number, old) if isinstance(number, int) else None
    if shot is None or new[shot][0] != to_rack:
        return None
    return new[shot][1]


def _follow(data: JsonObject, key: str, from_rack: str, to_rack: str, old: Places, new: Places) -> None:
    if key in data:
        number = _renumbered(data[key], from_rack, to_rack, old, new)
        if number is None:
            del data[key]
        else:
            data[key] = number


def _shot_data(data: JsonObject, was: tuple[str, int], rack: str, old: Places, new: Places) -> JsonObject:
    errors = data.get("error")
    for error in errors if isinstance(errors, list) else [errors]:
        if isinstance(error, dict):
            _follow(error, "cause_shot", was[0], rack, old, new)
    return data


def _rack_data(data: JsonObject, key: str, old: Places, new: Places) -> JsonObject:
    for name in ("root_shot", "making_shot"):
        _follow(data, name, key, key, old, new)
    for plan in data.get("plans") or ():
        _follow(plan, "made_at_shot", key, key, old, new)
    return data


def _film_parts(snapshot: Snapshot, racks: Mapping[str, int], old: Places, new: Places) -> list[Change]:
    """What a part of the film shows follows its shots; shown across a new boundary it shows the rack."""
    numbers = {row.record.number: row.key for row in snapshot.racks}
    parts = [serialize(part) for part in snapshot.head.film_parts or ()]
    for part in parts:
        shown = part.get("shows")
        if not isinstance(shown, dict) or shown.get("rack") not in numbers:
            continue
        rack = numbers[shown["rack"]]
        first = _shot_at(rack, shown.get("from_shot", 1), old)
        if first is None or new[first][0] not in racks:
            continue
        to = new[first][0]
        for name in ("from_shot", "to_shot"):
            _follow(shown, name, rack, to, old, new)
        shown["rack"] = racks[to]
    if parts == [serialize(part) for part in snapshot.head.film_parts or ()]:
        return []
    before = snapshot.entry("session", snapshot.key)
    data = serialize(before.record) | {"film_parts": parts}
    after = Entry(_made("session", data), before.parent, before.position)
    return _changed("session", snapshot.key, before, after)
