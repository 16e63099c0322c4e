"""What was read from a film, taken into a session as proposals; and taken out of it again.

Nothing that a person entered is overwritten: of a shot that is there already only what is missing is
proposed. A shot's proposals stay what they are until somebody accepts, corrects or takes them back.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ripasso.core.json_data import JsonMapping
from ripasso.core.table import table_spec
from ripasso.review.document.command import Change, Command
from ripasso.review.document.edits import REMOVE, Path, add_rack, edit, remove_shot, set_values, several
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.entry.marking import Moment, mark_strike, next_breaker
from ripasso.review.record.model import Shot, serialize
from ripasso.review.record.proposals import parts_of, pointer, without_proposals
from ripasso.review.recordings.film_parts import propose_stretches
from ripasso.review.recordings.proposed_intents import proposed_intent
from ripasso.review.recordings.views import follow_camera

#: A read shot is one that is there when their strikes are this near, seconds.
SAME_SHOT_S = 0.6
#: Below this a value is uncertain: it should be looked at.
UNCERTAIN = 0.9
_LAYOUTS = ("before", "after")
#: What follows from the rules, not from the film.
_FOLLOWING = frozenset({"player", "intent"})
_OWN = frozenset({"number", "player", "recording", "proposed"})


def take_in_reading(
    snapshot: Snapshot,
    recording: str,
    read: Sequence[tuple[int, JsonMapping]],
    start_s: float,
    views: Sequence[JsonMapping],
) -> Command:
    """Propose shots that were read from `start_s` on, and say what the cameras of the film did (one step)."""
    shots = take_in_shots(snapshot, recording, read)
    camera = follow_camera(snapshot.applied(shots.changes) or snapshot, recording, start_s, views)
    return _several(snapshot, shots.label, [one for one in (shots, camera) if one.changes])


@edit
def take_in_shots(snapshot: Snapshot, recording: str, read: Sequence[tuple[int, JsonMapping]]) -> Command:
    """Propose shots that were read: the rack of the film each belongs to (1 first), and its values.

    Shots that are there already get what they lack.
    """
    commands: list[Command] = []
    label = f"Read {len(read)} {'shot' if len(read) == 1 else 'shots'} from the film"
    before_rack: int | None = None
    for rack, values in read:
        command = _take_in(
            snapshot, recording, values, begins_rack=before_rack is not None and rack > before_rack
        )
        before_rack = rack
        if command is not None and command.changes:
            commands.append(command)
            snapshot = snapshot.applied(command.changes) or snapshot
    return _several(snapshot, label, commands)


def _several(snapshot: Snapshot, label: str, commands: Sequence[Command]) -> Command:
    """Several commands as one; nothing to do is no change."""
    return several(label, commands) if commands else Command(label, snapshot.key, ())


def _take_in(snapshot: Snapshot, recording: str, values: JsonMapping, *, begins_rack: bool) -> Command | None:
    there = _shot_at(snapshot, recording, float(values["t_strike"]))
    values = _with_intent(values, snapshot, there)
    if there is not None:
        return _complete(snapshot, there, values)
    commands = []
    if begins_rack and snapshot.racks and snapshot.racks[-1].shots:
        breaker = next_breaker(snapshot)
        commands.append(add_rack(snapshot, {"breaker": breaker} if breaker else {}))
        snapshot = snapshot.applied(commands[-1].changes) or snapshot
    command, key = mark_strike(snapshot, Moment(recording, float(values["t_strike"])), None)
    commands.append(command)
    snapshot = snapshot.applied(command.changes) or snapshot
    row = snapshot.shot(key)
    assert row is not None
    marks: dict[str, float] = dict(values.get("proposed", {}))
    sure = float(marks.get("/t_strike", 0.5))
    # Who struck, and that it is a break, follows from the rules: no surer than the strike.
    marks |= {
        pointer((name,)): sure for name in ("player", "intent") if getattr(row.record, name) is not None
    }
    # A break is one by the rules, whatever its balls ran at.
    left_out = ("proposed", "intent", "call") if row.record.intent is not None else ("proposed",)
    proposed: dict[Path, object] = {(name,): value for name, value in values.items() if name not in left_out}
    marks = {text: share for text, share in marks.items() if text != "/call" or "call" not in left_out}
    proposed[("proposed",)] = marks
    commands.append(set_values(snapshot, "shot", key, proposed, command.label))
    return several(command.label, commands)


def _with_intent(values: JsonMapping, snapshot: Snapshot, there: ShotRow | None) -> JsonMapping:
    """The values of a read shot with what it was meant to be, where nobody has said it."""
    if there is not None and without_proposals(there.record).intent is not None:
        return values
    meant, marks = proposed_intent(values, table_spec(snapshot.head.table))
    return {**values, **meant, "proposed": {**values.get("proposed", {}), **marks}}


def _shot_at(snapshot: Snapshot, recording: str, t_strike: float) -> ShotRow | None:
    near = [
        row
        for row in snapshot.shots
        if row.record.recording == recording
        and row.record.t_strike is not None
        and abs(float(row.record.t_strike) - t_strike) < SAME_SHOT_S
    ]
    return min(near, key=lambda row: abs(float(row.record.t_strike or 0) - t_strike), default=None)


def _complete(snapshot: Snapshot, row: ShotRow, values: JsonMapping) -> Command | None:
    """Propose what a shot lacks, or what was proposed for it before and nobody has accepted."""
    data, marks = serialize(without_proposals(row.record)), dict(values.get("proposed", {}))
    wanted: dict[Path, object] = {}
    kept = dict(row.record.proposed or {})
    for path, value in _leaves(values):
        if _has(data, path):
            continue
        wanted[path] = value
        text = pointer(path)
        share = next((marks[t] for t in _around(text) if t in marks), 0.5)
        kept[text] = share
    if not wanted:
        return None
    for text in row.record.proposed or ():
        path = parts_of(text)
        if path[0] not in _FOLLOWING and not any(w[: len(path)] == path for w in wanted):
            # It was read otherwise before.
            wanted[path] = REMOVE
            kept.pop(text, None)
    wanted[("proposed",)] = kept
    command = set_values(snapshot, "shot", row.key, wanted, f"Read shot {row.record.number}")
    return command if command.changes[0].before != command.changes[0].after else None


def _leaves(values: JsonMapping) -> Iterable[tuple[Path, object]]:
    """The values of a read shot one by one: each ball of a layout, each fact."""
    for name, value in values.items():
        if name == "proposed":
            continue
        if name in (*_LAYOUTS, "facts"):
            yield from (((name, key), inner) for key, inner in value.items())
        else:
            yield (name,), value


def _has(data: JsonMapping, path: Path) -> bool:
    here: Any = data
    for part in path:
        if not isinstance(here, dict) or part not in here:
            return False
        here = here[part]
    return True


def _around(text: str) -> Iterable[str]:
    """A pointer, and those of the objects around it, the nearest first."""
    parts = parts_of(text)
    for depth in range(len(parts), 0, -1):
        yield pointer(tuple(parts[:depth]))


@edit
def forget_reading(snapshot: Snapshot, recording: str) -> Command:
    """Take back everything that was read from a recording and nobody has accepted, as one step."""
    commands: list[Command] = []
    begun = {rack.key for rack in snapshot.racks if rack.shots}
    for row in reversed(snapshot.shots):
        shot = row.record
        if shot.recording != recording or not shot.proposed:
            continue
        if "/t_strike" in shot.proposed and _says_nothing(shot):
            command = remove_shot(snapshot, row.key)
        else:
            said = without_proposals(shot)
            gone: dict[Path, object] = {
                (name,): REMOVE for name in serialize(shot) if name not in serialize(said)
            }
            left: dict[Path, object] = {
                (name,): value for name, value in serialize(said).items() if name != "number"
            }
            command = set_values(snapshot, "shot", row.key, {**gone, **left}, "Take a reading back")
        commands.append(command)
        snapshot = snapshot.applied(command.changes) or snapshot
    commands += _empty_racks(snapshot, begun)
    if any(part.proposed and part.recording == recording for part in snapshot.head.film_parts or ()):
        commands.append(propose_stretches(snapshot, recording, ()))
    return _several(snapshot, "Take the reading of the film back", commands)


def _says_nothing(shot: Shot) -> bool:
    """Nobody has said anything of a shot besides that it was played."""
    return not set(serialize(without_proposals(shot))) - _OWN - {"id"}


def _empty_racks(snapshot: Snapshot, begun: set[str]) -> list[Command]:
    """Racks at the end that the reading began, and that have no shots any more."""
    commands = []
    while snapshot.racks and not snapshot.racks[-1].shots and snapshot.racks[-1].key in begun:
        rack = snapshot.racks[-1]
        if set(serialize(rack.record)) - {"number", "shots", "breaker"}:
            break
        change = Change("rack", rack.key, snapshot.entry("rack", rack.key), None)
        commands.append(Command("Take away an empty rack", snapshot.key, (change,)))
        snapshot = snapshot.applied((change,)) or snapshot
    return commands


@edit
def rename_ball(snapshot: Snapshot, shot: str, ball: str, right: str) -> Command:
    """A ball was taken for another: say which it is, here and in what is still proposed later in its rack.

    Where both were read they change places. In the shot in hand the corrected ball is said by a person.
    """
    row = snapshot.shot(shot)
    rack = snapshot.rack(row.rack) if row else None
    if row is None or rack is None:
        raise KeyError(shot)
    commands = []
    for other in rack.shots[rack.place(shot) :]:
        swapped = _swapped(other.record, ball, right, by_hand=other.key == shot)
        if swapped is not None:
            commands.append(set_values(snapshot, "shot", other.key, swapped, f"Say ball {right}"))
    return _several(snapshot, f"Say ball {right}, not {ball}", commands)


def _swapped(shot: Shot, ball: str, right: str, *, by_hand: bool) -> dict[Path, object] | None:
    """The values of a shot with two balls exchanged where they are proposed."""
    marks = dict(shot.proposed or {})
    names = {ball: right, right: ball}
    data = serialize(shot)
    values: dict[Path, object] = {}
    for layout in _LAYOUTS:
        places = data.get(layout)
        read = any(f"/{layout}/{name}" in marks or f"/{layout}" in marks for name in names)
        if places is None or not (read or by_hand):
            continue
        values[(layout,)] = {names.get(name, name): place for name, place in places.items()}
        changed = {
            names[name]: marks.pop(f"/{layout}/{name}") for name in names if f"/{layout}/{name}" in marks
        }
        marks |= {f"/{layout}/{name}": share for name, share in changed.items()}
        if by_hand:
            marks.pop(f"/{layout}/{right}", None)
    values |= _swapped_facts(data.get("facts") or {}, marks, names)
    if "/call" in marks and (data.get("call") or {}).get("ball") in names:
        values[("call", "ball")] = names[data["call"]["ball"]]
    if "/path" in marks and data.get("path"):
        values[("path",)] = {names.get(name, name): way for name, way in data["path"].items()}
    if not values:
        return None
    values[("proposed",)] = marks or REMOVE
    return values


def _swapped_facts(
    facts: JsonMapping, marks: Mapping[str, object], names: Mapping[str, str]
) -> dict[Path, object]:
    """First contact and potted balls with two names exchanged, where they are proposed."""
    values: dict[Path, object] = {}
    if "/facts/first_contact" in marks and facts.get("first_contact") in names:
        values[("facts", "first_contact")] = names[facts["first_contact"]]
    potted = facts.get("potted") or ()
    if "/facts/potted" in marks and any(pot.get("ball") in names for pot in potted):
        values[("facts", "potted")] = [{**pot, "ball": names.get(pot["ball"], pot["ball"])} for pot in potted]
    return values


def uncertainty(shot: Shot) -> float:
    """How sure the least sure proposal of a shot is; 1 where nothing is proposed."""
    return min((float(share) for share in (shot.proposed or {}).values()), default=1.0)


def next_uncertain(snapshot: Snapshot, after: str | None) -> str | None:
    """The next shot with a proposal that is not sure, beginning anew at the end; None where there is none."""
    keys = [row.key for row in snapshot.shots]
    start = keys.index(after) + 1 if after in keys else 0
    for key in (*keys[start:], *keys[:start]):
        row = snapshot.shot(key)
        if row is not None and row.record.proposed and uncertainty(row.record) < UNCERTAIN:
            return key
    return None


def next_proposed(snapshot: Snapshot, after: str | None) -> str | None:
    """The next shot after one that has proposals; None where there is none."""
    keys = [row.key for row in snapshot.shots]
    start = keys.index(after) + 1 if after in keys else 0
    return next((key for key in keys[start:] if (row := snapshot.shot(key)) and row.record.proposed), None)


def read_to(snapshot: Snapshot, recording: str) -> float:
    """Up to where a recording has shots: a reading that was stopped can go on from there (seconds)."""
    ends = [
        float(row.record.t_rest)
        for row in snapshot.shots
        if row.record.recording == recording and row.record.t_rest is not None
    ]
    return max(ends, default=0.0)
