"""Rotation: fifteen balls, each worth its number; common practice, no published source at hand."""

from __future__ import annotations

from ripasso.core.rules.facts import ShotFacts
from ripasso.core.rules.lowest_first import LowestFirst, Pots, RackState
from ripasso.core.rules.pool import ALONE, in_ball_order, numbered, option_number

DEFAULT_TARGET = 61  # more than half of the 120 points in all


class Rotation(LowestFirst):
    """Any legal pot scores and keeps the turn; pots on a foul and balls off the table come back."""

    balls = numbered(15)
    push_outs = False

    @property
    def _counts_fouls(self) -> bool:
        return False

    @property
    def _target(self) -> int:
        return option_number(self._options, "target_points") or DEFAULT_TARGET

    def _legal_pots(self, state: RackState, shot: ShotFacts, fallen: tuple[str, ...]) -> Pots:
        return Pots(counted=fallen, keeps_turn=bool(fallen))

    def _lost_pots(
        self, state: RackState, shot: ShotFacts, fallen: tuple[str, ...], *, push_out: bool
    ) -> Pots:
        off = (ball for ball in shot.off_table if ball in state.on_table)
        return Pots(spotted=in_ball_order((*fallen, *off), self.balls))

    def _points(self, player: str, counted: tuple[str, ...]) -> dict[str, int]:
        points = dict.fromkeys(self._players, 0)
        if player in points:
            points[player] = sum(int(ball) for ball in counted)
        return points

    def _rack_is_over(self, state: RackState, player: str) -> tuple[str | None, str] | None:
        """The target is reached; or nothing is left, and more points win (level: nobody)."""
        if state.points.get(player, 0) >= self._target and not self._options.get(ALONE):
            return player, "target_reached"
        if state.on_table:
            return None
        best = max(state.points.values(), default=0)
        leaders = [p for p, points in state.points.items() if points == best]
        return (leaders[0] if len(leaders) == 1 else None), "all_potted"
