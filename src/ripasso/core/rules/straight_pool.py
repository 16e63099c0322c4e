"""Straight pool, 14.1 continuous (WPA World-Standardized Rules, part 4; sections cited from memory)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.rules.facts import RackFacts, ShotFacts
from ripasso.core.rules.interface import Outcome
from ripasso.core.rules.pool import (
    ALONE,
    KITCHEN,
    called_safety,
    cue_ball_gone,
    fell,
    in_ball_order,
    numbered,
    opponent,
    option_number,
    reached_cushions,
    standard_fouls,
)

DEFAULT_TARGET = 100
FOULS_THAT_COST = 3
THIRD_FOUL = 15
BAD_BREAK = 2
OPENING_CUSHIONS = 2  # object balls that the opening break must bring to a cushion


@dataclass(frozen=True, slots=True)
class StraightPoolState:
    """Balls on the table, points of the game so far, fouls in a row, whether an opening break is next."""

    on_table: frozenset[str]
    opening: bool
    rerack_offered: bool
    foul_count: Mapping[str, int]
    score: Mapping[str, int]


class StraightPool:
    """A point for each called ball and each that falls with it; the visit goes on from rack to rack."""

    balls = numbered(15)
    one_long_game = True

    def __init__(self, players: tuple[str, ...], options: Mapping[str, object]) -> None:
        self._players = players
        self._options = options
        self._three_foul = bool(options.get("three_foul", True))

    def race_to(self) -> int | None:
        return option_number(self._options, "target_points") or DEFAULT_TARGET

    def start(
        self, rack: RackFacts, before: StraightPoolState | None, score: Mapping[str, int]
    ) -> StraightPoolState:
        """Fifteen balls up: with an opening break at first and after three fouls, else play goes on."""
        balls = self.balls if rack.layout is None else tuple(b for b in rack.layout if b in self.balls)
        says_break = bool(rack.shots and rack.shots[0].intent == "break")
        opening = before is None if before is None else before.opening
        if (
            rack.layout is not None
            or rack.in_progress is not None
            or (before is None and any(score.values()))
        ):
            opening = False
        counts = before.foul_count if before else dict.fromkeys(self._players, 0)
        return StraightPoolState(frozenset(balls), opening or says_break, False, counts, dict(score))

    def on_table(self, state: StraightPoolState) -> frozenset[str]:
        return state.on_table

    def balls_on(self, state: StraightPoolState) -> tuple[str, ...]:
        """Every ball."""
        return in_ball_order(state.on_table, self.balls)

    def may(self, state: StraightPoolState, player: str | None) -> tuple[str, ...]:
        """A new rack, after an illegal opening break."""
        return ("rerack",) if state.rerack_offered else ()

    def play(self, state: StraightPoolState, shot: ShotFacts) -> tuple[StraightPoolState, Outcome]:
        rerack = state.rerack_offered and shot.intent == "break"
        if rerack:
            state = StraightPoolState(frozenset(self.balls), True, False, state.foul_count, state.score)
        warnings = [] if shot.recorded else ["no_facts"]
        if any(pot.ball not in state.on_table for pot in shot.potted):
            warnings.append("ball_not_on_table")
        fallen = in_ball_order((p.ball for p in shot.potted if p.ball in state.on_table), self.balls)
        off = in_ball_order((b for b in shot.off_table if b in state.on_table), self.balls)
        fouls = self._fouls(state, shot)
        called = self._called(state, shot)
        counted = fallen if not fouls and called in fallen and fell(shot, called) else ()
        spotted = in_ball_order((*off, *(() if counted else fallen)), self.balls)
        cost, count = self._penalty(state, shot.player or "", fouls)
        points = dict.fromkeys(self._players, 0)
        if shot.player in points:
            points[shot.player] = len(counted) - cost
        after = StraightPoolState(
            on_table=(state.on_table - set(fallen) - set(off)) | set(spotted),
            opening=False,
            rerack_offered="bad_break" in fouls,
            foul_count=count,
            score={p: state.score.get(p, 0) + points[p] for p in self._players},
        )
        after, turn = self._turn(after, shot, fouls, counted, cost)
        return after, Outcome(
            fouls=tuple(fouls),
            points=points,
            counted=counted,
            spotted=spotted,
            warnings=tuple(warnings),
            foul_count=after.foul_count if self._three_foul else None,
            rerack=rerack,
            **turn,  # type: ignore[arg-type]
        )

    def _called(self, state: StraightPoolState, shot: ShotFacts) -> str | None:
        """The called ball; a missing call is the first ball that fell, but not on an opening break."""
        if shot.call_ball is not None or state.opening or called_safety(shot):
            return shot.call_ball
        return next((p.ball for p in shot.potted if p.ball in state.on_table), None)

    def _fouls(self, state: StraightPoolState, shot: ShotFacts) -> list[str]:
        fouls = standard_fouls(shot, right_first=lambda _ball: True, is_break=state.opening)
        if state.opening:
            # 4.4: the called ball, or two object balls and the cue ball to a cushion.
            made = shot.call_ball is not None and fell(shot, shot.call_ball)
            driven = reached_cushions(shot, OPENING_CUSHIONS) and (shot.cue_to_cushion or cue_ball_gone(shot))
            if not made and not driven:
                fouls.append("bad_break")
        return fouls + list(shot.other_fouls)

    def _penalty(self, state: StraightPoolState, player: str, fouls: list[str]) -> tuple[int, dict[str, int]]:
        """What the fouls cost (4.11 to 4.13), and the fouls in a row afterwards."""
        count = dict(state.foul_count)
        if "bad_break" in fouls:
            return BAD_BREAK, count
        if not fouls:
            count[player] = 0
            return 0, count
        count[player] = count.get(player, 0) + 1
        if self._three_foul and count[player] >= FOULS_THAT_COST:
            return 1 + THIRD_FOUL, count
        return 1, count

    def _turn(
        self,
        after: StraightPoolState,
        shot: ShotFacts,
        fouls: list[str],
        counted: tuple[str, ...],
        cost: int,
    ) -> tuple[StraightPoolState, dict[str, object]]:
        player, other = shot.player or "", opponent(self._players, shot.player) or ""
        scratched = cue_ball_gone(shot)
        if cost > THIRD_FOUL:
            count = {**after.foul_count, player: 0}
            again = StraightPoolState(frozenset(self.balls), True, False, count, after.score)
            return again, {
                "turn_ends": True,
                "rack_ends": True,
                "ended_by": "three_fouls",
                "next_players": (player,),
                "ball_in_hand_from": KITCHEN,
                "visit_end": "foul",
            }
        if fouls:
            both = "bad_break" in fouls
            return after, {
                "turn_ends": True,
                "next_players": self._players if both else (other,),
                "ball_in_hand_from": KITCHEN if scratched else None,
                "visit_end": "foul",
            }
        target = self.race_to()
        if (
            counted
            and target is not None
            and not self._options.get(ALONE)
            and after.score.get(player, 0) >= target
        ):
            return after, {
                "turn_ends": True,
                "rack_ends": True,
                "winner": player,
                "ended_by": "target_reached",
                "visit_end": "rack_won",
            }
        if counted:
            over = len(after.on_table) <= 1
            ended_by = "reracked" if over else None
            return after, {"next_players": (player,), "rack_ends": over, "ended_by": ended_by}
        return after, {
            "turn_ends": True,
            "next_players": (other,),
            "visit_end": "safety" if shot.intent == "safety" else "miss",
        }
