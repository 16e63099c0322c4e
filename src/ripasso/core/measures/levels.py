"""Levels of play: how much the aim of a player spreads, the yardstick of every chance.

From memory, to be tuned: nobody publishes aim spreads. On screen a level is named by what it pots.
"""

from __future__ import annotations

from collections.abc import Mapping

#: Standard deviation of the aim, milliradians: a club player at pool and at snooker.
CLUB_POOL_MRAD, CLUB_SNOOKER_MRAD = 1.5, 1.0
LEVELS: Mapping[str, float] = {"beginner": 2.0, "club": 1.0, "county": 0.7, "professional": 0.45}
DEFAULT_LEVEL = "club"


def aim_spread_mrad(level: str, *, snooker: bool) -> float:
    """The aim spread of a level; a level that is not known is the club's."""
    club = CLUB_SNOOKER_MRAD if snooker else CLUB_POOL_MRAD
    return club * LEVELS.get(level, 1.0)
