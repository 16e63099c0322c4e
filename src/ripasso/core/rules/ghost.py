"""The ghost race: one player breaks every rack, takes ball in hand, and must clear it by the game's rules.

Common practice, no published source: the first stroke that ends the turn gives the rack to the ghost.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from ripasso.core.rules.facts import RackFacts, ShotFacts
from ripasso.core.rules.interface import Game, Outcome
from ripasso.core.rules.pool import ANYWHERE

#: Losses by the 8 keep their name; every other end of the turn is a miss or a foul.
KEPT_NAMES = ("eight_off_table", "eight_early", "eight_on_foul", "eight_wrong_pocket")


@dataclass(frozen=True, slots=True)
class GhostState:
    """The game's own state, and whether the break is still to come."""

    inner: Any
    break_next: bool


class GhostRace:
    """Wraps a game: its judgement of a stroke, but another turn and another end."""

    one_long_game = False

    def __init__(self, inner: Game, player: str, ghost: str, options: Mapping[str, object]) -> None:
        self._inner, self._player, self._ghost = inner, player, ghost
        self._any_break = options.get("ghost_break", "keep") == "any"
        self.balls = inner.balls

    def race_to(self) -> int | None:
        return self._inner.race_to()

    def start(self, rack: RackFacts, before: object, score: Mapping[str, int]) -> GhostState:
        inner = self._inner.start(rack, None, score)
        return GhostState(inner, rack.layout is None and rack.in_progress is None)

    def on_table(self, state: GhostState) -> frozenset[str]:
        return self._inner.on_table(state.inner)

    def balls_on(self, state: GhostState) -> tuple[str, ...]:
        return self._inner.balls_on(state.inner)

    def balls_on_for(self, state: GhostState, player: str | None) -> tuple[str, ...]:
        """The balls that are on for the one player."""
        return balls_on_for(self._inner, state.inner, player)

    def may(self, state: GhostState, player: str | None) -> tuple[str, ...]:
        """Nothing: a ghost race has no push-out, and its breaks are not offered again."""
        return ()

    def play(self, state: GhostState, shot: ShotFacts) -> tuple[GhostState, Outcome]:
        pushed = shot.intent == "push_out"  # there is none in a ghost race
        inner, outcome = self._inner.play(state.inner, replace(shot, intent=None) if pushed else shot)
        if pushed:
            outcome = replace(outcome, warnings=(*outcome.warnings, "push_out_not_allowed"))
        after = GhostState(inner, False)
        outcome = replace(outcome, foul_count=None)
        if outcome.visit_end == "rack_won":
            return after, outcome
        if state.break_next and (outcome.legal or self._any_break):
            return after, self._after_break(outcome)
        if not outcome.turn_ends:
            return after, outcome
        kept = outcome.ended_by if outcome.ended_by in KEPT_NAMES else None
        return after, replace(
            outcome,
            turn_ends=True,
            next_players=(),
            ball_in_hand_from=None,
            rack_ends=True,
            winner=self._ghost,
            ended_by=kept or ("missed" if outcome.legal else "foul"),
            visit_end="miss" if outcome.legal else "foul",
        )

    def _after_break(self, outcome: Outcome) -> Outcome:
        """Ball in hand whatever fell; a foul costs nothing where that is agreed, its pots do not count."""
        return replace(
            outcome,
            turn_ends=False,
            rack_ends=False,
            winner=None,
            ended_by=None,
            visit_end=None,
            next_players=(self._player,),
            ball_in_hand_from=ANYWHERE,
        )


def balls_on_for(game: Game, state: Any, player: str | None) -> tuple[str, ...]:
    """The balls that a player may hit first: his own where the game knows groups."""
    own = getattr(game, "balls_on_for", None)
    return own(state, player) if own is not None else game.balls_on(state)
