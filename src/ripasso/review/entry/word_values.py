"""Items and the record: a shot in items, and what items change of a shot."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from ripasso.core.json_data import JsonObject
from ripasso.review.document.edits import REMOVE, Path, with_values
from ripasso.review.entry.tagging import ANGLES, Context, NotUnderstood, is_set, tag_values
from ripasso.review.language.items import (
    Ball,
    ColourMeant,
    Elevation,
    Feathers,
    Fell,
    FreeTag,
    HitFirst,
    Into,
    Item,
    Judge,
    Next,
    OrNext,
    PacePercent,
    Predicted,
    Root,
    System,
    TagWord,
    Tip,
    Wanted,
    Word,
)
from ripasso.review.language.terms import BY_ID, TERMS, Term
from ripasso.review.record.model import Error, Shot, serialize
from ripasso.review.scoring.expecting import expectation
from ripasso.review.scoring.outcome import recorded_errors

Values = dict[Path, object]
#: Width of a tip in ball radii: 13 mm on a pool ball, 9.5 mm on a snooker ball (common practice, no source).
TIP_POOL, TIP_SNOOKER = 13.0 / 28.575, 9.5 / 26.25
#: A tip is told to this part of its width.
TIP_STEP = 0.25
#: A contact that is said of a made ball; of a missed one the tag says it.
_OF_A_MISS = {"result.contact.thick": "missed_thick", "result.contact.thin": "missed_thin"}
_OUTCOMES = ("missed_thick", "missed_thin", "potted", "missed")


def tip_radii(game: str | None) -> float:
    """The width of the tip in ball radii."""
    return TIP_SNOOKER if game == "snooker" else TIP_POOL


def changed_shot(context: Context, items: Sequence[Item]) -> Shot:
    """The shot as it is when all this was said of it, one after the other. Raises `NotUnderstood`.

    A cause may be said before what went wrong, and how the ball was hit before it fell: they are taken in
    last.
    """
    shot = context.shot
    for item in sorted(items, key=_rank):
        values = item_values(replace(context, shot=shot), item)
        if values:
            changed = with_values(shot, values)
            assert isinstance(changed, Shot)
            shot = changed
    return shot


def _rank(item: Item) -> int:
    """What hangs on the outcome comes after it, what hangs on an error at the end."""
    if isinstance(item, Word) and BY_ID[item.id].path == ("result", "contact"):
        return 1
    is_cause = isinstance(item, Word) and BY_ID[item.id].path == ("error", "causes")
    is_of_error = isinstance(item, Root) or item in (TagWord("unforced"), TagWord("forced"))
    return 2 if is_cause or is_of_error else 0


def words_values(context: Context, items: Sequence[Item]) -> Values:
    """The values by path that a line sets, as one change: top keys that differ."""
    before, after = serialize(context.shot), serialize(changed_shot(context, items))
    return {(key,): value for key, value in after.items() if before.get(key) != value}


def item_values(context: Context, item: Item) -> Values:  # noqa: C901, PLR0911, PLR0912 - one line a kind
    """What one item sets."""
    shot, data = context.shot, serialize(context.shot)
    match item:
        case Word(name):
            return _term_values(context, BY_ID[name])
        case TagWord(name):
            return {} if is_set(shot, name) else tag_values(context, name)
        case Ball(ball):
            return {("call", "ball"): ball, **_pot(shot)}
        case Into(pocket):
            return {("call", "pocket"): pocket, **_pot(shot)}
        case Fell(ball, pocket):
            fallen = [p for p in _inner(data, "facts", "potted") or [] if p["ball"] != ball]
            pot = {"ball": ball, **({"pocket": pocket} if pocket else {})}
            return {("facts", "potted"): [*fallen, pot]}
        case HitFirst(ball):
            return {("facts", "first_contact"): ball}
        case Next(ball, pocket):
            place: Values = {("plan", "next_pocket"): pocket} if pocket else {}
            return {("plan", "next_ball"): ball, **place}
        case OrNext(ball):
            return _joined(data, ("plan", "or_balls"), ball)
        case Wanted(angle):
            return {("plan", "angle_wanted_deg"): list(ANGLES[angle])}
        case Tip(right, up):
            width = tip_radii(context.game)
            return {("stroke", "tip"): [round(right * width, 4), round(up * width, 4)]}
        case PacePercent(percent):
            return {("stroke", "pace_percent"): percent}
        case Elevation(degrees):
            return {("stroke", "elevation_deg"): degrees}
        case Feathers(number):
            return {("stroke", "feathers"): number}
        case System(name):
            return {("plan", "system"): name}
        case Predicted():
            return {("predictions",): _with_prediction(data, item)}
        case ColourMeant(ball):
            return {("result", "colour_meant"): ball}
        case Root(number):
            return _to_error(context, "cause_shot", number)
        case FreeTag(tag):
            return _joined(data, ("tags",), tag)
        case Judge(name):
            return {("decision", "by"): name}


def _with_prediction(data: JsonObject, said: Predicted) -> list[JsonObject]:
    """The predictions with one more; a person's later word takes the place of the earlier one."""
    values = {name: getattr(said, name) for name in ("kind", "ball", "pocket", "next_ball", "cushions")}
    made: JsonObject = {"by": said.name} | {
        name: value for name, value in values.items() if value is not None
    }
    return [*(one for one in data.get("predictions") or () if one.get("by") != said.name), made]


