"""A practice plan in the document: exercises are made, begun, ended, put off and taken away, as commands."""

from __future__ import annotations

import json
from collections.abc import Sequence
from datetime import date

from ripasso.core.json_data import JsonObject
from ripasso.core.practice.due import Goal, Standing, after_set, passed, skipped
from ripasso.review.document.command import Change, Command, Entry
from ripasso.review.document.edits import RefusedEdit, edit, new_key, set_values
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.attempts import criteria_of, outcomes_of, set_title
from ripasso.review.record.model import FORMAT, VERSION, Player, Session, Shot, serialize
from ripasso.review.record.practice import AttemptSet, Exercise, PracticePlan

#: What a new exercise asks for, how many attempts a set has, and how long it takes.
SHARE, ATTEMPTS, MINUTES = 0.6, 20, 15
#: What a new plan has: minutes a day, and days.
DAY_MINUTES, DAYS = 60, ("mon", "wed", "fri")


def practice_session(
    player: Player,
    game: str | None,
    table: JsonObject | None,
    today: date,
    exercises: Sequence[JsonObject] = (),
) -> Session:
    """A session that keeps a player's practice: its plan, and the sets that are played."""
    name = player.name or player.id
    data: JsonObject = {
        "format": FORMAT,
        "version": VERSION,
        "id": f"practice-{new_key()}",
        "title": f"Practice, {name}",
        "date": today.isoformat(),
        "kind": "practice",
        "game": game or "nine_ball",
        "players": [serialize(player)],
        "practice_plan": {
            "player": player.id,
            "minutes": DAY_MINUTES,
            "days": list(DAYS),
            "exercises": list(exercises),
            "done": [],
        },
    }
    if table is not None:
        data["table"] = dict(table)
    return Session.model_validate_json(json.dumps(data))


def plan_of(snapshot: Snapshot) -> PracticePlan:
    """The practice plan of a session; an empty one where it has none."""
    return snapshot.head.practice_plan or PracticePlan()


def exercises_of(snapshot: Snapshot) -> tuple[Exercise, ...]:
    """All exercises, what is due first at the front."""
    found = plan_of(snapshot).exercises or ()
    return tuple(sorted(found, key=lambda one: (one.due or "", one.title)))


def exercise_of(snapshot: Snapshot, name: str) -> Exercise | None:
    """The exercise with this id."""
    return next((one for one in plan_of(snapshot).exercises or () if one.id == name), None)


def due_on(exercise: Exercise, today: date) -> date:
    """The day on which an exercise is due; one that was never said to be is due at once."""
    try:
        return date.fromisoformat(exercise.due or "")
    except ValueError:
        return today


def exercise_of_shot(
    shot: Shot, rack: int, session: Session, today: date, slices: Sequence[tuple[str, str]] = ()
) -> JsonObject:
    """A shot as an exercise: its layout, target, zone and criteria; the goal is a usual one."""
    made: JsonObject = {
        "title": _capital(set_title(shot, rack, session.game)),
        "kind": "one_shot",
        "criteria": criteria_of(shot),
        "from": {"session": session.id, "rack": rack, "shot": shot.number},
        **_usual(today),
    }
    if shot.before:
        made["layout"] = {ball: list(place) for ball, place in shot.before.items()}
    if shot.call is not None and shot.call.ball:
        made["target"] = serialize(shot.call)
    if shot.plan is not None and shot.plan.zone is not None:
        made["zone"] = serialize(shot.plan.zone)
    if slices:
        made["slices"] = [list(one) for one in slices]
    return made


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def plain_exercise(kind: str, title: str, today: date, **more: object) -> JsonObject:
    """An exercise of a kind without a layout, such as a ghost race or a break."""
    return {"title": title, "kind": kind, **_usual(today), **more}


def _usual(today: date) -> JsonObject:
    return {
        "goal": {"share": SHARE},
        "attempts": ATTEMPTS,
        "minutes": MINUTES,
        "level": 0,
        "due": today.isoformat(),
    }


@edit
def add_exercise(snapshot: Snapshot, values: JsonObject) -> Command:
    """One exercise more; its id is new."""
    made = {"id": new_key(), **values}
    Exercise.model_validate_json(json.dumps(made))
    listed = [serialize(one) for one in plan_of(snapshot).exercises or ()]
    return _planned(snapshot, {"exercises": [*listed, made]}, f"Add the exercise {made['title']}")


@edit
def change_exercise(snapshot: Snapshot, name: str, values: JsonObject, label: str) -> Command:
    """Other values of an exercise; None takes a value away."""
    return _planned(snapshot, {"exercises": _changed(snapshot, name, values)}, label)


@edit
def remove_exercise(snapshot: Snapshot, name: str) -> Command:
    """Take an exercise away; the sets that were played stay."""
    listed = [serialize(one) for one in plan_of(snapshot).exercises or () if one.id != name]
    return _planned(snapshot, {"exercises": listed}, "Delete an exercise")


