"""A player's own spreads, from what is known of all his pots."""

from __future__ import annotations

from dataclasses import replace

from ripasso.core.figures.facts import Facts
from ripasso.core.figures.player_stats import potting
from ripasso.core.measures.levels import DEFAULT_LEVEL
from ripasso.core.physics.players import Spreads, spreads_of_level


def own_spreads(facts: Facts, person: str, *, snooker: bool) -> Spreads | None:
    """The player's own spread of aim, with pace and tip of a club player; None with fewer pots than tell it.

    Pots at snooker and at pool are told apart: pockets and balls differ.
    """
    is_snooker = facts.equal("game", "snooker")
    own, _ = facts.by_person(facts.equal("person", person) & (is_snooker == snooker))
    spread, _ = potting(own)
    if spread.mrad is None:
        return None
    return replace(spreads_of_level(DEFAULT_LEVEL, snooker=snooker), aim_mrad=spread.mrad, source="own")
