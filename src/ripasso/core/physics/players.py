"""How much a player's strokes differ from what he wants: four spreads, by level or his own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ripasso.core.measures.levels import DEFAULT_LEVEL, aim_spread_mrad

#: A club player's spread of speed (share of it) and of the tip (mm, each way): from memory, to be tuned.
CLUB_SPEED, CLUB_TIP_MM = 0.06, 1.5
#: How other levels compare with the club's.
AGAINST_CLUB: Mapping[str, float] = {"beginner": 2.0, "club": 1.0, "county": 0.7, "professional": 0.45}


@dataclass(frozen=True, slots=True)
class Spreads:
    """Standard deviations: aim (mrad), speed (share), tip across and up (mm); `source` says of whom."""

    aim_mrad: float
    speed: float
    tip_across_mm: float
    tip_up_mm: float
    source: str = "level"

    def times(self, aim: float = 1.0, speed: float = 1.0, tip: float = 1.0) -> Spreads:
        """The same player with some spreads larger or smaller."""
        return replace(
            self,
            aim_mrad=self.aim_mrad * aim,
            speed=self.speed * speed,
            tip_across_mm=self.tip_across_mm * tip,
            tip_up_mm=self.tip_up_mm * tip,
        )


#: A player who does exactly what he wants.
EXACT = Spreads(0.0, 0.0, 0.0, 0.0, "exact")


def spreads_of_level(level: str, *, snooker: bool) -> Spreads:
    """The spreads of a level; a level that is not known is the club's."""
    share = AGAINST_CLUB.get(level, AGAINST_CLUB[DEFAULT_LEVEL])
    aim = aim_spread_mrad(level, snooker=snooker)
    return Spreads(aim, CLUB_SPEED * share, CLUB_TIP_MM * share, CLUB_TIP_MM * share)