@edit
def set_time(snapshot: Snapshot, minutes: int, days: Sequence[str]) -> Command:
    """How many minutes there are, and on which days."""
    return _planned(snapshot, {"minutes": minutes, "days": list(days)}, "Change the time for practice")


@edit
def begin_set(snapshot: Snapshot, name: str, day: date, key: str) -> Command:
    """A set of attempts at an exercise, under a key of the caller's."""
    exercise = exercise_of(snapshot, name)
    if exercise is None:
        raise RefusedEdit("This exercise is not there any more.")
    taken = {one.id for _, one in snapshot.attempt_sets}
    number = 1 + sum(one.exercise == name for _, one in snapshot.attempt_sets)
    data: JsonObject = {
        "id": f"{name}-{number}",
        "title": exercise.title,
        "exercise": name,
        "date": day.isoformat(),
        "attempts": [],
    }
    while data["id"] in taken:
        data["id"] += "x"
    for part in ("layout", "target", "criteria"):
        value = getattr(exercise, part)
        if value is not None:
            data[part] = _plain(value)
    made = AttemptSet.model_validate_json(json.dumps(data))
    change = Change("attempt_set", key, None, Entry(made, snapshot.key, len(snapshot.attempt_sets)))
    return Command(f"Begin {exercise.title}", snapshot.key, (change,))


def _plain(value: object) -> object:
    if isinstance(value, dict):
        return {ball: list(place) for ball, place in value.items()}
    if isinstance(value, tuple):
        return [serialize(one) for one in value]
    return serialize(value)  # type: ignore[arg-type]


def open_set(snapshot: Snapshot, name: str) -> tuple[str, AttemptSet] | None:
    """The set of an exercise that was begun and not ended, with its key: counting goes on there."""
    ended = {one.set for one in plan_of(snapshot).done or () if one.exercise == name}
    found = [(key, one) for key, one in snapshot.attempt_sets if one.exercise == name and one.id not in ended]
    return found[-1] if found else None


def sets_of(snapshot: Snapshot, name: str) -> list[AttemptSet]:
    """The sets of an exercise with at least one attempt, in order."""
    return [one for _, one in snapshot.attempt_sets if one.exercise == name and one.attempts]


def goal_of(exercise: Exercise) -> Goal:
    """What an exercise asks for."""
    goal = exercise.goal
    return Goal(None if goal is None or goal.share is None else float(goal.share), *_row(exercise))


def _row(exercise: Exercise) -> tuple[int | None, int | None]:
    goal = exercise.goal
    return (goal.made, goal.of) if goal is not None else (None, None)


def has_passed(exercise: Exercise, made: AttemptSet) -> bool:
    """Whether a set reached what its exercise asks for."""
    return passed(outcomes_of(made.attempts or ()), goal_of(exercise))


@edit
def end_set(snapshot: Snapshot, name: str, key: str, day: date) -> Command:
    """End a set: whether it passed moves the level and the date; refuses a set without an attempt."""
    exercise = exercise_of(snapshot, name)
    made = next((one for found, one in snapshot.attempt_sets if found == key), None)
    if exercise is None or made is None or not made.attempts:
        raise RefusedEdit("There is no attempt in this set yet.")
    is_passed = has_passed(exercise, made)
    standing = after_set(exercise.level or 0, day, is_passed=is_passed)
    done = [serialize(one) for one in plan_of(snapshot).done or ()]
    done.append({"exercise": name, "date": day.isoformat(), "set": made.id, "passed": is_passed})
    moved = _changed(snapshot, name, {"level": standing.level, "due": standing.due.isoformat()})
    return _planned(snapshot, {"exercises": moved, "done": done}, f"End a set of {exercise.title}")


@edit
def skip(snapshot: Snapshot, name: str, today: date) -> Command:
    """Not today: due tomorrow, on the same level."""
    exercise = exercise_of(snapshot, name)
    if exercise is None:
        raise RefusedEdit("This exercise is not there any more.")
    moved = skipped(Standing(exercise.level or 0, due_on(exercise, today)), today)
    return _planned(
        snapshot,
        {"exercises": _changed(snapshot, name, {"due": moved.due.isoformat()})},
        f"Put off {exercise.title}",
    )


def _changed(snapshot: Snapshot, name: str, values: JsonObject) -> list[JsonObject]:
    listed = []
    for one in plan_of(snapshot).exercises or ():
        data = serialize(one)
        if one.id == name:
            data = {key: value for key, value in {**data, **values}.items() if value is not None}
            Exercise.model_validate_json(json.dumps(data))
        listed.append(data)
    return listed


def _planned(snapshot: Snapshot, values: JsonObject, label: str) -> Command:
    """A command that changes values of the plan; a session without a plan gets one."""
    kept = serialize(plan_of(snapshot))
    return set_values(snapshot, "session", snapshot.key, {("practice_plan",): {**kept, **values}}, label)
