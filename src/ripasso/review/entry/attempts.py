"""A shot played again: sets of attempts with their layout and criteria, counted apart from the match."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import cast

from ripasso.core.json_data import JsonObject
from ripasso.core.measures.attempts import (
    AmountEffect,
    AttemptFigures,
    ChangeEffect,
    amount_effects,
    attempt_figures,
    change_effects,
)
from ripasso.review.document.command import Change, Command, Entry
from ripasso.review.document.edits import REMOVE, Path, RefusedEdit, edit, new_key
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.items import Word
from ripasso.review.language.parsing import NotAWord, parse
from ripasso.review.language.vocabulary import ball_word, pocket_word, word
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.model import Shot, serialize
from ripasso.review.record.practice import Attempt, AttemptSet

Values = dict[Path, object]
POT, AREA = "pot", "area"
#: What can be changed between attempts, with the units that make sense.
CHANGES = {
    "aim": ("mm", "ball"),
    "side": ("ball", "mm"),
    "height": ("ball", "mm"),
    "pace": ("percent",),
    "pocket_side": ("text",),
    "other": ("text",),
}
_UNITS = {
    "mm": "mm",
    "ball": "ball",
    "balls": "ball",
    "deg": "deg",
    "°": "deg",
    "percent": "percent",
    "%": "percent",
}


class NotAChange(ValueError):
    """What was changed is not understood; the message is one sentence."""


@dataclass(frozen=True)
class SetLine:
    """A set in a list, with its figures."""

    key: str
    title: str
    figures: AttemptFigures
    weight: float | None


@edit
def add_attempt_set(snapshot: Snapshot, shot: str, criteria: Sequence[tuple[str, str]] = ()) -> Command:
    """Make a shot into a set of attempts: its layout, its target, and criteria (id, text) fixed beforehand.

    Raises `RefusedEdit` for a shot that is not there.
    """
    row = snapshot.shot(shot)
    rack = snapshot.rack(row.rack) if row else None
    if row is None or rack is None:
        raise RefusedEdit("There is no shot here that could be played again.")
    record = row.record
    game = snapshot.head.game
    data: JsonObject = {
        "id": f"again-{len(snapshot.attempt_sets) + 1}",
        "title": set_title(record, rack.record.number, game),
        "from_shot": {"rack": rack.record.number, "shot": record.number},
        "criteria": criteria_of(record, criteria),
        "attempts": [],
    }
    taken = {one.id for _, one in snapshot.attempt_sets}
    while data["id"] in taken:
        data["id"] += "x"
    if record.before:
        data["layout"] = {ball: list(place) for ball, place in record.before.items()}
    if record.call is not None and record.call.ball:
        data["target"] = serialize(record.call)
    made = AttemptSet.model_validate_json(json.dumps(data))
    change = Change("attempt_set", new_key(), None, Entry(made, snapshot.key, len(snapshot.attempt_sets)))
    return Command("Play it again", snapshot.key, (change,))


@edit
def add_set_of_layout(snapshot: Snapshot, kept: KeptLayout) -> Command:
    """Make a kept layout into a set of attempts."""
    data: JsonObject = {
        "id": new_key(),
        "title": kept.title,
        "layout": {ball: list(place) for ball, place in kept.layout.items()},
        "from_layout": kept.id,
        "criteria": [{"id": POT, "text": "the ball falls"}],
        "attempts": [],
    }
    made = AttemptSet.model_validate_json(json.dumps(data))
    change = Change("attempt_set", new_key(), None, Entry(made, snapshot.key, len(snapshot.attempt_sets)))
    return Command("Play it again", snapshot.key, (change,))


@edit
def remove_attempt_set(snapshot: Snapshot, key: str) -> Command:
    """Take a set away with its attempts."""
    change = Change("attempt_set", key, snapshot.entry("attempt_set", key), None)
    return Command("Delete a set of attempts", snapshot.key, (change,))


def set_title(shot: Shot, rack: int, game: str | None) -> str:
    """Such as "4 to foot left, rack 2 shot 5"."""
    where = f"rack {rack} shot {shot.number}"
    if shot.call is None or not shot.call.ball:
        return f"{word(shot.intent or 'pot')}, {where}"
    pocket = f" to {pocket_word(shot.call.pocket, game)}" if shot.call.pocket else ""
    return f"{ball_word(shot.call.ball)}{pocket}, {where}"


def criteria_of(shot: Shot, further: Sequence[tuple[str, str]] = ()) -> list[JsonObject]:
    """The pot, the planned area where there is one, and what else was fixed beforehand."""
    found: list[JsonObject] = [{"id": POT, "text": "the ball falls"}]
    if shot.plan is not None and shot.plan.zone is not None:
        found.append(
            {"id": AREA, "text": "the cue ball stops in the area", "zone": serialize(shot.plan.zone)}
        )
    return found + [{"id": name, "text": text} for name, text in further]


def set_of_shot(snapshot: Snapshot, shot: str) -> str | None:
    """The key of the set that was made from a shot."""
    row = snapshot.shot(shot)
    rack = snapshot.rack(row.rack) if row else None
    if row is None or rack is None:
        return None
    for key, one in snapshot.attempt_sets:
        place = one.from_shot
        if place is None or isinstance(place, int) or place.session:
            continue
        if (place.rack, place.shot) == (rack.record.number, row.record.number):
            return key
    return None


def attempt_set(snapshot: Snapshot, key: str) -> AttemptSet | None:
    """The set with this key."""
    return next((one for found, one in snapshot.attempt_sets if found == key), None)


def with_attempt(
    made: AttemptSet,
    outcome: bool | None,
    film: tuple[str, float] | None = None,
    changed: Sequence[JsonObject] = (),
    miss: str | None = None,
    way: int | None = None,
    met: Mapping[str, bool] | None = None,
    balls: int | None = None,
) -> Values:
    """One attempt more. A success meets every criterion; of a failure nothing is said but what is asked.

    `way` is which of the ways of an exercise was played (0 first), `met` which criteria, where that is known,
    `balls` those of a run. An `outcome` of None is not judged.
    """
    attempts = [serialize(one) for one in made.attempts or ()]
    attempt: JsonObject = {"number": len(attempts) + 1, "on_film": film is not None}
    if outcome is not None:
        attempt["outcome"] = "success" if outcome else "failure"
    if balls is not None:
        attempt["count"] = balls
    if film is not None:
        attempt |= {"recording": film[0], "t_strike": film[1]}
    if changed:
        attempt["changed"] = list(changed)
    if way is not None:
        attempt["way"] = way
    if outcome:
        attempt["met"] = {criterion.id: True for criterion in made.criteria or ()}
    elif miss is not None:
        attempt["miss"] = miss
        attempt["met"] = {POT: False}
    if met is not None:
        attempt["met"] = dict(met)
    return {("attempts",): [*attempts, attempt]}


def corrected_attempt(made: AttemptSet, place: int, outcome: bool, miss: str | None = None) -> Values:
    """The attempt at a place (0 first) came out otherwise than it was counted."""
    attempts = [serialize(one) for one in made.attempts or ()]
    kept = {key: value for key, value in attempts[place].items() if key not in ("miss", "met", "relaxed")}
    kept["outcome"] = "success" if outcome else "failure"
    if outcome:
        kept["met"] = {criterion.id: True for criterion in made.criteria or ()}
    elif miss is not None:
        kept |= {"miss": miss, "met": {POT: False}}
    attempts[place] = kept
    return {("attempts",): attempts}


def said_of_attempt(made: AttemptSet, place: int, text: str) -> Values:
    """Causes and a note of the attempt at a place, as typed: `miscued`, `by pace note too quick`.

    Raises `NotAChange` for words that are no cause.
    """
    words, _, note = text.strip().partition("note ")
    attempts = [serialize(one) for one in made.attempts or ()]
    if words.strip():
        causes = made.attempts[place].every_cause if made.attempts else ()
        attempts[place] = {k: v for k, v in attempts[place].items() if k not in ("cause", "miscue")}
        attempts[place]["causes"] = list(dict.fromkeys([*causes, *_causes(words)]))
    if note.strip():
        attempts[place]["note"] = note.strip()
    return {("attempts",): attempts} if words.strip() or note.strip() else {}


def _causes(words: str) -> list[str]:
    try:
        items = parse(words)
    except NotAWord as error:
        raise NotAChange(str(error)) from error
    found = []
    for item in items:
        if isinstance(item, Word) and item.id.startswith("error.causes."):
            found.append(item.id.removeprefix("error.causes."))
        elif item == Word("delivery.miscue"):
            found.append("miscue")
    if found:
        return found
    raise NotAChange(f"“{words.strip()}” is no cause; say such as by pace, miscued, and note with a text.")


def rested_at(made: AttemptSet, place: int, rest: tuple[float, float], inside: Mapping[str, bool]) -> Values:
    """Where the cue ball came to rest at an attempt; `inside` says which areas of the criteria it lies in."""
    attempts = [serialize(one) for one in made.attempts or ()]
    one = attempts[place]
    one["rest"] = [round(rest[0], 4), round(rest[1], 4)]
    if inside:
        met = one["met"] = {**(one.get("met") or {}), **inside}
        asked = [criterion.id for criterion in made.criteria or ()]
        # Only what was said of every criterion decides; one that was granted stays so.
        if not one.get("relaxed") and all(name in met for name in asked):
            one["outcome"] = "success" if all(met[name] for name in asked) else "failure"
    return {("attempts",): attempts}


def toggled_criterion(made: AttemptSet, criterion: str, place: int = -1) -> Values:
    """An attempt (the last) met this criterion, or did not; success is what meets them all."""
    attempts = [serialize(one) for one in made.attempts or ()]
    if not attempts:
        return {}
    last = attempts[place]
    met = dict(last.get("met") or {})
    met[criterion] = not met.get(criterion, False)
    last["met"] = met
    if not last.get("relaxed"):
        every = all(met.get(one.id) for one in made.criteria or ())
        last["outcome"] = "success" if every else "failure"
    return {("attempts",): attempts}


def toggled_relaxed(made: AttemptSet, place: int = -1) -> Values:
    """An attempt (the last) is granted as a success against the criteria, and marked so; or no longer."""
    attempts = [serialize(one) for one in made.attempts or ()]
    if not attempts:
        return {}
    last = attempts[place]
    if last.pop("relaxed", False):
        met = last.get("met") or {}
        every = all(met.get(one.id) for one in made.criteria or ())
        last["outcome"] = "success" if every else "failure"
    else:
        last |= {"relaxed": True, "outcome": "success"}
    return {("attempts",): attempts}


def without_last(made: AttemptSet) -> Values:
    """The set without its last attempt."""
    attempts = [serialize(one) for one in made.attempts or ()][:-1]
    return {("attempts",): attempts or REMOVE}


def read_change(text: str) -> JsonObject:
    """What was changed, in words: `aim 2 mm`, `pace 10 %`, `other bridge`. Raises `NotAChange`."""
    words = text.casefold().replace("%", " %").split()
    what = words[0].replace("-", "_") if words else ""
    if what not in CHANGES:
        names = ", ".join(name.replace("_", " ") for name in CHANGES)
        raise NotAChange(f"What was changed: {names}; with a number, such as aim 2 mm.")
    rest = words[1:]
    if not rest:
        return {"what": what}
    try:
        amount = float(Fraction(rest[0]))
    except (ValueError, ZeroDivisionError):
        return {"what": what, "by": " ".join(rest), "unit": "text"}
    unit = _UNITS.get(rest[1]) if len(rest) > 1 else CHANGES[what][0]
    if unit is None or unit == "text":
        raise NotAChange(f"“{' '.join(rest[1:])}” is no unit here; units are mm, ball, deg, %.")
    return {"what": what, "by": amount, "unit": unit}


def change_words(attempt: Attempt) -> str:
    """What was changed before an attempt, in words."""
    parts = []
    for one in attempt.changed or ():
        by = one.by if isinstance(one.by, str | None) else format(one.by, "g")
        amount = f" {by}" if by else ""
        unit = "" if one.unit in (None, "text") or one.by is None else f" {one.unit}"
        parts.append(f"{(one.what or 'other').replace('_', ' ')}{amount}{unit}")
    return ", ".join(parts)


def figures_of(made: AttemptSet) -> AttemptFigures:
    """The figures of a set."""
    attempts = made.attempts or ()
    return attempt_figures(
        outcomes_of(attempts),
        [one.met or {} for one in attempts],
        [criterion.id for criterion in made.criteria or ()],
        [bool(one.relaxed) for one in attempts],
        [one.on_film is not False for one in attempts],
    )


def effects_of(made: AttemptSet) -> tuple[ChangeEffect, ...]:
    """What followed each change of a set."""
    attempts = made.attempts or ()
    return change_effects(outcomes_of(attempts), [change_words(one) for one in attempts])


def amounts_of(made: AttemptSet) -> tuple[AmountEffect, ...]:
    """How the attempts of a set went at each amount of what was changed."""
    attempts = made.attempts or ()
    changes = [
        [
            (one.what or "other", one.unit or "", float(one.by))
            for one in attempt.changed or ()
            if one.by is not None and not isinstance(one.by, str)
        ]
        for attempt in attempts
    ]
    return amount_effects(outcomes_of(attempts), changes)


def outcomes_of(attempts: Sequence[Attempt]) -> list[bool | None]:
    """Success (True), failure (False), or not judged (None)."""
    return [None if one.outcome is None else one.outcome == "success" for one in attempts]


def ranked(snapshot: Snapshot) -> tuple[SetLine, ...]:
    """The sets of a session, the hardest first; those without an attempt last."""
    lines = [
        SetLine(
            key,
            one.title or one.id,
            figures_of(one),
            float(cast(float, one.context_weight)) if one.context_weight is not None else None,
        )
        for key, one in snapshot.attempt_sets
    ]
    return tuple(
        sorted(
            lines,
            key=lambda line: line.figures.rate.rate if line.figures.rate.rate is not None else 2.0,
        )
    )
