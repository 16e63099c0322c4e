"""Ten-ball (WPA World-Standardized Rules, ten-ball, part 3; sections cited from memory)."""

from __future__ import annotations

from ripasso.core.rules.facts import ShotFacts
from ripasso.core.rules.lowest_first import LowestFirst, Pots, RackState
from ripasso.core.rules.pool import called_safety, fell, numbered

MONEY_BALL = "10"


class TenBall(LowestFirst):
    """Called shots: the called ball in its pocket keeps the turn, anything else that falls ends it (3.5)."""

    balls = numbered(10)

    def _legal_pots(self, state: RackState, shot: ShotFacts, fallen: tuple[str, ...]) -> Pots:
        others = tuple(ball for ball in fallen if ball != MONEY_BALL)
        spotted = (MONEY_BALL,) if MONEY_BALL in fallen else ()
        if state.break_next:  # nothing is called, the 10 is spotted and the breaker goes on (3.3)
            return Pots(counted=others, spotted=spotted, keeps_turn=bool(fallen))
        if called_safety(shot):  # 3.6: what falls stays down, and the table may be handed back
            return Pots(spotted=spotted, may_hand_back=bool(fallen))
        called = shot.call_ball or next(iter(self.balls_on(state)), None)
        if called not in fallen or not fell(shot, called):
            return Pots(spotted=spotted, may_hand_back=bool(fallen))
        if called != MONEY_BALL:
            return Pots(counted=others, spotted=spotted, keeps_turn=True)
        if self._options.get("ten_last") and state.on_table != {MONEY_BALL}:
            return Pots(counted=others, spotted=spotted, keeps_turn=True)
        return Pots(counted=fallen, won_by="ten_potted", keeps_turn=True)

    def _lost_pots(
        self, state: RackState, shot: ShotFacts, fallen: tuple[str, ...], *, push_out: bool
    ) -> Pots:
        lost = MONEY_BALL in fallen or (MONEY_BALL in shot.off_table and MONEY_BALL in state.on_table)
        return Pots(spotted=(MONEY_BALL,) if lost else ())
