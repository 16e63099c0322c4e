"""Nine-ball (WPA World-Standardized Rules, nine-ball, part 2; sections cited from memory)."""

from __future__ import annotations

from ripasso.core.rules.facts import ShotFacts
from ripasso.core.rules.lowest_first import LowestFirst, Pots, RackState
from ripasso.core.rules.pool import numbered

MONEY_BALL = "9"


class NineBall(LowestFirst):
    """The 9 on any legal stroke wins (2.8); any legal pot keeps the turn, also one off a safety (2.5)."""

    balls = numbered(9)

    def _legal_pots(self, state: RackState, shot: ShotFacts, fallen: tuple[str, ...]) -> Pots:
        won_by = None
        if MONEY_BALL in fallen:
            won_by = "nine_on_break" if state.break_next else "nine_potted"
        return Pots(counted=fallen, keeps_turn=bool(fallen), won_by=won_by)

    def _lost_pots(
        self, state: RackState, shot: ShotFacts, fallen: tuple[str, ...], *, push_out: bool
    ) -> Pots:
        """The 9 is spotted (2.7), other balls stay down."""
        lost = MONEY_BALL in fallen or (MONEY_BALL in shot.off_table and MONEY_BALL in state.on_table)
        return Pots(spotted=(MONEY_BALL,) if lost else ())