def is_said(shot: Shot, name: str) -> bool:
    """Whether the record says what a term says."""
    term = BY_ID[name]
    if term.id in _OF_A_MISS and is_set(shot, _OF_A_MISS[term.id]):
        return False  # that says more
    if term.path == ("error", "kind"):
        return any(error.kind == term.value for error in recorded_errors(shot))
    if term.path == ("error", "causes"):
        of_result = (shot.result.causes if shot.result else None) or ()
        return term.value in of_result or any(
            term.value in (error.causes or ()) for error in recorded_errors(shot)
        )
    return _says(_inner(serialize(shot), *term.path), term)


def toggled(context: Context, name: str) -> Values:
    """What a press of a term's button sets: it says the term, or takes it back where it is said."""
    if not is_said(context.shot, name):
        return item_values(context, Word(name))
    term, shot = BY_ID[name], context.shot
    of_result = list((shot.result.causes if shot.result else None) or ())
    if term.path == ("error", "causes") and term.value in of_result:
        left = [cause for cause in of_result if cause != term.value]
        return {("result", "causes"): left or REMOVE}
    if term.path[0] == "error":
        return {("error",): _without(recorded_errors(shot), term)}
    if not term.many:
        return {term.path: REMOVE}
    rest = [value for value in _inner(serialize(shot), *term.path) if value != term.value]
    return {term.path: rest or REMOVE}


def _without(errors: Sequence[Error], term: Term) -> object:
    """The errors without a kind, or without a cause; an error that says nothing more goes too."""
    left = []
    for error in map(serialize, errors):
        if term.path[1] == "kind":
            if error["kind"] != term.value:
                left.append(error)
            continue
        causes = [cause for cause in error.get("causes") or () if cause != term.value]
        kept = {key: value for key, value in error.items() if key != "causes"}
        if causes:
            kept["causes"] = causes
        if set(kept) != {"kind"} or "causes" not in error:
            left.append(kept)
    return _one_or_list(left) if left else REMOVE


def _pot(shot: Shot) -> Values:
    return {("intent",): "pot"} if shot.intent is None else {}


def _inner(data: JsonObject, *path: str) -> Any:
    here: Any = data
    for key in path:
        here = here.get(key) if isinstance(here, dict) else None
    return here


def _joined(data: JsonObject, path: Path, value: object) -> Values:
    listed = list(_inner(data, *(str(key) for key in path)) or [])
    return {} if value in listed else {path: [*listed, value]}


def _term_values(context: Context, term: Term) -> Values:
    if term.path == ("error", "kind"):
        return _with_error(context, str(term.value))
    if term.path == ("error", "causes"):
        return _to_error(context, "causes", term.value)
    if term.many:
        return _joined(serialize(context.shot), term.path, term.value)
    return {term.path: term.value}


def _with_error(context: Context, kind: str) -> Values:
    errors = [serialize(error) for error in recorded_errors(context.shot)]
    if any(error["kind"] == kind for error in errors):
        return {}
    return {("error",): _one_or_list([*errors, {"kind": kind}])}


def _to_error(context: Context, key: str, value: object) -> Values:
    """A cause belongs to the last error that was said, else to the one that the facts show.

    Where nothing went wrong it says why the position came as it was judged.
    """
    errors = [serialize(error) for error in recorded_errors(context.shot)]
    if not errors and key == "causes" and not _went_wrong(context) and _is_judged(context.shot):
        return _joined(serialize(context.shot), ("result", "causes"), value)
    if not errors:
        found = tag_values(context, "forced").get(("error",))  # raises when nothing went wrong
        kinds = found if isinstance(found, list) else [found]
        errors = [{"kind": error["kind"]} for error in kinds if isinstance(error, dict)]
    last = errors[-1]
    if key == "causes":
        causes = list(last.get("causes") or [])
        last = {**last, "causes": causes if value in causes else [*causes, value]}
    else:
        last = {**last, key: value}
    return {("error",): _one_or_list([*errors[:-1], last])}


def _went_wrong(context: Context) -> bool:
    try:
        return ("error",) in tag_values(context, "forced")
    except NotUnderstood:
        return False


def _is_judged(shot: Shot) -> bool:
    """Position, pace, side or angle was judged."""
    result = shot.result
    return result is not None and any(
        (result.position, result.pace, result.side, result.angle, result.contact)
    )


