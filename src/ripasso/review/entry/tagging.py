"""Tags: what one key says of a shot, as values by path. Each becomes one command.

To add a tag: a line in `TAGS` (or a function here when it depends on the shot), its word in
`vocabulary`, and an action with its key in `ui/review/keys.py`.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.rules import GAMES, ShotScore
from ripasso.core.rules.snooker import COLOURS, is_red
from ripasso.review.document.edits import REMOVE, Path
from ripasso.review.record.model import Shot, serialize
from ripasso.review.scoring.meant import POT_INTENTS, meant_ball, meant_ball_down
from ripasso.review.scoring.outcome import found_kinds, recorded_errors

Values = dict[Path, object]


class NotUnderstood(ValueError):
    """The key says nothing here; the message says what would be understood."""


@dataclass(frozen=True)
class Tag:
    """A finding that one key sets, and sets back when it is pressed again."""

    id: str
    group: str
    values: Mapping[Path, object]


def _tag(name: str, group: str, path: str, value: object) -> Tag:
    return Tag(name, group, {tuple(path.split(".")): value})


#: The bands of the angle wanted on the next ball, degrees.
ANGLES: Mapping[str, tuple[int, int]] = {
    "straight": (0, 5),
    "little": (5, 20),
    "half_ball": (20, 40),
    "wide": (40, 60),
}

TAGS: Mapping[str, Tag] = {
    tag.id: tag
    for tag in (
        *(
            _tag(f"intent_{name}", "intent", "intent", name)
            for name in ("pot", "safety", "escape", "two_way", "push_out", "break")
        ),
        _tag("position_perfect", "position", "result.position", "perfect"),
        _tag("position_good", "position", "result.position", "good"),
        _tag("position_playable", "position", "result.position", "playable"),
        _tag("position_poor", "position", "result.position", "poor"),
        _tag("position_lost", "position", "result.position", "lost"),
        _tag("pace_short", "pace", "result.pace", "short"),
        _tag("pace_long", "pace", "result.pace", "long"),
        _tag("side_wrong", "side", "result.side", "wrong"),
        _tag("angle_too_straight", "angle", "result.angle", "too_straight"),
        _tag("angle_too_steep", "angle", "result.angle", "too_steep"),
        *(
            _tag(f"angle_wanted_{name}", "angle_wanted", "plan.angle_wanted_deg", list(band))
            for name, band in ANGLES.items()
        ),
        _tag("luck_fluke", "luck", "result.luck", "fluke"),
        _tag("decision_agree", "decision", "decision.verdict", "agree"),
        _tag("decision_other", "decision", "decision.verdict", "prefer_other"),
        _tag("foul_scratch", "foul", "facts.cue_potted", True),
        _tag("foul_no_contact", "foul", "facts.first_contact", None),
        _tag("foul_no_cushion", "foul", "facts.cushion_after_contact", False),
        _tag("called_miss", "foul", "facts.miss", True),
        _tag("free_ball", "shot", "free_ball", True),
        _tag("replaced", "shot", "replaced", True),
    )
}
OUTCOMES = ("potted", "missed", "missed_thick", "missed_thin")


@dataclass(frozen=True)
class Context:
    """A shot and what the rules know of it before it is played."""

    shot: Shot
    game: str | None
    judged: ShotScore | None = None

    @property
    def balls_on(self) -> tuple[str, ...]:
        """Balls that may be hit first; empty when the rules are unknown."""
        return self.judged.balls_on if self.judged else ()

    @property
    def is_break(self) -> bool:
        """The shot is recorded as the break."""
        return self.shot.intent == "break"


@dataclass(frozen=True)
class Entry:
    """What has been typed for the shot in hand and waits for more: a lone 1, or a ball hit first."""

    digit: str = ""
    first_contact: bool = False
    falling: bool = False


def tag_values(context: Context, name: str) -> Values:
    """The values that the tag `name` sets; pressed again it takes them away."""
    if name in OUTCOMES:
        return _outcome(context, name)
    if name in ("unforced", "forced"):
        return _unforced(context, name == "unforced")
    if name.startswith("other_foul_"):
        return _other_foul(context, name.removeprefix("other_foul_"))
    tag = TAGS[name]
    if _holds(serialize(context.shot), tag.values):
        return dict.fromkeys(tag.values, REMOVE)
    return dict(tag.values)


def is_set(shot: Shot, name: str) -> bool:
    """Whether the shot's record says what the tag says."""
    data = serialize(shot)
    if name in TAGS:
        return _holds(data, TAGS[name].values)
    errors = recorded_errors(shot)
    contact = data.get("result", {}).get("contact") if data.get("result") else None
    fallen = (data.get("facts") or {}).get("potted")
    answers = {
        "potted": bool(fallen) and shot.intent in POT_INTENTS,
        "missed": fallen == [] and contact not in ("thick", "thin"),
        "missed_thick": not fallen and contact == "thick",
        "missed_thin": not fallen and contact == "thin",
        "unforced": any(error.unforced is True for error in errors),
        "forced": any(error.unforced is False for error in errors),
    }
    if name.startswith("other_foul_"):
        return name.removeprefix("other_foul_") in ((data.get("facts") or {}).get("other_fouls") or ())
    return answers[name]


