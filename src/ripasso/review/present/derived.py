"""What follows from a shot's record and its measures, and is never asked: side in words, luck, recovery.

To add one: a function here, and a line in `derived_lines`.
"""

from __future__ import annotations

from collections.abc import Iterator

from ripasso.core.measures.shots import ShotMeasures
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import ball_word
from ripasso.review.present.measure_words import MeasureLine
from ripasso.review.record.model import Rack, Shot
from ripasso.review.record.proposals import without_proposals

#: A pot of less chance is hard, and one made after a lost position recovers it.
HARD = 0.5


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

    It is solved when it fell, or when a shot said so: of the ball that was called, else of the only one that
    is open then.
    """
    troubled = [ball for ball, roles in (rack.roles or {}).items() if "trouble" in roles]
    solved: dict[str, int | None] = dict.fromkeys(troubled)
    for shot in rack.shots or ():
        if shot.number > until:
            break
        fallen = {p.ball for p in (shot.facts.potted if shot.facts else None) or ()}
        waiting = [ball for ball in troubled if solved[ball] is None]
        called = shot.call.ball if shot.call is not None else None
        only = waiting[0] if len(waiting) == 1 else None
        said = called if called in waiting else only
        for ball in waiting:
            if ball in fallen or ("role_solved" in (shot.events or ()) and ball == said):
                solved[ball] = shot.number
    return solved


def derived_lines(rack: Rack, shot: Shot, measures: ShotMeasures, *, made: bool) -> Iterator[MeasureLine]:
    """What follows, a line each, for the slip."""
    shot = without_proposals(shot)
    side = measures.side_spin
    if side is not None and side.spin_cut != "none":
        rail = side.spin_rail
        at = f", {rail} at the {side.cushion} cushion" if rail in ("running", "check") else ""
        tip = tr(
            "Inside or outside the cut, and what the spin does at the next cushion: two different things."
        )
        yield MeasureLine("side", f"{side.spin_cut}{at}", tip)
    if measures.route is not None:
        tip = "Natural: the planned route starts within 20° of the rolling line or the tangent line."
        yield MeasureLine("route", measures.route, tip)
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
