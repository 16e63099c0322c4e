"""Nine-ball (WPA World-Standardized Rules, nine-ball, sections cited from memory)."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial

from ripasso.core.rules.facts import RackFacts, ShotFacts
from ripasso.core.rules.interface import Outcome
from ripasso.core.rules.pool import in_ball_order, is_bad_break, opponent, standard_fouls

MONEY_BALL = "9"
FOULS_THAT_LOSE = 3


@dataclass(frozen=True, slots=True)
class NineBallState:
    """Balls on the table, whether the break is still to come, and fouls in a row of each player."""

    on_table: frozenset[str]
    break_next: bool
    push_out_open: bool
    foul_count: Mapping[str, int]


class NineBall:
    """Lowest ball first, the 9 on any legal stroke wins; push-out after the break; three fouls lose."""

    def __init__(self, players: tuple[str, ...], options: Mapping[str, object]) -> None:
        self._players = players
        self._three_foul = bool(options.get("three_foul", True))
        self._kitchen = bool(options.get("kitchen_after_scratch_on_break", False))

    balls = tuple(str(n) for n in range(1, 10))

    def start(self, rack: RackFacts) -> NineBallState:
        """A full rack with the break to come, or the given layout without one."""
        balls = self.balls if rack.layout is None else tuple(b for b in rack.layout if b in self.balls)
        breaks = rack.layout is None or bool(rack.shots and rack.shots[0].intent == "break")
        return NineBallState(frozenset(balls), breaks, False, dict.fromkeys(self._players, 0))

    def on_table(self, state: NineBallState) -> frozenset[str]:
        return state.on_table

    def balls_on(self, state: NineBallState) -> tuple[str, ...]:
        """The lowest ball on the table, on the break too."""
        return next(((ball,) for ball in self.balls if ball in state.on_table), ())

    def play(self, state: NineBallState, shot: ShotFacts) -> tuple[NineBallState, Outcome]:
        player = shot.player or ""
        warnings = [] if shot.recorded else ["no_facts"]
        push_out = shot.intent == "push_out" and state.push_out_open
        if shot.intent == "push_out" and not push_out:
            warnings.append("push_out_not_allowed")
        if any(pot.ball not in state.on_table for pot in shot.potted):
            warnings.append("ball_not_on_table")
        fallen = in_ball_order((p.ball for p in shot.potted if p.ball in state.on_table), self.balls)
        fouls = self._fouls(state, shot, push_out)

        gone = set(fallen) | {ball for ball in shot.off_table if ball in state.on_table}
        won = not fouls and not push_out and MONEY_BALL in fallen
        spotted = (MONEY_BALL,) if MONEY_BALL in gone and not won else ()
        counted = () if fouls or push_out else fallen
        count = {**state.foul_count, player: state.foul_count.get(player, 0) + 1 if fouls else 0}
        lost = self._three_foul and count[player] >= FOULS_THAT_LOSE
        said = partial(
            Outcome,
            fouls=tuple(fouls),
            points=dict.fromkeys(self._players, 0),
            counted=counted,
            spotted=spotted,
            warnings=tuple(warnings),
            foul_count=count if self._three_foul else None,
        )
        next_state = NineBallState(
            on_table=(state.on_table - gone) | set(spotted),
            break_next=False,
            push_out_open=state.break_next and not fouls and not won,
            foul_count=count,
        )
        return next_state, self._conclude(state, shot, said, won=won, lost=lost, push_out=push_out)

    def _fouls(self, state: NineBallState, shot: ShotFacts, push_out: bool) -> list[str]:
        lowest = self.balls_on(state)
        fouls = standard_fouls(
            shot,
            right_first=lambda ball: not lowest or ball == lowest[0],
            is_break=state.break_next,
            free_stroke=push_out,
        )
        if state.break_next and is_bad_break(shot):
            fouls.append("bad_break")
        return fouls + list(shot.other_fouls)

    def _conclude(
        self,
        state: NineBallState,
        shot: ShotFacts,
        said: Callable[..., Outcome],
        *,
        won: bool,
        lost: bool,
        push_out: bool,
    ) -> Outcome:
        """Who goes on, or who has won: `said` is the outcome so far, which this completes."""
        player, other = shot.player or "", opponent(self._players, shot.player) or ""
        if won or lost:
            ended_by = "three_fouls" if lost else "nine_on_break" if state.break_next else "nine_potted"
            return said(
                turn_ends=True,
                rack_ends=True,
                winner=player if won else other,
                ended_by=ended_by,
                visit_end="rack_won" if won else "rack_lost",
            )
        so_far = said()
        if so_far.fouls:
            place = "kitchen" if state.break_next and self._kitchen else "anywhere"
            return said(turn_ends=True, next_players=(other,), ball_in_hand_from=place, visit_end="foul")
        if push_out:
            return said(turn_ends=True, next_players=self._players, visit_end="push_out")
        if so_far.counted:
            return said(next_players=(player,))
        visit_end = "safety" if shot.intent == "safety" else "miss"
        return said(turn_ends=True, next_players=(other,), visit_end=visit_end)
