"""What the record says happened, as plain frozen values: the input of every rule engine."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import Enum
from typing import Final, Literal


class Missing(Enum):
    """The mark of a fact that nobody recorded, apart from one recorded as "nothing"."""

    MISSING = "missing"


MISSING: Final = Missing.MISSING


@dataclass(frozen=True, slots=True)
class Pot:
    """A ball that fell, and where (None: the pocket was not recorded)."""

    ball: str
    pocket: str | None = None


@dataclass(frozen=True, slots=True)
class ShotFacts:
    """One stroke as recorded. A missing fact never makes a foul."""

    player: str | None
    intent: str | None = None
    call_ball: str | None = None
    call_pocket: str | None = None
    recorded: bool = True
    first_contact: str | Literal[Missing.MISSING] | None = MISSING
    potted: tuple[Pot, ...] = ()
    cue_potted: bool = False
    off_table: tuple[str, ...] = ()
    cushion_after_contact: bool = True
    balls_to_cushion: int | None = None
    other_fouls: tuple[str, ...] = ()
    cue_to_cushion: bool = True
    free_ball: bool = False
    replaced: bool = False
    miss: bool = False


@dataclass(frozen=True, slots=True)
class InProgress:
    """How a rack stood that the film begins in: points of each player, and the visit that is going on.

    `run` is what that visit of `player` has made so far: balls, points where the game counts them. `on` is
    "red" or "colour" in snooker; `groups` are "low" or "high" by player in eight-ball.
    """

    points: Mapping[str, int] = field(default_factory=dict)
    player: str | None = None
    run: int = 0
    on: str | None = None
    groups: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class RackFacts:
    """One rack as recorded. `layout` names the balls it starts with (None: a full rack)."""

    shots: tuple[ShotFacts, ...] = ()
    breaker: str | None = None
    layout: tuple[str, ...] | None = None
    in_progress: InProgress | None = None
    score_before: Mapping[str, int] | None = None
    not_shown: bool = False
    conceded_by: str | None = None

    @property
    def breaks(self) -> bool:
        """It begins with its break: one from a layout, or in progress, only when its first shot says so."""
        if self.shots and self.shots[0].intent == "break":
            return True
        return self.layout is None and self.in_progress is None


@dataclass(frozen=True, slots=True)
class SessionFacts:
    """A session as the rules see it: who plays, by which options, and the racks in order.

    `players` are people; `ghost` is the id of the ghost that a single player races. Without `has_visits` its
    shots are set-ups that are played again, and make no visit.
    """

    game: str | None
    players: tuple[str, ...]
    racks: tuple[RackFacts, ...] = ()
    rules: Mapping[str, object] = field(default_factory=dict)
    ghost: str | None = None
    has_visits: bool = True
