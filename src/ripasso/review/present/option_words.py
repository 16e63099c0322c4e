"""Options of the planner in words: one sentence each, as a coach would say it."""

from __future__ import annotations

from collections.abc import Mapping

from ripasso.core.physics.strokes import pace_of
from ripasso.core.planning.options import Option
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import ball_word, count, pocket_word

#: An offset of the tip from which on it is said, radii.
SAID = 0.1
KINDS: Mapping[str, str] = {
    "pot": "",
    "bank": noop("banked"),
    "combination": noop("by a combination"),
    "carom": noop("by a carom"),
    "kick": noop("by a kick"),
}


def pace_word(speed: float) -> str:
    """The word for a cue ball's speed (m/s)."""
    pace = pace_of(speed)
    return "dead weight" if pace == "dead" else pace


def tip_words(a: float, b: float) -> str:
    """Where the tip meets the cue ball: draw, stun or follow, and side."""
    height = "centre ball"
    if b > SAID:
        height = "follow"
    elif b < -SAID:
        height = tr("back spin") if b < -0.25 else "stun"
    if abs(a) <= SAID:
        return height
    return f"{height}, {tr('right side') if a > 0 else tr('left side')}"


def option_sentence(option: Option, game: str | None) -> str:
    """What is played, how, how often it is made, and what follows."""
    how = f"{tip_words(option.stroke.a, option.stroke.b)}, {pace_word(option.stroke.speed)}"
    promise = option.expected
    route = f", off {count(len(option.cushions), 'cushion')}" if option.cushions else ""
    if option.pocket is None:
        by, route = (route.replace(",", ""), "") if option.kind == "kick" else ("", route)
        legal = 100 * (1 - (promise.foul.rate or 0.0))
        left = promise.left.value
        leaves = f", leaves {100 * left:.0f} %" if left is not None else ""
        return f"Safety on the {ball_word(option.ball)}{by}: {how}{route}: legal {legal:.0f} %{leaves}."
    kind = f"{tr(KINDS[option.kind])} " if KINDS[option.kind] else ""
    what = f"{ball_word(option.ball)} {kind}into {pocket_word(option.pocket, game)}"
    pot = 100 * (promise.pot.rate or 0.0)
    then = f", then {100 * promise.leave.value:.0f} % on the next" if promise.leave.value is not None else ""
    miss = f"; a miss leaves {100 * promise.left.value:.0f} %" if promise.left.value is not None else ""
    scratch = 100 * (promise.scratch.rate or 0.0)
    risk = f"; {tr('in-off')} {scratch:.0f} %" if scratch >= 3 else ""
    return f"{what[0].upper()}{what[1:]}: {how}{route}: {pot:.0f} %{then}{miss}{risk}."
