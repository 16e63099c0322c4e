"""What all pool games share: the common fouls, the call, the options of the match.

World Pool Association, World-Standardized Rules, general rules (section 6, fouls), from memory.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from ripasso.core.rules.facts import MISSING, ShotFacts

BREAK_CUSHIONS = 4  # object balls that must reach a cushion on a break without a pot
ANYWHERE, KITCHEN = "anywhere", "kitchen"
#: An option that is set by who plays, never by the record: one player without a ghost. No target ends that.
ALONE = "alone"


def opponent(players: tuple[str, ...], player: str | None) -> str | None:
    """The other of two players; with one player that player, None when nobody is known."""
    others = [p for p in players if p != player] or players
    return others[0] if others else None


def rival(players: tuple[str, ...], player: str | None) -> str | None:
    """The player who wins what this one loses; None when he plays alone."""
    other = opponent(players, player)
    return other if other != player else None


def option_number(options: Mapping[str, object], name: str) -> int | None:
    """A whole number among the options, None when there is none."""
    value = options.get(name)
    return value if isinstance(value, int) and not isinstance(value, bool) else None


def numbered(count: int) -> tuple[str, ...]:
    """The object balls from 1 to `count`."""
    return tuple(str(n) for n in range(1, count + 1))


def cue_ball_gone(shot: ShotFacts) -> bool:
    """The cue ball fell or left the table."""
    return shot.cue_potted or "cue" in shot.off_table


def standard_fouls(
    shot: ShotFacts, *, right_first: Callable[[str], bool], is_break: bool, free_stroke: bool = False
) -> list[str]:
    """The general fouls of one stroke, in their fixed order, without `bad_break`.

    `right_first(ball)` says whether a ball may be hit first. `free_stroke`: a push-out, which needs
    neither contact nor a cushion.
    """
    fouls: list[str] = []
    cue_gone = cue_ball_gone(shot)
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


def reached_cushions(shot: ShotFacts, enough: int) -> bool:
    """Whether so many object balls reached a cushion; one that left the table has, and unknown is enough."""
    if shot.balls_to_cushion is None:
        return True
    return shot.balls_to_cushion + sum(ball != "cue" for ball in shot.off_table) >= enough


def is_bad_break(shot: ShotFacts) -> bool:
    """True when neither a ball fell nor four object balls reached a cushion."""
    return not shot.potted and not reached_cushions(shot, BREAK_CUSHIONS)


def in_ball_order(balls: Iterable[str], order: tuple[str, ...]) -> tuple[str, ...]:
    """The balls in the game's own order, each once."""
    present = set(balls)
    return tuple(ball for ball in order if ball in present)


def fell(shot: ShotFacts, ball: str | None) -> bool:
    """Whether a ball fell where it was called to; a call without a pocket fits every pocket."""
    return any(
        pot.ball == ball and (not shot.call_pocket or not pot.pocket or pot.pocket == shot.call_pocket)
        for pot in shot.potted
    )


def called_safety(shot: ShotFacts) -> bool:
    """A safety without a call: the turn ends whatever falls."""
    return shot.intent == "safety" and shot.call_ball is None
