"""Which balls of a layout are on: what the rules allow, with the balls that lie there."""

from __future__ import annotations

from collections.abc import Mapping

from ripasso.core.rules import GAMES
from ripasso.core.rules.lowest_first import LOWEST_FIRST
from ripasso.core.rules.snooker import COLOURS, is_red


def balls_on_in(
    game: str | None, allowed: tuple[str, ...], layout: Mapping[str, object] | None, *, free: bool = False
) -> tuple[str, ...]:
    """The balls on by the rules (`allowed`), of those in the layout; a free ball may be any.

    The layout is what was seen: where the record of pots and the layout differ, its lowest ball is on.
    """
    if layout is None:
        return allowed
    order = GAMES[game]((), {}).balls if game and game in GAMES else tuple(b for b in layout if b != "cue")
    present = tuple(ball for ball in order if ball in layout)
    if free:
        return present
    if game in LOWEST_FIRST:
        return present[:1]
    found = tuple(ball for ball in allowed if ball in layout)
    if found or not present:
        return found
    return _on_though_unexpected(game, present)


def _on_though_unexpected(game: str | None, present: tuple[str, ...]) -> tuple[str, ...]:
    """What is on where none of the balls that the rules expect lies there."""
    if game == "snooker":
        reds = tuple(ball for ball in present if is_red(ball))
        return reds or tuple(ball for ball in COLOURS if ball in present)[:1]
    if game == "eight_ball":
        return tuple(ball for ball in present if ball == "8")
    return present
