"""Options beside the shot that was played: kept from what is planned, weighed, one of them the better one."""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.core.json_data import JsonObject
from ripasso.core.measures.shots import ShotMeasures
from ripasso.review.document.edits import REMOVE, Path
from ripasso.review.language.terms import BY_ID, Tradition
from ripasso.review.language.vocabulary import ball_word, pocket_word, word
from ripasso.review.record.model import Option, Shot, serialize

Values = dict[Path, object]
#: What of a plan belongs to an option, and what of a shot does.
_OF_PLAN = ("next_ball", "next_pocket", "aim_point", "zone", "route", "cushions")
_OF_SHOT = ("intent", "call", "stroke")
DIGITS = 3


class NothingToWeigh(ValueError):
    """There is nothing that could be an option; the message is one sentence."""


@dataclass(frozen=True)
class OptionLine:
    """An option as a list shows it. `worth` is chance times leave, None where one is not known."""

    id: str
    text: str
    chance: float | None
    leave: float | None
    chosen: bool
    better: bool

    @property
    def worth(self) -> float | None:
        """What it promises: the pot and what it leaves."""
        return self.chance * self.leave if self.chance is not None and self.leave is not None else None


def options_of(shot: Shot) -> tuple[Option, ...]:
    """The options of a shot in the order they were kept."""
    return tuple((shot.plan.options if shot.plan else None) or ())


def kept_option(shot: Shot, measures: ShotMeasures | None, by: str = "", reason: str = "") -> Values:
    """What is said and drawn of the shot now, kept as one of its options. Raises `NothingToWeigh`."""
    data, plan = serialize(shot), serialize(shot.plan) if shot.plan else {}
    option: JsonObject = {key: data[key] for key in _OF_SHOT if key in data}
    option |= {key: plan[key] for key in _OF_PLAN if key in plan}
    if not option.keys() - {"intent"}:
        raise NothingToWeigh("Say a ball and a pocket, or draw a route, before it is kept as an option.")
    taken = {one.id for one in options_of(shot)}
    option["id"] = next(f"o{n}" for n in range(1, len(taken) + 2) if f"o{n}" not in taken)
    if by:
        option["by"] = by
    if reason:
        option["reason"] = reason
    chance = measures.geometry.chance if measures and measures.geometry else None
    leave = measures.position.chance_aim if measures and measures.position else None
    if chance is not None:
        option["chance"] = round(chance, DIGITS)
    if leave is not None:
        option["leave"] = round(leave, DIGITS)
    return {("plan", "options"): [*(serialize(one) for one in options_of(shot)), option]}


def forgotten_option(shot: Shot, option: str) -> Values:
    """The options without one; a verdict that named it names nothing."""
    rest = [serialize(one) for one in options_of(shot) if one.id != option]
    values: Values = {("plan", "options"): rest or REMOVE}
    if shot.decision is not None and shot.decision.better_option == option:
        values[("decision", "better_option")] = REMOVE
    return values


def chosen_option(shot: Shot, option: str) -> Values:
    """This one was played; of the others none was."""
    listed = []
    for one in options_of(shot):
        data = {key: value for key, value in serialize(one).items() if key != "chosen"}
        listed.append({**data, "chosen": True} if one.id == option and not one.chosen else data)
    return {("plan", "options"): listed}


def better_option(shot: Shot, option: str, by: str = "") -> Values:
    """This one was better than what was played; said again it is taken back."""
    if shot.decision is not None and shot.decision.better_option == option:
        return {("decision", "better_option"): REMOVE}
    values: Values = {("decision", "better_option"): option}
    if shot.decision is None or shot.decision.verdict is None:
        values[("decision", "verdict")] = "prefer_other"
    if by:
        values[("decision", "by")] = by
    return values


def option_lines(shot: Shot, game: str | None, tradition: Tradition) -> tuple[OptionLine, ...]:
    """The options in words."""
    better = shot.decision.better_option if shot.decision else None
    return tuple(
        OptionLine(
            one.id or "",
            _words(one, game, tradition),
            float(one.chance) if one.chance is not None else None,
            float(one.leave) if one.leave is not None else None,
            bool(one.chosen),
            one.id is not None and one.id == better,
        )
        for one in options_of(shot)
    )


def _words(option: Option, game: str | None, tradition: Tradition) -> str:
    parts = [option.title] if option.title else []
    if option.call is not None and option.call.ball:
        to = f" to {pocket_word(option.call.pocket, game)}" if option.call.pocket else ""
        parts.append(f"{ball_word(option.call.ball)}{to}")
    elif option.intent:
        parts.append(word(option.intent))
    if option.stroke is not None:
        named = (("kind", option.stroke.kind), ("pace", option.stroke.pace))
        parts += [BY_ID[f"stroke.{key}.{value}"].form(tradition) for key, value in named if value]
    if option.next_ball:
        parts.append(f"next {ball_word(option.next_ball)}")
    text = ", ".join(parts)
    if option.by:
        text += f" ({option.by})"
    return f"{text}: {option.reason}" if option.reason else text
