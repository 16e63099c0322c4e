"""Eight-ball (WPA World-Standardized Rules, eight-ball, part 1; sections cited from memory)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ripasso.core.rules.facts import RackFacts, ShotFacts
from ripasso.core.rules.interface import Outcome
from ripasso.core.rules.pool import (
    ANYWHERE,
    KITCHEN,
    called_safety,
    fell,
    in_ball_order,
    is_bad_break,
    numbered,
    opponent,
    option_number,
    rival,
    standard_fouls,
)

EIGHT = "8"
GROUPS: Mapping[str, tuple[str, ...]] = {"low": numbered(7), "high": tuple(str(n) for n in range(9, 16))}


def group_of(ball: str | None) -> str | None:
    """The group a ball belongs to, None for the 8."""
    return next((name for name, balls in GROUPS.items() if ball in balls), None)


@dataclass(frozen=True, slots=True)
class EightBallState:
    """Balls on the table, who has which group, and whether a break is next or may be taken again."""

    on_table: frozenset[str]
    break_next: bool
    rerack_offered: bool
    groups: Mapping[str, str]


class EightBall:
    """Groups are fixed by the first legally potted called ball after the break; the 8 wins or loses."""

    balls = numbered(15)
    one_long_game = False

    def __init__(self, players: tuple[str, ...], options: Mapping[str, object]) -> None:
        self._players = players
        self._options = options
        self._calls = bool(options.get("call_shots", True))
        self._kitchen = bool(options.get("kitchen_after_scratch_on_break", True))
        self._on_break = options.get("eight_on_break", "spot_or_rerack")

    def race_to(self) -> int | None:
        return option_number(self._options, "race_to")

    def start(self, rack: RackFacts, before: object, score: Mapping[str, int]) -> EightBallState:
        """A full rack with the break to come, or the given layout as an open table."""
        balls = self.balls if rack.layout is None else tuple(b for b in rack.layout if b in self.balls)
        groups = dict(rack.in_progress.groups) if rack.in_progress is not None else {}
        return EightBallState(frozenset(balls), rack.breaks, False, groups)

    def on_table(self, state: EightBallState) -> frozenset[str]:
        return state.on_table

    def balls_on(self, state: EightBallState) -> tuple[str, ...]:
        """Nobody's turn is part of the state, so this is the open table's; see `balls_on_for`."""
        return self.balls_on_for(state, None)

    def balls_on_for(self, state: EightBallState, player: str | None) -> tuple[str, ...]:
        """Break: all; open table: all but the 8; else the own group, then the 8."""
        group = state.groups.get(player or "")
        if state.break_next:
            wanted: tuple[str, ...] = self.balls
        elif group is None:
            wanted = tuple(ball for ball in self.balls if ball != EIGHT)
        else:
            wanted = GROUPS[group]
        found = in_ball_order(state.on_table & set(wanted), self.balls)
        return found or in_ball_order(state.on_table & {EIGHT}, self.balls)

    def may(self, state: EightBallState, player: str | None) -> tuple[str, ...]:
        """A new rack, where the break offers one."""
        return ("rerack",) if state.rerack_offered else ()

    def play(self, state: EightBallState, shot: ShotFacts) -> tuple[EightBallState, Outcome]:
        rerack = state.rerack_offered and shot.intent == "break"
        if rerack:
            state = EightBallState(frozenset(self.balls), True, False, {})
        warnings = [] if shot.recorded else ["no_facts"]
        if any(pot.ball not in state.on_table for pot in shot.potted):
            warnings.append("ball_not_on_table")
        fallen = in_ball_order((p.ball for p in shot.potted if p.ball in state.on_table), self.balls)
        off = in_ball_order((b for b in shot.off_table if b in state.on_table), self.balls)
        fouls = self._fouls(state, shot)
        if state.break_next:
            after, outcome = self._break(state, shot, fallen, off, fouls)
        else:
            after, outcome = self._stroke(state, shot, fallen, off, fouls)
        points = dict.fromkeys(self._players, 0)
        done = replace(outcome, fouls=tuple(fouls), points=points, warnings=tuple(warnings), rerack=rerack)
        return after, done

    def _fouls(self, state: EightBallState, shot: ShotFacts) -> list[str]:
        on = set(self.balls_on_for(state, shot.player))
        is_open = not state.break_next and not state.groups
        if is_open and not self._options.get("eight_first_on_open_is_foul", True):
            on.add(EIGHT)
        fouls = standard_fouls(shot, right_first=lambda ball: ball in on, is_break=state.break_next)
        if state.break_next and is_bad_break(shot):
            fouls.append("bad_break")
        return fouls + list(shot.other_fouls)

    def _break(
        self,
        state: EightBallState,
        shot: ShotFacts,
        fallen: tuple[str, ...],
        off: tuple[str, ...],
        fouls: list[str],
    ) -> tuple[EightBallState, Outcome]:
        """1.3 to 1.5: nothing is called, the table stays open, the 8 neither wins nor loses by default."""
        player, other = shot.player or "", opponent(self._players, shot.player) or ""
        eight_down = EIGHT in fallen
        spotted = (EIGHT,) if eight_down or EIGHT in off else ()
        left = (state.on_table - set(fallen) - set(off)) | set(spotted)
        # After an illegal break, or when the 8 fell, a new rack may be taken.
        offered = "bad_break" in fouls or (eight_down and (bool(fouls) or self._on_break == "spot_or_rerack"))
        after = EightBallState(left, False, offered, {})
        if fouls:
            if fouls == ["bad_break"]:
                return after, Outcome(turn_ends=True, next_players=self._players, visit_end="foul")
            place = KITCHEN if self._kitchen else ANYWHERE
            return after, Outcome(
                spotted=spotted,
                turn_ends=True,
                next_players=(other,),
                ball_in_hand_from=place,
                visit_end="foul",
            )
        counted = tuple(ball for ball in fallen if ball != EIGHT)
        if eight_down and self._on_break == "win":
            won = replace(_over(player, "eight_on_break", player), counted=counted)
            return after, won
        if fallen:
            return after, Outcome(counted=counted, spotted=spotted, next_players=(player,))
        return after, Outcome(
            spotted=spotted, turn_ends=True, next_players=(other,), visit_end=_quiet_end(shot)
        )

    def _stroke(
        self,
        state: EightBallState,
        shot: ShotFacts,
        fallen: tuple[str, ...],
        off: tuple[str, ...],
        fouls: list[str],
    ) -> tuple[EightBallState, Outcome]:
        player, other = shot.player or "", opponent(self._players, shot.player) or ""
        after = replace(
            state, on_table=state.on_table - set(fallen) - set(off), break_next=False, rerack_offered=False
        )
        on = self.balls_on_for(state, player)
        if EIGHT in fallen or EIGHT in off:
            lost = self._loss_by_the_eight(shot, on, off, fouls)
            if lost is not None:
                return after, _over(rival(self._players, player), lost, player)
            return after, replace(_over(player, "eight_potted", player), counted=(EIGHT,))
        if fouls:
            return after, Outcome(
                turn_ends=True, next_players=(other,), ball_in_hand_from=ANYWHERE, visit_end="foul"
            )
        deciding = self._deciding_ball(state, shot, fallen, on)
        if deciding is None:
            return after, Outcome(turn_ends=True, next_players=(other,), visit_end=_quiet_end(shot))
        group = state.groups.get(player) or group_of(deciding) or ""
        if not state.groups:
            remaining = next(name for name in GROUPS if name != group)
            after = replace(after, groups={p: group if p == player else remaining for p in self._players})
        counted = tuple(ball for ball in fallen if ball in GROUPS[group])
        return after, Outcome(counted=counted, next_players=(player,))

    def _deciding_ball(
        self, state: EightBallState, shot: ShotFacts, fallen: tuple[str, ...], on: tuple[str, ...]
    ) -> str | None:
        """The ball that keeps the turn: the called one in its pocket, or without calls any own one."""
        own = [ball for ball in fallen if ball in on and ball != EIGHT]
        if called_safety(shot):
            return None
        if not self._calls:
            first = shot.first_contact
            # Balls of both groups on an open table: the group of the ball hit first is taken.
            hit = [b for b in own if isinstance(first, str) and group_of(b) == group_of(first)]
            return next(iter(hit or own), None)
        called = shot.call_ball or next((p.ball for p in shot.potted if p.ball in own), None)
        return called if called in own and fell(shot, called) else None

    def _loss_by_the_eight(
        self, shot: ShotFacts, on: tuple[str, ...], off: tuple[str, ...], fouls: list[str]
    ) -> str | None:
        """1.8, loss of rack: the first reason that fits; None when the 8 was potted as it should be."""
        if EIGHT in off:
            return "eight_off_table"
        if on != (EIGHT,):
            return "eight_early"
        if fouls:
            return "eight_on_foul"
        if called_safety(shot):
            return "eight_wrong_pocket"
        # Where it was not called to another ball or pocket, the 8 is the obvious call.
        if self._calls and (shot.call_ball not in (None, EIGHT) or not fell(shot, EIGHT)):
            return "eight_wrong_pocket"
        return None


def _over(winner: str | None, ended_by: str, player: str) -> Outcome:
    return Outcome(
        turn_ends=True,
        rack_ends=True,
        winner=winner,
        ended_by=ended_by,
        visit_end="rack_won" if winner == player else "rack_lost",
    )


def _quiet_end(shot: ShotFacts) -> str:
    return "safety" if shot.intent == "safety" else "miss"
