"""The commands that exist: each builds a `Command` from a snapshot and changes nothing itself.

To add one: a function here with `@edit`; the test of undo runs every registered one at random and fails
until its generator covers it.
"""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable, Mapping, Sequence
from typing import Any, TypeVar

from pydantic import ValidationError

from ripasso.review.document.command import RECORDS, Change, Command, Entry, Table, joined
from ripasso.review.document.renumbering import moved_parts, moved_shots, rack_numbers
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import Rack, Session, Shot, serialize
from ripasso.review.record.parts import Record
from ripasso.review.record.proposals import still_proposed

Path = tuple[str | int, ...]


class _Remove:
    """The value that takes a key away, so that it is missing again."""


REMOVE = _Remove()
F = TypeVar("F", bound=Callable[..., Command])
EDITS: dict[str, Callable[..., Command]] = {}


class RefusedEdit(ValueError):
    """The values cannot stand in the record; the message is one sentence for the user."""


def edit(function: F) -> F:
    """Register a function that builds a command."""
    EDITS[function.__name__] = function
    return function


def new_key() -> str:
    """A key no other row has."""
    return uuid.uuid4().hex


def with_values(record: Record, values: Mapping[Path, object]) -> Record:
    """The record with some values changed, by path; `REMOVE` takes a key away.

    Objects on the way are made; an object that a removal leaves empty goes too. Raises `RefusedEdit`.
    """
    data = serialize(record)
    for path, value in values.items():
        _place_value(data, path, value)
    try:
        return type(record).model_validate_json(json.dumps(data))
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = ".".join(str(part) for part in first["loc"])
        raise RefusedEdit(f"This value cannot stand at {where}: {first['msg']}.") from None


def _place_value(data: Any, path: Path, value: object) -> None:
    key, rest = path[0], path[1:]
    if not rest:
        if value is REMOVE:
            data.pop(key, None)
        else:
            data[key] = value
        return
    inner = data.get(key) if isinstance(data, dict) else data[key]
    if inner is None:
        if value is REMOVE:
            return
        inner = data[key] = {}
    _place_value(inner, rest, value)
    if value is REMOVE and isinstance(data, dict) and inner == {}:
        del data[key]


def exploded(session: Session) -> list[Change]:
    """The rows of a complete session, as they are added to an empty library."""
    key = session.id
    changes = [_added("session", key, _stripped(session, "racks", "attempt_sets"), None, 0)]
    for position, rack in enumerate(session.racks or ()):
        rack_key = new_key()
        changes.append(_added("rack", rack_key, _stripped(rack, "shots"), key, position))
        for place, shot in enumerate(rack.shots or ()):
            changes.append(_added("shot", new_key(), shot, rack_key, place))
    for position, attempt_set in enumerate(session.attempt_sets or ()):
        changes.append(_added("attempt_set", new_key(), attempt_set, key, position))
    return changes


def _stripped(record: Record, *lists: str) -> Record:
    """The record without its children; a list that was set stays set, and empty."""
    update: dict[str, object] = {}
    for name in lists:
        if getattr(record, name) is not None:
            update[name] = ()
    return record.model_copy(update=update) if update else record


def _added(table: Table, key: str, record: Record, parent: str | None, position: int) -> Change:
    return Change(table, key, None, Entry(record, parent, position))


@edit
def add_session(session: Session) -> Command:
    """A new or imported session with everything in it."""
    return Command(f"Add session {session.title}", session.id, tuple(exploded(session)))


@edit
def remove_session(snapshot: Snapshot) -> Command:
    """Delete a session and everything in it."""
    changes = tuple(Change(table, key, entry, None) for (table, key), entry in _children_first(snapshot))
    return Command(f"Delete session {snapshot.head.title}", snapshot.key, changes)


@edit
def replace_session(snapshot: Snapshot, session: Session) -> Command:
    """Put another version in the place of a session, as an import does."""
    new = session.model_copy(update={"id": snapshot.key})
    changes = (*remove_session(snapshot).changes, *exploded(new))
    merged: dict[tuple[Table, str], Change] = {}
    for change in changes:
        earlier = merged.get((change.table, change.key))
        before = earlier.before if earlier else change.before
        merged[change.table, change.key] = Change(change.table, change.key, before, change.after)
    return Command(f"Replace session {session.title}", snapshot.key, tuple(merged.values()))


