"""A rack in words: roles of balls, the plan with its order, what made or lost the rack, the lesson.

Clauses are parted by semicolons: `group solids because four are open; order 1 2 side left 3; 6 trouble`.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from difflib import get_close_matches
from typing import Any

from ripasso.core.finding.limits import too_long
from ripasso.core.json_data import JsonObject
from ripasso.review.document.edits import REMOVE, Path
from ripasso.review.language.parsing import NotAWord
from ripasso.review.language.terms import BALLS, POCKETS
from ripasso.review.language.translation import noop, tr
from ripasso.review.record.model import Rack, RackPlan, Session, serialize

Values = dict[Path, object]
ROLES: Mapping[str, str] = {
    "trouble": "trouble",
    "cluster": "cluster",
    "isolated": "isolated",
    "far": "isolated",
    "insurance": "insurance",
    "break ball": "break_ball",
    "key": "key",
    "key ball": "key",
    "key of the key": "key_of_key",
    "key of the key ball": "key_of_key",
    "break-out": "break_out",
    "break-out ball": "break_out",
    "pair": "pair",
    "connected": "pair",
    "connected pair": "pair",
    "up table": "up_table",
}
GROUPS: Mapping[str, str] = {"solids": "solids", "stripes": "stripes", "spots": "solids"}
CLAUSES: Mapping[str, str] = {
    "order": noop("order 1 2 side left 3 hard 8: the balls in their order, with pockets and hard links"),
    "group": "group solids because four are open",
    "key": "key 4: the key ball of the plan",
    "break": "break 12: the break ball of the plan",
    "by": "by ada: whose plan this is",
    "root": "root 7: the shot from which the rack was lost",
    "made": "made 5: the shot that made the rack",
    "at": "at shot 3: when the plan was made",
    "said": "said ada streak 5 by ida: what somebody says of racks not shown; also run, break",
    "lesson": noop("lesson with the 6 on the cushion stop short"),
}
#: What may be said of racks that are not shown: a row of racks won, balls in one visit, points in one.
STATED = ("streak", "run", "break")
EXAMPLES = (*CLAUSES.values(), "6 trouble; 1 3 cluster; 9 break ball; 12 insurance")


@dataclass
class RackWords:
    """What a line says of a rack; only what it says is set."""

    roles: dict[str, list[str]] = field(default_factory=dict)
    plan: JsonObject = field(default_factory=dict)
    root: int | None = None
    made: int | None = None
    lesson: str | None = None
    stated: list[JsonObject] = field(default_factory=list)


def parse_rack(text: str) -> RackWords:
    """Read a line. Raises `NotAWord` with a sentence."""
    wrong = too_long(text, text.split())
    if wrong is not None:
        raise NotAWord(wrong)
    said = RackWords()
    for clause in text.split(";"):
        if clause.split()[:1] and clause.split()[0].casefold() == "lesson":
            said.lesson = " ".join(clause.split()[1:])  # its commas belong to it
            continue
        words = clause.replace(",", " ").split()
        if words:
            _clause(said, words)
    return said


def _clause(said: RackWords, words: list[str]) -> None:
    first, rest = words[0].casefold(), words[1:]
    if first in _READ and not (first in ("key", "break") and rest[:1] == ["ball"]):
        _READ[first](said, rest)
        return
    balls: list[str] = []
    while words and words[0].casefold() in BALLS:
        balls.append(words.pop(0).casefold())
    role = " ".join(words).casefold()
    if not balls:
        near = get_close_matches(first, [*CLAUSES, *ROLES], n=1, cutoff=0.6)
        hint = f"did you mean “{near[0]}”?" if near else f"say it so: {EXAMPLES[-1]}."
        raise NotAWord(f"“{first}” begins nothing that is understood; {hint}")
    if role not in ROLES:
        near = get_close_matches(role, list(ROLES), n=1, cutoff=0.5)
        hint = f"did you mean “{near[0]}”?" if near else f"roles are {', '.join(ROLES)}."
        raise NotAWord(f"“{role}” is no role of a ball; {hint}")
    for ball in balls:
        said.roles.setdefault(ball, []).append(ROLES[role])


def _order(said: RackWords, words: list[str]) -> None:
    order: list[JsonObject] = []
    place = 0
    while place < len(words):
        word = words[place].casefold()
        pocket = _pocket(words, place)
        if word in BALLS:
            order.append({"ball": word})
            place += 1
        elif word in ("hard", "easy") and order:
            order[-1]["link"] = word
            place += 1
        elif order and _begins_clause(words[place:]):
            _clause(said, words[place:])
            break
        elif word == "because" and order:
            said.plan["order"] = order
            # A ball that has its place already is spoken of: "because the 7 came free".
            others = [ball for ball in BALLS if all(ball != one["ball"] for one in order)]
            order[-1]["reason"], words = _reason(said, words[place + 1 :], *others)
            place = 0
        elif pocket is not None and order:
            order[-1]["pocket"] = pocket[0]
            place += pocket[1]
        else:
            raise NotAWord(f"“{word}” has no place in an order; say it so: {tr(CLAUSES['order'])}.")
    if not order:
        raise NotAWord(f"Which balls? Say it so: {tr(CLAUSES['order'])}.")
    said.plan["order"] = order


def _pocket(words: list[str], place: int) -> tuple[str, int] | None:
    for length in (3, 2, 1):
        phrase = " ".join(words[place : place + length]).casefold()
        for pocket, forms in POCKETS.items():
            if phrase in forms:
                return pocket, length
    return None


def _group(said: RackWords, words: list[str]) -> None:
    name = words[0].casefold() if words else ""
    if name not in GROUPS:
        raise NotAWord(f"A group is solids or stripes; say it so: {CLAUSES['group']}.")
    said.plan["group"] = GROUPS[name]
    if [word.casefold() for word in words[1:2]] == ["because"]:
        said.plan["reason"], _ = _reason(said, words[2:])


def _ball(key: str, clause: str) -> Callable[[RackWords, list[str]], None]:
    def read(said: RackWords, words: list[str]) -> None:
        ball = words[0].casefold() if words else ""
        if ball not in BALLS:
            raise NotAWord(f"A ball is missing; say it so: {CLAUSES[clause]}.")
        said.plan[key] = ball

    return read


def _by(said: RackWords, words: list[str]) -> None:
    if not words:
        raise NotAWord(f"A name is missing; say it so: {CLAUSES['by']}.")
    said.plan["by"] = " ".join(words)


def _number(name: str) -> Callable[[RackWords, list[str]], None]:
    def read(said: RackWords, words: list[str]) -> None:
        if not words or not words[-1].isdecimal():
            raise NotAWord(f"The number of a shot is missing; say it so: {CLAUSES[name]}.")
        setattr(said, name, int(words[-1]))

    return read


def _at(said: RackWords, words: list[str]) -> None:
    if len(words) != 2 or words[0].casefold() != "shot" or not words[1].isdecimal():
        raise NotAWord(f"The number of a shot is missing; say it so: {CLAUSES['at']}.")
    said.plan["made_at_shot"] = int(words[1])


def _reason(said: RackWords, words: list[str], *ends: str) -> tuple[str, list[str]]:
    """The words of a reason up to the next clause, or the next of `ends`, and what comes then."""
    for place, word in enumerate(words):
        if word.casefold() in ends:
            return " ".join(words[:place]), words[place:]
        # "key", "break", "by", "at" are everyday words as well: a clause says more.
        if word.casefold() in ("order", "group", "lesson", "root", "made") or _begins_clause(words[place:]):
            _clause(said, words[place:])
            return " ".join(words[:place]), []
    return " ".join(words), []


def _begins_clause(words: list[str]) -> bool:
    first, second = words[0].casefold(), words[1].casefold() if len(words) > 1 else ""
    return (first in ("key", "break") and second in BALLS) or (first == "at" and second == "shot")


def _said(said: RackWords, words: list[str]) -> None:
    said.stated.append(parse_stated(words))


def parse_stated(words: list[str]) -> JsonObject:
    """A name, "streak", "run" or "break", a number, and who says so. Raises `NotAWord`.

    The player is still a name: `with_player` finds whose.
    """
    folded = [word.casefold() for word in words]
    place = next((i for i, word in enumerate(folded) if i and word in STATED), None)
    if place is None or not "".join(words[place + 1 : place + 2]).isdecimal():
        raise NotAWord(f"Who made how many? Say it so: {CLAUSES['said']}.")
    made: JsonObject = {"player": " ".join(words[:place])}
    made |= {"what": folded[place], "value": min(int(words[place + 1][:6]), 10_000)}
    rest = words[place + 2 :]
    if rest and folded[place + 2] == "by" and len(rest) > 1:
        made["by"] = " ".join(rest[1:])
    elif rest:
        raise NotAWord(f"“{rest[0]}” has no place here; say it so: {CLAUSES['said']}.")
    return made


def with_player(stated: JsonObject, head: Session) -> JsonObject:
    """What was said with the player's id for the name, or its beginning. Raises `NotAWord`."""
    said = str(stated["player"]).casefold()
    names = {player.id: player.name or player.id for player in head.players or () if not player.ghost}
    found = [one for one, name in names.items() if said in (one.casefold(), name.casefold())]
    found = found or [one for one, name in names.items() if name.casefold().startswith(said)]
    if len(found) != 1:
        raise NotAWord(f"“{stated['player']}” is nobody here; players are {', '.join(names.values())}.")
    return {**stated, "player": found[0]}