def _one_or_list(errors: list[JsonObject]) -> object:
    return errors[0] if len(errors) == 1 else errors


# The record in items


def items_of(shot: Shot, game: str | None = None) -> tuple[Item, ...]:
    """Everything of a shot that the language can say, in the order in which it is thought."""
    data = serialize(shot)
    call, plan = data.get("call") or {}, data.get("plan") or {}
    items: list[Item] = []
    if call.get("ball"):
        items.append(Ball(call["ball"]))
    if call.get("pocket"):
        items.append(Into(call["pocket"]))
    items += _terms(data, "Shot", "Method", "Stroke")
    tip = _inner(data, "stroke", "tip")
    if tip is not None:
        right, up = (round(value / tip_radii(game) / TIP_STEP) * TIP_STEP for value in tip)
        items.append(Tip(right + 0.0, up + 0.0))
    items += _terms(data, "Side")
    items += _measured_by_eye(data)
    items += _terms(data, "Delivery")
    if plan.get("next_ball"):
        items.append(Next(plan["next_ball"], plan.get("next_pocket")))
    items += [OrNext(ball) for ball in plan.get("or_balls") or ()]
    wanted = plan.get("angle_wanted_deg")
    items += [Wanted(name) for name, band in ANGLES.items() if wanted == list(band)]
    items += _terms(data, "Plan", "Aim")
    items += _happened(shot, data)
    told = {Word(name) for name, tag in _OF_A_MISS.items() if TagWord(tag) in items}
    items += [item for item in _terms(data, "Contact") if item not in told]
    items += _terms(data, "Result", "Luck")
    if not recorded_errors(shot):
        items += [Word(f"error.causes.{cause}") for cause in _inner(data, "result", "causes") or ()]
    meant = _inner(data, "result", "colour_meant")
    items += [ColourMeant(meant)] if meant else []
    items += _predictions(shot)
    items += _terms(data, "Decision")
    by = _inner(data, "decision", "by")
    items += [Judge(by.casefold())] if by and " " not in by else []
    items += _error_items(recorded_errors(shot))
    items += _terms(data, "Event")
    return (*items, *(FreeTag(tag) for tag in data.get("tags") or () if not set(tag) & set(" ,;#")))


def _predictions(shot: Shot) -> list[Item]:
    found: list[Item] = []
    for one in shot.predictions or ():
        said = expectation(one)
        if one.by and " " not in one.by and said.can_be_said:
            pocket = said.pocket if said.ball else None
            found.append(
                Predicted(one.by.casefold(), said.ball, pocket, said.kind, said.next_ball, said.cushions)
            )
    return found


def _measured_by_eye(data: JsonObject) -> list[Item]:
    """What is said of the stroke as a number, and the system it was aimed by."""
    stroke, found = data.get("stroke") or {}, list[Item]()
    if stroke.get("pace_percent") is not None:
        found.append(PacePercent(stroke["pace_percent"]))
    if stroke.get("elevation_deg") is not None:
        found.append(Elevation(stroke["elevation_deg"]))
    if stroke.get("feathers") is not None:
        found.append(Feathers(stroke["feathers"]))
    system = _inner(data, "plan", "system")
    if system:
        found.append(System(system.casefold().replace(" ", "_")))
    return found


def _terms(data: JsonObject, *groups: str) -> list[Item]:
    wanted = [term for group in groups for term in TERMS if term.group == group]
    return [Word(term.id) for term in wanted if _says(_inner(data, *term.path), term)]


def _says(value: Any, term: Term) -> bool:
    if term.many:
        return term.value in (value or ())
    return value is not None and value == term.value


def _happened(shot: Shot, data: JsonObject) -> list[Item]:
    items: list[Item] = []
    items += [TagWord(name) for name in _OUTCOMES if is_set(shot, name)][:1]
    facts, call = data.get("facts") or {}, data.get("call") or {}
    fallen = facts.get("potted") or ()
    meant_fell = TagWord("potted") in items
    items += [
        Fell(pot["ball"], pot.get("pocket"))
        for place, pot in enumerate(fallen)
        if not (meant_fell and (pot["ball"] == call.get("ball") or (not call.get("ball") and place == 0)))
    ]
    if facts.get("first_contact"):
        items.append(HitFirst(facts["first_contact"]))
    items += [
        TagWord(name) for name in ("foul_scratch", "foul_no_contact", "foul_no_cushion") if is_set(shot, name)
    ]
    return items


def _error_items(errors: Sequence[Error]) -> list[Item]:
    items: list[Item] = []
    for error in errors:
        items.append(Word(f"error.kind.{error.kind}"))
        items += [Word(f"error.causes.{cause}") for cause in error.causes or ()]
        if error.cause_shot is not None:
            items.append(Root(error.cause_shot))
    if any(error.unforced is True for error in errors):
        items.append(TagWord("unforced"))
    if any(error.unforced is False for error in errors):
        items.append(TagWord("forced"))
    return items