def _holds(data: Mapping[str, object], values: Mapping[Path, object]) -> bool:
    for path, value in values.items():
        here: object = data
        for key in path:
            if not isinstance(here, dict) or key not in here:
                return False
            here = here[key]
        if here != value:
            return False
    return True


def _pot_intent(context: Context) -> Values:
    """A pot is meant where nothing else was said."""
    return {("intent",): "pot"} if context.shot.intent is None else {}


def _outcome(context: Context, name: str) -> Values:
    """Potted, or missed thick or thin; for a break or a safety `missed` says that nothing fell."""
    if is_set(context.shot, name):
        return {("facts", "potted"): REMOVE, ("result", "contact"): REMOVE}
    values = _pot_intent(context)
    if name != "potted":
        values[("facts", "potted")] = []
        contact = name.removeprefix("missed_") if name != "missed" else REMOVE
        values[("result", "contact")] = contact
        return values
    ball = meant_ball(context.shot, context.judged)
    if ball is None and context.balls_on and all(is_red(on) for on in context.balls_on):
        # A red that fell was hit first, whichever it was.
        ball = _some_red(context)
        values[("facts", "first_contact")] = ball
    if ball is None:
        raise NotUnderstood("Which ball fell? Press its number first.")
    call = context.shot.call
    pot: dict[str, object] = {"ball": ball}
    if call and call.pocket:
        pot["pocket"] = call.pocket
    values[("facts", "potted")] = [pot]
    values[("result", "contact")] = REMOVE
    return values


def _unforced(context: Context, unforced: bool) -> Values:
    shot = context.shot
    recorded = recorded_errors(shot)
    if recorded and is_set(shot, "unforced" if unforced else "forced"):
        errors = [{k: v for k, v in serialize(e).items() if k != "unforced"} for e in recorded]
        bare = [e for e in errors if set(e) != {"kind"}]
        return {("error",): _one_or_list(bare) if bare else REMOVE}
    if recorded:
        errors = [{**serialize(error), "unforced": unforced} for error in recorded]
        return {("error",): _one_or_list(errors)}
    judged = context.judged.outcome if context.judged else None
    fouled = judged is not None and not judged.legal
    down = shot.facts is not None and meant_ball_down(shot, context.judged)
    tried = shot.intent in POT_INTENTS and shot.facts is not None
    kinds = found_kinds(shot, made=down and not fouled, failed=tried and not down, fouled=fouled)
    if not kinds:
        raise NotUnderstood("Nothing went wrong here yet: say missed, position lost or a foul first.")
    return {("error",): _one_or_list([{"kind": kind, "unforced": unforced} for kind in kinds])}


def _one_or_list(errors: list[dict[str, object]]) -> object:
    return errors[0] if len(errors) == 1 else errors


def _other_foul(context: Context, foul: str) -> Values:
    fouls = list((context.shot.facts and context.shot.facts.other_fouls) or ())
    rest = [name for name in fouls if name != foul]
    values = rest if foul in fouls else [*fouls, foul]
    return {("facts", "other_fouls"): values or REMOVE}


