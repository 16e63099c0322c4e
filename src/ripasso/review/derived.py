"""What follows from a shot's record and its measures, and is never asked: side in words, luck, recovery.

To add one: a function here, and a line in `derived_lines`.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from ripasso.core.measures.shots import ShotMeasures
from ripasso.core.measures.spin_words import angle_kind, next_cushion, side_at_cushion, side_of_cut
from ripasso.core.table import TableSpec
from ripasso.review.measure_words import MeasureLine
from ripasso.review.model import Rack, Shot
from ripasso.review.proposals import settled
from ripasso.review.vocabulary import ball_word

#: A pot of less chance is hard, and one made after a lost position recovers it.
HARD = 0.5
Place = tuple[float, float]


@dataclass(frozen=True)
class Side:
    """Side spin in both senses; `cushion` is the one that is met next."""

    cut: str
    rail: str
    cushion: str | None


def cue_leaves(shot: Shot, measures: ShotMeasures) -> tuple[Place, Place] | None:
    """From where and in which direction the cue ball leaves the contact: followed, planned, or natural."""
    pot = measures.geometry
    if pot is None:
        return None
    followed = [(float(p[1]), float(p[2])) for p in (shot.path or {}).get("cue", ())]
    if len(followed) > 1:
        near = min(range(len(followed)), key=lambda i: math.dist(followed[i], pot.ghost))
        if near + 1 < len(followed):
            return pot.ghost, _towards(pot.ghost, followed[near + 1])
    route = [(float(p[0]), float(p[1])) for p in (shot.plan and shot.plan.route) or ()]
    ahead = [p for p in route if math.dist(p, pot.ghost) > 0.02]
    if ahead:
        return pot.ghost, _towards(pot.ghost, ahead[0])
    if pot.natural_roll_deg is None:
        return None
    angle = math.radians(pot.natural_roll_deg)
    return pot.ghost, (math.cos(angle), math.sin(angle))


def _towards(start: Place, end: Place) -> Place:
    return end[0] - start[0], end[1] - start[1]


def side_of(shot: Shot, measures: ShotMeasures, spec: TableSpec) -> Side | None:
    """Side spin in words; None where the tip was not said or nothing is cut."""
    tip = shot.stroke.tip if shot.stroke else None
    if tip is None or measures.geometry is None:
        return None
    right, leaves = float(tip[0]), cue_leaves(shot, measures)
    cushion, rail = None, "none"
    if leaves is not None:
        start, direction = leaves
        radius = spec.ball_radius
        inside = (start[0] - radius, start[1] - radius)
        cushion = next_cushion(inside, direction, spec.length - 2 * radius, spec.width - 2 * radius)
        rail = side_at_cushion(right, direction, cushion) if cushion else "none"
    return Side(side_of_cut(right, measures.geometry.cut_deg), rail, cushion)


def route_kind(shot: Shot, measures: ShotMeasures) -> str | None:
    """Whether the planned route starts on a natural line or fights it."""
    pot = measures.geometry
    route = [(float(p[0]), float(p[1])) for p in (shot.plan and shot.plan.route) or ()]
    if pot is None or not route:
        return None
    ahead = [p for p in route if math.dist(p, pot.ghost) > 0.02]
    if not ahead:
        return None
    way = _towards(pot.ghost, ahead[0])
    return angle_kind(math.degrees(math.atan2(way[1], way[0])), pot.natural_roll_deg, pot.tangent_deg)


def luck_suggested(shot: Shot) -> str | None:
    """Luck that the facts show: the meant ball fell elsewhere than meant; None when luck is said already."""
    if shot.result is not None and shot.result.luck is not None:
        return None
    call, facts = shot.call, shot.facts
    if call is None or facts is None or not call.ball or not call.pocket:
        return None
    elsewhere = any(p.ball == call.ball and p.pocket not in (None, call.pocket) for p in facts.potted or ())
    return "fluke" if elsewhere else None


def is_recovery(shot: Shot, before: Shot | None, chance: float | None, *, made: bool) -> bool:
    """A hard ball made after a position that was judged or measured lost."""
    lost = before is not None and before.result is not None and before.result.position == "lost"
    return (
        made
        and lost
        and chance is not None
        and chance < HARD
        and before is not None
        and (before.player == shot.player)
    )


def trouble_balls(rack: Rack, until: int) -> dict[str, int | None]:
    """Each trouble ball of a rack and the shot at which it was solved by `until`; None: open still.

    It is solved when it fell, or when a shot said so.
    """
    troubled = [ball for ball, roles in (rack.roles or {}).items() if "trouble" in roles]
    solved: dict[str, int | None] = dict.fromkeys(troubled)
    for shot in rack.shots or ():
        if shot.number > until:
            break
        fallen = {p.ball for p in (shot.facts.potted if shot.facts else None) or ()}
        for ball in troubled:
            said = "role_solved" in (shot.events or ()) and shot.call is not None and shot.call.ball == ball
            if solved[ball] is None and (ball in fallen or said):
                solved[ball] = shot.number
    return solved


def derived_lines(
    rack: Rack, shot: Shot, measures: ShotMeasures, spec: TableSpec, *, made: bool
) -> Iterator[MeasureLine]:
    """What follows, a line each, for the slip."""
    shot = settled(shot)
    side = side_of(shot, measures, spec)
    if side is not None and side.cut != "none":
        at = f", {side.rail} at the {side.cushion} cushion" if side.rail in ("running", "check") else ""
        tip = "Inside or outside the cut, and what the spin does at the next cushion: two different things."
        yield MeasureLine("side", f"{side.cut}{at}", tip)
    kind = route_kind(shot, measures)
    if kind is not None:
        tip = "Natural: the planned route starts within 20° of the rolling line or the tangent line."
        yield MeasureLine("route", kind, tip)
    if luck_suggested(shot):
        tip = "The meant ball fell, but not where it was meant to. ⇧M says that it was a fluke."
        yield MeasureLine("luck", "a fluke?", tip, "unsure")
    before = next((s for s in rack.shots or () if s.number == shot.number - 1), None)
    chance = measures.geometry.chance if measures.geometry else None
    if is_recovery(shot, before, chance, made=made):
        tip = "A ball of less than even chance, made after a lost position."
        yield MeasureLine("recovery", "yes", tip, "good")
    troubles = trouble_balls(rack, shot.number)
    if troubles:
        yield MeasureLine("trouble", _trouble_words(troubles), "Balls that were said to be trouble.")


def _trouble_words(troubles: dict[str, int | None]) -> str:
    parts = [
        f"{ball_word(ball)} " + ("open" if number is None else f"solved at shot {number}")
        for ball, number in troubles.items()
    ]
    return ", ".join(parts)


def solved_early(rack: Rack, ball: str, balls_of_rack: int) -> bool | None:
    """Whether a trouble ball was solved before half of the rack's balls were down; None: never solved."""
    number = trouble_balls(rack, 10**6).get(ball)
    if number is None:
        return None
    down = sum(
        len((s.facts.potted if s.facts else None) or ()) for s in rack.shots or () if s.number < number
    )
    return down < balls_of_rack / 2
