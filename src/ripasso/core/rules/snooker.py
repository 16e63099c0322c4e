"""Snooker (World Professional Billiards and Snooker Association, Official Rules of the Game of Snooker,
section 3; sections cited from memory)."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from ripasso.core.rules.facts import MISSING, RackFacts, ShotFacts
from ripasso.core.rules.interface import Outcome, SnookerState
from ripasso.core.rules.pool import cue_ball_gone, in_ball_order, opponent, option_number

COLOURS = ("yellow", "green", "brown", "blue", "pink", "black")
VALUES: Mapping[str, int] = {name: value for value, name in enumerate(COLOURS, start=2)}
LEAST_FOUL, MOST_FOUL = 4, 7
RED_AND_BLACK = 8
THE_D = "d"
RED, COLOUR = "red", "colour"


def is_red(ball: str | None) -> bool:
    """Whether a ball is one of the reds."""
    return ball is not None and ball.startswith("red")


def value(ball: str) -> int:
    """What a ball scores: a red 1, the colours 2 to 7 (section 3.1); a name that is no ball nothing."""
    return 1 if is_red(ball) else VALUES.get(ball, 0)


@dataclass(frozen=True, slots=True)
class FrameState:
    """Balls on the table, what is on (red, colour, or a colour's name), the scores, and what came before.

    `before_foul` is the state a replaced shot goes back to; `fouler` the player whose foul it was.
    """

    on_table: frozenset[str]
    on: str | None
    score: Mapping[str, int]
    fouler: str | None = None
    before_foul: FrameState | None = None
    missed: bool = False
    respotted: bool = False


@dataclass(frozen=True, slots=True)
class _Stroke:
    """One stroke against what was on: which balls may be hit and potted, and what counts as a foul."""

    on_value: int
    first: frozenset[str]
    may_fall: frozenset[str]
    free: str | None
    nominated: str | None
    unnamed: bool


class Snooker:
    """Reds and colours in turn, then the colours in order; fouls score for the other player."""

    one_long_game = False

    def __init__(self, players: tuple[str, ...], options: Mapping[str, object]) -> None:
        self._players = players
        self._options = options
        reds = option_number(options, "reds") or 15
        self._reds = tuple(f"red{n}" for n in range(1, reds + 1))
        self.balls = (*self._reds, *COLOURS)

    def race_to(self) -> int | None:
        return option_number(self._options, "race_to")

    def start(self, rack: RackFacts, before: object, score: Mapping[str, int]) -> FrameState:
        """All balls up, or the given layout: a red on, without reds the lowest colour."""
        balls = self.balls if rack.layout is None else tuple(b for b in rack.layout if b in self.balls)
        table, score_now = frozenset(balls), dict.fromkeys(self._players, 0)
        going_on = rack.in_progress
        if going_on is None:
            return FrameState(table, _next_on(table), score_now)
        score_now.update(going_on.points)
        return FrameState(table, going_on.on or _next_on(table), score_now)

    def on_table(self, state: FrameState) -> frozenset[str]:
        return state.on_table

    def balls_on(self, state: FrameState) -> tuple[str, ...]:
        """All reds, or all colours that may be nominated, or the one colour."""
        if state.on == RED:
            return tuple(ball for ball in self._reds if ball in state.on_table)
        if state.on == COLOUR:
            return tuple(ball for ball in COLOURS if ball in state.on_table)
        return (state.on,) if state.on in state.on_table else ()

    def may(self, state: FrameState, player: str | None) -> tuple[str, ...]:
        """After a foul of the other a free ball; after the own called miss the balls put back."""
        if state.fouler is None:
            return ()
        if state.fouler != player:
            return ("free_ball",)
        return ("replaced",) if state.missed else ()

    def play(self, state: FrameState, shot: ShotFacts) -> tuple[FrameState, Outcome]:
        warnings = [] if shot.recorded else ["no_facts"]
        state, more = self._placed_back(state, shot)
        warnings += more
        if shot.free_ball and state.fouler in (None, shot.player):
            warnings.append("free_ball_not_allowed")
        stroke = self._stroke(state, shot)
        if stroke.unnamed:
            warnings.append("no_nomination")
        if any(pot.ball not in state.on_table for pot in shot.potted):
            warnings.append("ball_not_on_table")
        fallen = in_ball_order((p.ball for p in shot.potted if p.ball in state.on_table), self.balls)
        off = in_ball_order((b for b in shot.off_table if b in state.on_table), self.balls)
        fouls = self._fouls(stroke, shot, fallen, off)
        if fouls:
            after, outcome = self._foul(state, stroke, shot, fallen, off)
        else:
            after, outcome = self._legal(state, stroke, shot, fallen)
        after, outcome = self._end(state, after, shot, outcome, bool(fouls))
        return after, replace(
            outcome,
            fouls=tuple(fouls),
            warnings=tuple(warnings),
            snooker=self._standing(after, outcome.rack_ends, outcome.visit_end == "respotted_black"),
        )

    # Before the stroke

    def _placed_back(self, state: FrameState, shot: ShotFacts) -> tuple[FrameState, list[str]]:
        """3.14, foul and a miss: balls and ball on as before, the foul points stay.

        A record that tells no called miss is believed: the same ball is on, with a warning.
        """
        if not shot.replaced:
            return state, []
        warnings = [] if state.missed and state.before_foul is not None else ["replaced_without_miss"]
        if state.before_foul is None:
            return state, warnings
        return replace(state.before_foul, score=state.score, fouler=state.fouler), warnings

    def _stroke(self, state: FrameState, shot: ShotFacts) -> _Stroke:
        first = shot.first_contact if isinstance(shot.first_contact, str) else None
        on = set(self.balls_on(state))
        if shot.free_ball:
            # 3.12: the nominated ball stands for the ball on and takes its value.
            free = shot.call_ball or first
            on_value = 1 if state.on == RED else VALUES.get(state.on or "", LEAST_FOUL)
            named = {free} if free else set()
            return _Stroke(on_value, frozenset(named), frozenset(on | named), free, None, False)
        if state.on == COLOUR:
            nominated, unnamed = _nominated(shot)
            ball = frozenset({nominated} if nominated else ())
            return _Stroke(value(nominated) if nominated else 0, ball, ball, None, nominated, unnamed)
        on_value = 1 if state.on == RED else VALUES.get(state.on or "", 0)
        return _Stroke(on_value, frozenset(on), frozenset(on), None, None, False)

    def _fouls(
        self, stroke: _Stroke, shot: ShotFacts, fallen: tuple[str, ...], off: tuple[str, ...]
    ) -> list[str]:
        fouls = []
        if shot.cue_potted:
            fouls.append("in_off")
        if shot.first_contact is None:
            fouls.append("miss_all")
        elif isinstance(shot.first_contact, str) and shot.first_contact not in stroke.first:
            fouls.append("wrong_ball_first")
        if any(ball not in stroke.may_fall for ball in fallen):
            fouls.append("wrong_ball_potted")
        if off or "cue" in shot.off_table:
            fouls.append("ball_off_table")
        return fouls + list(shot.other_fouls)

    # After a foul

    def _foul(
        self,
        state: FrameState,
        stroke: _Stroke,
        shot: ShotFacts,
        fallen: tuple[str, ...],
        off: tuple[str, ...],
    ) -> tuple[FrameState, Outcome]:
        """3.9 and 3.10: pots score nothing, a red stays down, a colour is spotted; the other chooses."""
        player, other = shot.player or "", opponent(self._players, shot.player)
        spotted = in_ball_order((b for b in (*fallen, *off) if not is_red(b)), self.balls)
        table = (state.on_table - set(fallen) - set(off)) | set(spotted)
        points = dict.fromkeys(self._players, 0)
        if other is not None and other != player:
            points[other] = self._foul_value(stroke, shot, fallen, off)
        after = FrameState(
            on_table=table,
            on=_next_on(table),
            score=_added(state.score, points),
            fouler=player,
            before_foul=replace(state, before_foul=None),
            missed=shot.miss,
            respotted=state.respotted,
        )
        return after, Outcome(
            points=points,
            spotted=spotted,
            turn_ends=True,
            next_players=self._players,
            ball_in_hand_from=THE_D if cue_ball_gone(shot) else None,
            visit_end="foul",
        )

    def _foul_value(
        self, stroke: _Stroke, shot: ShotFacts, fallen: tuple[str, ...], off: tuple[str, ...]
    ) -> int:
        """3.11: the highest of 4, the ball on, the ball first hit, any wrong ball that fell or went off."""
        values = [LEAST_FOUL, stroke.on_value]
        first = shot.first_contact
        if isinstance(first, str):
            values.append(stroke.on_value if first == stroke.free else value(first))
        values += [value(ball) for ball in (*fallen, *off) if ball not in stroke.may_fall]
        values += [value(ball) for ball in off if ball != stroke.free]
        if stroke.unnamed or "not_nominated" in shot.other_fouls:
            values.append(MOST_FOUL)
        return max(values)

    # After a legal stroke

    def _legal(
        self, state: FrameState, stroke: _Stroke, shot: ShotFacts, fallen: tuple[str, ...]
    ) -> tuple[FrameState, Outcome]:
        player, other = shot.player or "", opponent(self._players, shot.player) or ""
        if not fallen:
            after = FrameState(
                state.on_table, _next_on(state.on_table), state.score, respotted=state.respotted
            )
            end = "safety" if shot.intent == "safety" else "miss"
            quiet = Outcome(
                points=dict.fromkeys(self._players, 0), turn_ends=True, next_players=(other,), visit_end=end
            )
            return after, quiet
        counted, scored, spotted = self._worth(state, stroke, fallen)
        table = (state.on_table - set(fallen)) | set(spotted)
        points = dict.fromkeys(self._players, 0)
        if player in points:
            points[player] = scored
        on = COLOUR if state.on == RED else _next_on(table)
        after = FrameState(table, on, _added(state.score, points), respotted=state.respotted)
        return after, Outcome(points=points, counted=counted, spotted=spotted, next_players=(player,))

    def _worth(
        self, state: FrameState, stroke: _Stroke, fallen: tuple[str, ...]
    ) -> tuple[tuple[str, ...], int, tuple[str, ...]]:
        """Which of the fallen balls count, what they score, and which come back."""
        free = stroke.free
        if state.on == RED:
            spotted = tuple(ball for ball in fallen if not is_red(ball))
            return fallen, len(fallen), spotted
        if state.on == COLOUR:
            return fallen, stroke.on_value, fallen
        if free is not None and free in fallen and free != state.on:
            if state.on in fallen:  # the ball on counts once, the free ball comes back
                return (state.on,) if state.on else (), stroke.on_value, (free,)
            return (free,), stroke.on_value, (free,)
        return fallen, stroke.on_value, ()

    # The end of the frame

    def _end(
        self, before: FrameState, after: FrameState, shot: ShotFacts, outcome: Outcome, fouled: bool
    ) -> tuple[FrameState, Outcome]:
        """4: with only the black left the next pot or foul ends the frame, unless the scores are level."""
        only_black = before.on_table == {"black"} and before.on == "black"
        if not only_black or not (fouled or outcome.counted):
            return after, outcome
        best = max(after.score.values(), default=0)
        leaders = [p for p in self._players if after.score.get(p) == best]
        if len(leaders) > 1:
            again = FrameState(frozenset({"black"}), "black", after.score, respotted=True)
            return again, replace(
                outcome,
                spotted=("black",),
                turn_ends=True,
                next_players=self._players,
                ball_in_hand_from=THE_D,
                visit_end="respotted_black",
            )
        winner = leaders[0] if leaders else None
        return replace(after, on=None), replace(
            outcome,
            turn_ends=True,
            rack_ends=True,
            next_players=(),
            ball_in_hand_from=None,
            winner=winner,
            ended_by="black_foul" if fouled else "black_potted",
            visit_end="rack_won" if winner == shot.player else "rack_lost",
        )

    def _standing(self, state: FrameState, over: bool, respotted: bool) -> SnookerState:
        """Points remaining, leads and snookers required after a stroke."""
        # There are only colours besides the reds, so they need not be looked at one by one.
        there = [worth for ball, worth in VALUES.items() if ball in state.on_table]
        reds, colours = len(state.on_table) - len(there), sum(there)
        remaining = RED_AND_BLACK * reds + colours + (MOST_FOUL if state.on == COLOUR else 0)
        lead: dict[str, int] = {}
        for player in self._players:
            other = opponent(self._players, player)
            others = state.score.get(other, 0) if other is not None and other != player else 0
            lead[player] = state.score.get(player, 0) - others
        return SnookerState(
            next_on=None if over else state.on,
            remaining_points=0 if over else remaining,
            lead=lead,
            snookers_required=self._snookers(state, 0 if over else remaining, lead),
            respotted_black=respotted or (state.respotted and not over),
        )

    def _snookers(self, state: FrameState, remaining: int, lead: Mapping[str, int]) -> int | None:
        """Fouls of the leader that the trailing player needs; 0 while a draw is still possible."""
        deficit = max(lead.values(), default=0)
        if deficit <= remaining:
            return 0
        if state.on_table == {"black"}:
            return None
        least = max(LEAST_FOUL, VALUES.get(state.on or "", 0))
        return math.ceil((deficit - remaining) / least)


def _next_on(table: frozenset[str]) -> str | None:
    """A red while there are reds, else the lowest colour."""
    colours = [ball for ball in COLOURS if ball in table]
    if len(colours) < len(table):
        return RED
    return colours[0] if colours else None


def _added(score: Mapping[str, int], points: Mapping[str, int]) -> dict[str, int]:
    return {player: score.get(player, 0) + points.get(player, 0) for player in score}


def _nominated(shot: ShotFacts) -> tuple[str | None, bool]:
    """The colour that a shot was at: called, else hit first, else fallen; and whether none can be told."""
    if shot.call_ball in COLOURS:
        return shot.call_ball, False
    if isinstance(shot.first_contact, str) and shot.first_contact in COLOURS:
        return shot.first_contact, False
    if shot.recorded and shot.first_contact is not MISSING:
        return None, True
    return next((pot.ball for pot in shot.potted if pot.ball in COLOURS), None), False
