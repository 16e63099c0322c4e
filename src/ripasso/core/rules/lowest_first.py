"""The games in which the lowest ball must be hit first: what nine-ball, ten-ball and rotation share."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.rules.facts import RackFacts, ShotFacts
from ripasso.core.rules.interface import Outcome
from ripasso.core.rules.pool import (
    ANYWHERE,
    KITCHEN,
    in_ball_order,
    is_bad_break,
    opponent,
    option_number,
    rival,
    standard_fouls,
)

FOULS_THAT_LOSE = 3
#: The games that are so, by their keys.
LOWEST_FIRST = ("nine_ball", "ten_ball", "rotation")


@dataclass(frozen=True, slots=True)
class RackState:
    """Balls on the table, whether the break or a push-out may come next, fouls in a row, points so far."""

    on_table: frozenset[str]
    break_next: bool
    push_out_open: bool
    foul_count: Mapping[str, int]
    points: Mapping[str, int]


@dataclass(frozen=True, slots=True)
class Pots:
    """What a game makes of the balls that fell on one stroke."""

    counted: tuple[str, ...] = ()
    spotted: tuple[str, ...] = ()
    keeps_turn: bool = False
    #: The opponent may hand the table back.
    may_hand_back: bool = False
    won_by: str | None = None  # in the words of `ended_by`


class LowestFirst:
    """One stroke after another; a game says what the pots are worth (`_legal_pots`, `_lost_pots`)."""

    balls: tuple[str, ...] = ()
    one_long_game = False
    push_outs = True

    def __init__(self, players: tuple[str, ...], options: Mapping[str, object]) -> None:
        self._players = players
        self._options = options
        self._three_foul = bool(options.get("three_foul", True))
        self._kitchen = bool(options.get("kitchen_after_scratch_on_break", False))

    def race_to(self) -> int | None:
        return option_number(self._options, "race_to")

    def start(self, rack: RackFacts, before: RackState | None, score: Mapping[str, int]) -> RackState:
        """A full rack with the break to come, or the given layout without one."""
        balls = self.balls if rack.layout is None else tuple(b for b in rack.layout if b in self.balls)
        nothing = dict.fromkeys(self._players, 0)
        points = nothing | dict(rack.in_progress.points) if rack.in_progress is not None else nothing
        return RackState(frozenset(balls), rack.breaks, False, nothing, points)

    def on_table(self, state: RackState) -> frozenset[str]:
        return state.on_table

    def balls_on(self, state: RackState) -> tuple[str, ...]:
        """The lowest ball on the table, on the break too."""
        return next(((ball,) for ball in self.balls if ball in state.on_table), ())

    def may(self, state: RackState, player: str | None) -> tuple[str, ...]:
        """A push-out, on the stroke after a legal break."""
        return ("push_out",) if self.push_outs and state.push_out_open else ()

    def play(self, state: RackState, shot: ShotFacts) -> tuple[RackState, Outcome]:
        player = shot.player or ""
        warnings = [] if shot.recorded else ["no_facts"]
        push_out = self.push_outs and shot.intent == "push_out" and state.push_out_open
        if shot.intent == "push_out" and not push_out:
            warnings.append("push_out_not_allowed")
        if any(pot.ball not in state.on_table for pot in shot.potted):
            warnings.append("ball_not_on_table")
        fallen = in_ball_order((p.ball for p in shot.potted if p.ball in state.on_table), self.balls)
        fouls = self._fouls(state, shot, push_out)
        if fouls or push_out:
            pots = self._lost_pots(state, shot, fallen, push_out=push_out)
        else:
            pots = self._legal_pots(state, shot, fallen)
        count = self._counted_fouls(state, player, bool(fouls))
        points = self._points(player, pots.counted)
        gone = set(fallen) | {ball for ball in shot.off_table if ball in state.on_table}
        next_state = RackState(
            on_table=(state.on_table - gone) | set(pots.spotted),
            break_next=False,
            push_out_open=state.break_next and not fouls,
            foul_count=count,
            points={p: state.points[p] + points[p] for p in self._players},
        )
        outcome = self._turn(state, next_state, shot, pots, bool(fouls), push_out)
        return next_state, Outcome(
            fouls=tuple(fouls),
            points=points,
            counted=pots.counted,
            spotted=pots.spotted,
            warnings=tuple(warnings),
            foul_count=count if self._counts_fouls else None,
            **outcome,  # type: ignore[arg-type]
        )

    # What a game decides

    def _legal_pots(self, state: RackState, shot: ShotFacts, fallen: tuple[str, ...]) -> Pots:
        raise TypeError(f"{type(self).__name__} does not say what its pots are worth")

    def _lost_pots(
        self, state: RackState, shot: ShotFacts, fallen: tuple[str, ...], *, push_out: bool
    ) -> Pots:
        raise TypeError(f"{type(self).__name__} does not say what is spotted")

    def _points(self, player: str, counted: tuple[str, ...]) -> dict[str, int]:
        return dict.fromkeys(self._players, 0)

    def _rack_is_over(self, state: RackState, player: str) -> tuple[str | None, str] | None:
        """Who has won, and by what, when the balls or the points say so."""
        return None

    # The turn

    @property
    def _counts_fouls(self) -> bool:
        return self._three_foul

    def _fouls(self, state: RackState, shot: ShotFacts, push_out: bool) -> list[str]:
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

    def _counted_fouls(self, state: RackState, player: str, fouled: bool) -> dict[str, int]:
        return {**state.foul_count, player: state.foul_count.get(player, 0) + 1 if fouled else 0}

    def _turn(
        self, before: RackState, after: RackState, shot: ShotFacts, pots: Pots, fouled: bool, push_out: bool
    ) -> dict[str, object]:
        """Who goes on, or who has won: the part of the outcome that is about the turn."""
        player, other = shot.player or "", opponent(self._players, shot.player) or ""
        if pots.won_by is not None:
            return _rack_over(player, pots.won_by, player)
        if self._counts_fouls and after.foul_count[player] >= FOULS_THAT_LOSE:
            return _rack_over(rival(self._players, player), "three_fouls", player)
        over = self._rack_is_over(after, player)
        if over is not None:
            return _rack_over(over[0], over[1], player)
        if fouled:
            place = KITCHEN if before.break_next and self._kitchen else ANYWHERE
            return {
                "turn_ends": True,
                "next_players": (other,),
                "ball_in_hand_from": place,
                "visit_end": "foul",
            }
        if push_out:
            return {"turn_ends": True, "next_players": self._players, "visit_end": "push_out"}
        if pots.keeps_turn:
            return {"next_players": (player,)}
        return {
            "turn_ends": True,
            "next_players": self._players if pots.may_hand_back else (other,),
            "visit_end": "safety" if shot.intent == "safety" else "miss",
        }


def _rack_over(winner: str | None, ended_by: str, player: str) -> dict[str, object]:
    return {
        "turn_ends": True,
        "rack_ends": True,
        "winner": winner,
        "ended_by": ended_by,
        "visit_end": "rack_won" if winner == player else "rack_lost",
    }
