"""What all pool games share: the common fouls (WPA general rules, section 6, from memory)."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from ripasso.core.rules.facts import MISSING, ShotFacts

BREAK_CUSHIONS = 4  # object balls that must reach a cushion on a break without a pot


def opponent(players: tuple[str, ...], player: str | None) -> str | None:
    """The other of two players; with one player that player, None when nobody is known."""
    others = [p for p in players if p != player]
    return others[0] if others else (players[0] if players else None)


def standard_fouls(
    shot: ShotFacts, *, right_first: Callable[[str], bool], is_break: bool, free_stroke: bool = False
) -> list[str]:
    """The general fouls of one stroke, in their fixed order, without `bad_break`.

    `right_first(ball)` says whether a ball may be hit first. `free_stroke`: a push-out, which needs
    neither contact nor a cushion.
    """
    fouls: list[str] = []
    cue_gone = shot.cue_potted or "cue" in shot.off_table
    driven_off = [ball for ball in shot.off_table if ball != "cue"]
    if cue_gone:
        fouls.append("cue_ball_scratch")
    if not free_stroke:
        if shot.first_contact is None:
            fouls.append("no_contact")
        else:
            if shot.first_contact is not MISSING and not right_first(shot.first_contact):
                fouls.append("wrong_ball_first")
            # A ball that fell or left the table has reached a cushion.
            reached = shot.cushion_after_contact or shot.potted or cue_gone or driven_off
            if not is_break and not reached:
                fouls.append("no_cushion_after_contact")
    if driven_off:
        fouls.append("ball_off_table")
    return fouls


def is_bad_break(shot: ShotFacts) -> bool:
    """True when neither a ball fell nor four object balls reached a cushion."""
    if shot.potted or shot.balls_to_cushion is None:
        return False
    driven_off = sum(ball != "cue" for ball in shot.off_table)
    return shot.balls_to_cushion + driven_off < BREAK_CUSHIONS


def in_ball_order(balls: Iterable[str], order: tuple[str, ...]) -> tuple[str, ...]:
    """The balls in the game's own order, each once."""
    present = set(balls)
    return tuple(ball for ball in order if ball in present)