def digit_values(context: Context, entry: Entry, digit: str) -> tuple[Values, Entry]:
    """What a digit says: the ball meant, hit first, or fallen besides; 1 then 0-5 makes 10-15."""
    if context.game == "snooker":
        return _snooker_digit(context, entry, digit)
    balls = _balls(context.game)
    number = digit
    if entry.digit == "1" and f"1{digit}" in balls:
        number = f"1{digit}"
    elif digit == "0":
        return tag_values(context, "foul_scratch"), Entry()
    if number not in balls:
        raise NotUnderstood(f"This game has no ball {number}; its balls are {balls[0]} to {balls[-1]}.")
    pending = "1" if number == "1" and "10" in balls else ""
    if entry.first_contact:
        return {("facts", "first_contact"): number}, Entry(pending, first_contact=bool(pending))
    if context.is_break or _outcome_known(context):
        replaced = entry.falling and number != digit
        return _falling_ball(context, number, replaced), Entry(pending, falling=True)
    return {("call", "ball"): number, **_pot_intent(context)}, Entry(pending)


def _snooker_digit(context: Context, entry: Entry, digit: str) -> tuple[Values, Entry]:
    """In snooker a digit is a value: 1 a red (nobody is asked which), 2 yellow to 7 black."""
    if digit == "0":
        return tag_values(context, "foul_scratch"), Entry()
    if digit not in "1234567":
        raise NotUnderstood("In snooker a digit is a value: 1 a red, 2 yellow, 3 green up to 7 black.")
    colour = None if digit == "1" else COLOURS[int(digit) - 2]
    ball = colour or _some_red(context)
    if ball is None:
        raise NotUnderstood("There is no red on the table any more.")
    if entry.first_contact:
        return {("facts", "first_contact"): ball}, Entry()
    if context.is_break or _outcome_known(context):
        return _falling_ball(context, ball, False), Entry(falling=True)
    if colour is None:
        return {("call", "ball"): REMOVE, **_pot_intent(context)}, Entry()
    return {("call", "ball"): colour, **_pot_intent(context)}, Entry()


def _some_red(context: Context) -> str | None:
    """The first red on the table that has not fallen on this stroke; reds are alike."""
    table = context.judged.on_table if context.judged else frozenset()
    fallen = {pot["ball"] for pot in _fallen(context)}
    reds = sorted((b for b in table if is_red(b) and b not in fallen), key=lambda ball: int(ball[3:]))
    return reds[0] if reds else None


def _balls(game: str | None) -> tuple[str, ...]:
    engine = GAMES.get(game or "")
    return engine((), {}).balls if engine is not None else tuple(str(n) for n in range(1, 16))


def _outcome_known(context: Context) -> bool:
    facts = context.shot.facts
    return facts is not None and facts.potted is not None


def _fallen(context: Context) -> list[dict[str, object]]:
    facts = context.shot.facts
    return [serialize(pot) for pot in (facts.potted if facts else None) or ()]


def _falling_ball(context: Context, ball: str, replaces_last: bool) -> Values:
    fallen = _fallen(context)
    if replaces_last and fallen:
        fallen = fallen[:-1]
    if any(pot["ball"] == ball for pot in fallen):
        rest = [pot for pot in fallen if pot["ball"] != ball]
        return {("facts", "potted"): rest}
    return {("facts", "potted"): [*fallen, {"ball": ball}]}


def meant_ball_values(context: Context, ball: str) -> Values:
    """The ball a shot was meant for, as a click on it says; a pot already told is of that ball then."""
    if context.is_break:
        return _falling_ball(context, ball, False)
    values: Values = {("call", "ball"): ball, **_pot_intent(context)}
    fallen = _fallen(context)
    before = meant_ball(context.shot, context.judged)
    if len(fallen) == 1 and fallen[0]["ball"] == before:
        values[("facts", "potted")] = [{**fallen[0], "ball": ball}]
    return values


def pocket_values(context: Context, entry: Entry, pocket: str) -> Values:
    """What a pocket's key says: the pocket meant, or the one a ball fell into."""
    fallen = _fallen(context)
    if fallen and (context.is_break or entry.falling):
        return {("facts", "potted"): [*fallen[:-1], {**fallen[-1], "pocket": pocket}]}
    if context.is_break:
        raise NotUnderstood("A ball's number first, then the pocket it fell into.")
    if context.shot.call and context.shot.call.pocket == pocket:
        return {("call", "pocket"): REMOVE}
    values: Values = {("call", "pocket"): pocket, **_pot_intent(context)}
    meant = meant_ball(context.shot, context.judged)
    for i, pot in enumerate(fallen):
        if pot["ball"] == meant:
            values[("facts", "potted")] = [*fallen[:i], {**pot, "pocket": pocket}, *fallen[i + 1 :]]
    return values