def _children_first(snapshot: Snapshot) -> list[tuple[tuple[Table, str], Entry]]:
    order = {"shot": 0, "attempt_set": 1, "rack": 2, "session": 3}
    return sorted(snapshot.rows.items(), key=lambda item: (order[item[0][0]], item[1].position, item[0][1]))


@edit
def set_values(
    snapshot: Snapshot, table: Table, key: str, values: Mapping[Path, object], label: str
) -> Command:
    """Change values of one record by path; what was only proposed of a shot and is said now is settled."""
    before = snapshot.entry(table, key)
    if not isinstance(before.record, RECORDS[table]):
        raise TypeError(f"{key} is no {table}")
    if isinstance(before.record, Shot) and before.record.proposed and not _proposes(values):
        left = still_proposed(before.record, values)
        values = {**values, ("proposed",): left or REMOVE}
    after = Entry(with_values(before.record, values), before.parent, before.position)
    return Command(label, snapshot.key, (Change(table, key, before, after),))


def _proposes(values: Mapping[Path, object]) -> bool:
    """The values say themselves what is a proposal."""
    return any(path[0] == "proposed" for path in values)


@edit
def add_rack(snapshot: Snapshot, values: Mapping[str, object], key: str | None = None) -> Command:
    """A new rack after the last one."""
    number = max((rack.record.number for rack in snapshot.racks), default=0) + 1
    record = Rack.model_validate({"number": number, **values, "shots": ()})
    change = _added("rack", key or new_key(), record, snapshot.key, len(snapshot.racks))
    return Command(f"Begin rack {number}", snapshot.key, (change,))


@edit
def remove_rack(snapshot: Snapshot, key: str) -> Command:
    """Take a rack away with its shots; later racks move up."""
    rack = snapshot.rack(key)
    if rack is None:
        raise KeyError(key)
    changes = [Change("shot", shot.key, snapshot.entry("shot", shot.key), None) for shot in rack.shots]
    changes.append(Change("rack", key, snapshot.entry("rack", key), None))
    rest = [row for row in snapshot.racks if row.key != key]
    numbers = rack_numbers([row.record for row in snapshot.racks], [row.record for row in rest])
    for position, (row, number) in enumerate(zip(rest, numbers, strict=True)):
        before = snapshot.entry("rack", row.key)
        after = Entry(row.record.model_copy(update={"number": number}), before.parent, position)
        if after != before:
            changes.append(Change("rack", row.key, before, after))
    moves: dict[int, int | None] = {
        row.record.number: number for row, number in zip(rest, numbers, strict=True)
    }
    changes += moved_parts(snapshot, {**moves, rack.record.number: None})
    return Command(f"Take away rack {rack.record.number}", snapshot.key, tuple(changes))


@edit
def add_shot(
    snapshot: Snapshot, rack: str, position: int, values: Mapping[str, object], key: str | None = None
) -> Command:
    """A new shot at a place among the rack's shots (0 first); later shots move up."""
    row = snapshot.rack(rack)
    if row is None:
        raise KeyError(rack)
    record = Shot.model_validate({"number": position + 1, **values})
    order = [shot.key for shot in row.shots]
    changes = (
        _added("shot", key or new_key(), record, rack, position),
        *moved_shots(snapshot, row, [*order[:position], None, *order[position:]]),
    )
    return Command(f"Add shot {position + 1}", snapshot.key, changes)


@edit
def remove_shot(snapshot: Snapshot, key: str) -> Command:
    """Take a shot away; later shots of the rack move up."""
    shot = snapshot.shot(key)
    row = snapshot.rack(shot.rack) if shot else None
    if shot is None or row is None:
        raise KeyError(key)
    rest = [other.key for other in row.shots if other.key != key]
    changes = (
        Change("shot", key, snapshot.entry("shot", key), None),
        *moved_shots(snapshot, row, rest),
    )
    return Command(f"Take away shot {shot.record.number}", snapshot.key, changes)


@edit
def several(label: str, commands: Sequence[Command]) -> Command:
    """Several commands as one step of undo; each was built on the snapshot the one before it leaves."""
    return joined(label, commands)
