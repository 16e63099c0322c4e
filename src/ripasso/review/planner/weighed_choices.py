"""The choices of a rack for the program to weigh, and what it found as a command; loads the simulator."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass
from itertools import pairwise

from ripasso.core.json_data import JsonObject
from ripasso.core.measures.levels import DEFAULT_LEVEL
from ripasso.core.physics.parameters import physics_of
from ripasso.core.physics.players import Spreads, spreads_of_level
from ripasso.core.planning.backward.solving import Stopped
from ripasso.core.planning.clearing import RackFollower
from ripasso.core.planning.options import Option
from ripasso.core.planning.problem import Problem
from ripasso.core.planning.weighing import Weighed, value_reached, weigh, worth_of
from ripasso.core.rules import ShotScore
from ripasso.core.table import table_spec
from ripasso.review.document.command import Change, Command
from ripasso.review.document.edits import set_values
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.measuring.measuring import spread_of
from ripasso.review.record.model import Session
from ripasso.review.record.parts import Level
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.meant import POT_INTENTS, meant_ball
from ripasso.review.table.layouts import recorded, score_of_shot, shown
from ripasso.review.table.settings import table_feel

DIGITS = 3


@dataclass(frozen=True)
class Choice:
    """One choice: what lay there, what was meant (None: safe), what the layout came to is worth."""

    shot: str
    number: int
    problem: Problem
    meant: tuple[str, str] | None
    reached: float | None
    #: The striker plays on, and the rack is over.
    goes_on: bool = False
    ends: bool = False


def session_spreads(session: Session) -> Spreads:
    """The spreads of a session's level; where its aim spread is stated that one."""
    level = session.level if isinstance(session.level, str) else DEFAULT_LEVEL
    usual = spreads_of_level(level, snooker=session.game == "snooker")
    stated = 1000 * spread_of(session)
    return usual.times(aim=stated / usual.aim_mrad)


def choices_of(snapshot: Snapshot, rack: str) -> list[Choice]:
    """The pots and safeties of a rack whose balls are recorded, with what was meant."""
    row = snapshot.rack(rack)
    spreads = session_spreads(snapshot.head)
    found = (_choice(snapshot, shot, spreads) for shot in (row.shots if row is not None else ()))
    return [one for one in found if one is not None]


def _choice(snapshot: Snapshot, row: ShotRow, spreads: Spreads) -> Choice | None:
    shot, judged = without_proposals(row.record), score_of_shot(snapshot, row)
    layout = recorded(row, "before")
    if layout is None or "cue" not in layout or judged is None or judged.outcome is None:
        return None
    on = tuple(ball for ball in judged.balls_on if ball in layout)
    is_pot = shot.intent in POT_INTENTS
    ball, pocket = meant_ball(shot, judged), shot.call.pocket if shot.call else None
    if not on or not (is_pot or shot.intent == "safety"):
        return None
    if is_pot and (ball not in layout or ball is None or pocket is None):
        return None
    spec, feel = table_spec(snapshot.head.table), table_feel(snapshot.head)
    game = snapshot.head.game or "nine_ball"
    problem = Problem(game, spec, layout, on, physics=physics_of(spec, *feel))
    meant = (ball, pocket) if is_pot and ball is not None and pocket is not None else None
    outcome = judged.outcome
    reached = _reached(snapshot, row, judged, problem, spreads)
    return Choice(
        row.key,
        shot.number,
        problem,
        meant,
        reached,
        goes_on=not outcome.turn_ends,
        ends=outcome.rack_ends,
    )


def _reached(
    snapshot: Snapshot, row: ShotRow, judged: ShotScore, problem: Problem, spreads: Spreads
) -> float | None:
    outcome = judged.outcome
    if outcome is None:
        return None
    if outcome.rack_ends:
        won = outcome.winner is not None and outcome.winner == row.record.player
        return 1.0 if won else 0.0
    goes_on = not outcome.turn_ends
    fouled = bool(outcome.fouls)
    return value_reached(
        problem, shown(snapshot, row, "after"), fouled=fouled, goes_on=goes_on, spreads=spreads
    )


def weighed(choice: Choice, spreads: Spreads, go_on: Callable[[], bool]) -> Weighed | None:
    """What the program makes of a choice; None where there is nothing legal or the work was stopped."""
    return weigh(choice.problem, choice.meant, choice.reached, spreads, go_on=go_on)


def clearings(
    choices: Sequence[Choice], spreads: Spreads, go_on: Callable[[], bool]
) -> dict[str, JsonObject]:
    """The chance to clear before, with and after each choice of a rack, as records keep it.

    What the striker did not clear is worth nothing to him; after a shot that is not followed by a known one
    nothing is said. Ends early where the work was stopped.
    """
    follower = RackFollower(spreads, go_on)
    found: dict[str, JsonObject] = {}
    for choice, comes_to_table in zip(choices, _comes_to_table(choices), strict=True):
        values: JsonObject = {}
        try:
            chances = follower.chances(choice.problem, choice.meant)
            if comes_to_table:
                values = asdict(follower.task(choice.problem))
        except Stopped:
            break
        values["before"] = round(chances.best, DIGITS)
        if chances.chosen is not None:
            values["chosen"] = round(chances.chosen, DIGITS)
            if choice.ends and choice.reached is not None:
                values["after"] = choice.reached
            elif not choice.goes_on:
                values["after"] = 0.0
        if chances.rest is not None:
            values["rest"] = [round(coordinate, DIGITS) for coordinate in chances.rest]
        found[choice.shot] = values
    for one, following in pairwise(choices):
        is_next = following.number == one.number + 1 and one.goes_on and one.meant is not None
        if is_next and one.shot in found and following.shot in found:
            found[one.shot]["after"] = found[following.shot]["before"]
    return found


def _comes_to_table(choices: Sequence[Choice]) -> list[bool]:
    """Whether a visit begins with each choice, or what lay before it is not known."""
    follows = [later.number == one.number + 1 and one.goes_on for one, later in pairwise(choices)]
    return [not one for one in (False, *follows)][: len(choices)]


def told(found: Weighed, level: str) -> JsonObject:
    """What was found, as a record keeps it."""
    values: JsonObject = {"best": _option(found.best), "level": level}
    if found.chosen is not None:
        values["chosen"] = _option(found.chosen)
    if found.reached is not None:
        values["reached"] = round(found.reached, DIGITS)
    return values


def _option(option: Option) -> JsonObject:
    worth = worth_of(option)
    values: JsonObject = {
        "kind": option.kind,
        "ball": option.ball,
        "value": round(worth.value, DIGITS),
        "low": round(worth.low, DIGITS),
        "high": round(worth.high, DIGITS),
    }
    if option.pocket is not None:
        values["pocket"] = option.pocket
    return values


def level_of(session: Session) -> str:
    """Whose spreads a weighing goes by: the name of a level, or that they were stated."""
    if isinstance(session.level, Level):
        return "stated"
    return session.level or DEFAULT_LEVEL


def keep_weighed(snapshot: Snapshot, found: Mapping[str, JsonObject]) -> Command:
    """What was found of several shots, kept with them; one step back takes all of it away."""
    changes: list[Change] = []
    for shot, values in found.items():
        if snapshot.shot(shot) is not None:
            command = set_values(snapshot, "shot", shot, {("decision", "weighed"): values}, "")
            changes += command.changes
    return Command("Weigh the choices of a rack", snapshot.key, tuple(changes))
