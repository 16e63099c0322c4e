"""The interface every game fulfils, and what a stroke comes to."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol

from ripasso.core.rules.facts import RackFacts, ShotFacts


@dataclass(frozen=True, slots=True)
class SnookerState:
    """What a frame stands at after a stroke."""

    next_on: str | None
    remaining_points: int
    lead: Mapping[str, int]
    snookers_required: int | None
    respotted_black: bool


@dataclass(frozen=True, slots=True)
class Outcome:
    """What one stroke came to, in the words of the session format."""

    fouls: tuple[str, ...] = ()
    points: Mapping[str, int] = field(default_factory=dict)
    counted: tuple[str, ...] = ()
    spotted: tuple[str, ...] = ()
    turn_ends: bool = False
    next_players: tuple[str, ...] = ()
    ball_in_hand_from: str | None = None
    rack_ends: bool = False
    winner: str | None = None
    ended_by: str | None = None
    visit_end: str | None = None
    warnings: tuple[str, ...] = ()
    foul_count: Mapping[str, int] | None = None
    #: A new rack was taken in the place of this one: the visit before it is over.
    rerack: bool = False
    snooker: SnookerState | None = None

    @property
    def legal(self) -> bool:
        """No foul of any kind."""
        return not self.fouls


class Game(Protocol):
    """One game. Built with the players in order and the session's options."""

    def __init__(self, players: tuple[str, ...], options: Mapping[str, object]) -> None: ...

    #: The object balls of the game, in ball order.
    balls: tuple[str, ...]

    #: The match is counted in points, and the visit goes on into the next rack (straight pool).
    one_long_game: bool

    def race_to(self) -> int | None:
        """What wins the match: racks, or points; None when nothing was agreed."""
        ...

    def start(self, rack: RackFacts, before: Any, score: Mapping[str, int]) -> Any:
        """The state before the first stroke of a rack.

        `before` is the state that the rack before it ended in (None at first and after a gap), `score`
        the match's score at that moment.
        """
        ...

    def on_table(self, state: Any) -> frozenset[str]:
        """The object balls on the table."""
        ...

    def balls_on(self, state: Any) -> tuple[str, ...]:
        """The balls that may be hit first."""
        ...

    def may(self, state: Any, player: str | None) -> tuple[str, ...]:
        """What a player may choose besides a plain stroke: "push_out", "rerack", "free_ball", "replaced"."""
        ...

    def play(self, state: Any, shot: ShotFacts) -> tuple[Any, Outcome]:
        """The state after a stroke, and what it came to."""
        ...
