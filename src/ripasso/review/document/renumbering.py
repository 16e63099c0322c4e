"""Shots and racks that change their number take the references to them along.

References are causes, changes of plan, root shots, and what a part of the film shows.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ripasso.review.document.command import Change, Entry
from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.record.model import FilmPart, Rack, Shot, serialize

Moves = Mapping[int, int | None]  # old number to new; None: that shot is gone


def moved_shots(snapshot: Snapshot, rack: RackRow, order: Sequence[str | None]) -> tuple[Change, ...]:
    """The changes that bring a rack's shots into `order`; None stands for a shot that is being added."""
    place = {key: position for position, key in enumerate(order) if key is not None}
    moves: dict[int, int | None] = {}
    for shot in rack.shots:
        moves[shot.record.number] = place[shot.key] + 1 if shot.key in place else None
    changes = []
    for shot in rack.shots:
        if shot.key in place:
            before = snapshot.entry("shot", shot.key)
            record = _moved_shot(shot.record, place[shot.key] + 1, moves)
            after = Entry(record, before.parent, place[shot.key])
            if after != before:
                changes.append(Change("shot", shot.key, before, after))
    before = snapshot.entry("rack", rack.key)
    moved_rack = Entry(_moved_rack(rack.record, moves), before.parent, before.position)
    if moved_rack != before:
        changes.append(Change("rack", rack.key, before, moved_rack))
    number = rack.record.number
    return (*changes, *moved_parts(snapshot, {number: number}, {number: moves}))


def moved_parts(
    snapshot: Snapshot, racks: Moves, shots: Mapping[int, Moves] | None = None
) -> tuple[Change, ...]:
    """The change that lets the parts of the film follow the racks and shots they show.

    `racks` maps old numbers of racks to new ones, `shots` the shots' of a rack. A part whose rack is gone
    shows nothing that is known any more.
    """
    parts = [serialize(part) for part in snapshot.head.film_parts or ()]
    for part in parts:
        shown = part.get("shows")
        if not isinstance(shown, dict) or shown.get("rack") not in racks:
            continue
        for key in ("from_shot", "to_shot"):
            _follow(shown, key, (shots or {}).get(shown["rack"], {}))
        if any(shown.get(key, 0) is None for key in ("from_shot", "to_shot")):
            shown.pop("from_shot", None)
            shown.pop("to_shot", None)
        new = racks[shown["rack"]]
        if new is None:
            del part["shows"]
        else:
            shown["rack"] = new
    before = snapshot.entry("session", snapshot.key)
    listed = tuple(FilmPart.model_validate(part, strict=False) for part in parts)
    if listed == (snapshot.head.film_parts or ()):
        return ()
    after = Entry(before.record.model_copy(update={"film_parts": listed}), before.parent, before.position)
    return (Change("session", snapshot.key, before, after),)


def rack_numbers(before: Sequence[Rack], order: Sequence[Rack | None]) -> list[int]:
    """The numbers of racks in a new order (None: a new rack): they count on, anew after each gap.

    `before` are the racks as they stood. Behind racks that are not shown the number is a fact of the match.
    """
    numbers: list[int] = []
    last, after_gap = (before[0].number - 1 if before else 0), False
    for rack in order:
        keeps = rack is not None and after_gap and rack.number > last
        last = rack.number if rack is not None and keeps else last + 1
        after_gap = rack is not None and bool(rack.not_shown)
        numbers.append(last)
    return numbers


def _moved_shot(shot: Shot, number: int, moves: Moves) -> Shot:
    if shot.error is None and shot.plan is None:
        return shot.model_copy(update={"number": number}) if number != shot.number else shot
    data = serialize(shot)
    errors = data.get("error")
    for error in errors if isinstance(errors, list) else [errors]:
        _follow(error, "cause_shot", moves)
    _follow(data.get("plan"), "changed_from", moves)
    data["number"] = number
    return shot if data == serialize(shot) else Shot.model_validate(data, strict=False)


def _moved_rack(rack: Rack, moves: Moves) -> Rack:
    update = {
        name: moves.get(number, number)
        for name in ("root_shot", "making_shot")
        if (number := getattr(rack, name)) is not None and moves.get(number, number) != number
    }
    return rack.model_copy(update=update) if update else rack


def _follow(record: Any, key: str, moves: Moves) -> None:
    """Let one reference follow its shot; a reference to a shot that is gone becomes "none known"."""
    if isinstance(record, dict) and record.get(key) in moves:
        number = moves[record[key]]
        if number is None:
            del record[key]
        else:
            record[key] = number