def _lesson(said: RackWords, words: list[str]) -> None:
    said.lesson = " ".join(words)


_READ: Mapping[str, Callable[[RackWords, list[str]], None]] = {
    "order": _order,
    "group": _group,
    "key": _ball("key_ball", "key"),
    "break": _ball("break_ball", "break"),
    "by": _by,
    "root": _number("root"),
    "made": _number("made"),
    "at": _at,
    "said": _said,
    "lesson": _lesson,
}


def rack_values(head: Session, rack: Rack, said: RackWords, shot: int | None, by: str = "") -> Values:
    """What a line changes of a rack. A plan said later, at shot `shot`, is a new version, not an error.

    Raises `NotAWord` for a player who is not there.
    """
    values: Values = {}
    if said.stated:
        stated = serialize(rack).get("stated") or []
        found = [with_player(one, head) for one in said.stated]
        values[("stated",)] = [*(one for one in stated if one not in found), *found]
    if said.roles:
        roles = {ball: list(names) for ball, names in serialize(rack).get("roles", {}).items()}
        for ball, names in said.roles.items():
            roles[ball] = list(dict.fromkeys([*roles.get(ball, []), *names]))
        values[("roles",)] = roles
    if said.plan:
        values[("plans",)] = _with_plan(rack.plans or (), said.plan, shot, by)
    if said.root is not None:
        values[("root_shot",)] = said.root
    if said.made is not None:
        values[("making_shot",)] = said.made
    if said.lesson is not None:
        values[("lesson",)] = said.lesson or REMOVE
    return values


def _with_plan(plans: tuple[RackPlan, ...], said: JsonObject, shot: int | None, by: str) -> list[Any]:
    """The plans with what was said: of the same person at the same shot it completes the plan there is."""
    listed = [serialize(plan) for plan in plans]
    now = said.get("made_at_shot", shot)
    at = now if now is not None and now > 1 else None
    said = {key: value for key, value in said.items() if key != "made_at_shot"}
    person = said.get("by") or by or None
    last = listed[-1] if listed else None
    same = last is not None and last.get("made_at_shot") == at and last.get("by") == person
    # A word more completes a plan; another order, group or ball is another plan: a new version.
    if last is not None and same and all(last.get(key, value) == value for key, value in said.items()):
        return [*listed[:-1], {**last, **said}]
    # Another group has its own key ball.
    stays = last is not None and said.get("group", last.get("group")) == last.get("group")
    names = ("group", "key_ball", "break_ball") if stays else ()
    carried: JsonObject = {key: last[key] for key in names if last is not None and key in last}
    plan: JsonObject = {"version": len(listed) + 1, **carried, **said}
    if person:
        plan["by"] = person
    if at is not None:
        plan["made_at_shot"] = at
    return [*listed, plan]
