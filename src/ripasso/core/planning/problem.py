"""A table with balls and what is to be played on it: the question that every plan answers."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from ripasso.core.physics.bed import Bed, bed_of
from ripasso.core.physics.parameters import Physics, physics_of
from ripasso.core.rules.lowest_first import LOWEST_FIRST
from ripasso.core.rules.snooker import COLOURS
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place


@dataclass(frozen=True)
class Problem:
    """Balls on a table of a game; `on` are those that may be met first, `call` a ball and its pocket.

    Places are metres. Bed and constants belong to the table and are made with it.
    """

    game: str
    spec: TableSpec
    layout: Mapping[str, Place]
    on: tuple[str, ...]
    call: tuple[str, str] | None = None
    bed: Bed = field(default=None)  # type: ignore[assignment]
    physics: Physics = field(default=None)  # type: ignore[assignment]

    def __post_init__(self) -> None:
        if self.bed is None:
            object.__setattr__(self, "bed", bed_of(self.spec))
        if self.physics is None:
            object.__setattr__(self, "physics", physics_of(self.spec))

    @property
    def needs_cushion(self) -> bool:
        """A ball has to fall or to meet a cushion after the contact (not at snooker)."""
        return self.game != "snooker"

    @property
    def counting(self) -> tuple[str, ...]:
        """The balls that may be potted: where the lowest is met first any that falls keeps the table."""
        objects = tuple(ball for ball in self.layout if ball != "cue")
        return objects if self.game in LOWEST_FIRST else self.on

    def after(self, potted: Iterable[str]) -> tuple[str, ...]:
        """The balls on for the same player once balls have fallen."""
        gone = set(potted)
        left = [ball for ball in self.layout if ball not in gone]
        if self.game == "snooker":
            was_red = any(ball.startswith("red") for ball in gone)
            return tuple(b for b in left if b in COLOURS) if was_red else balls_on("snooker", left)
        if self.game == "eight_ball" and "8" not in self.on:
            own = tuple(ball for ball in self.on if ball not in gone)
            return own or tuple(ball for ball in left if ball == "8")
        return balls_on(self.game, left)

    def wins(self, potted: Iterable[str]) -> bool:
        """Whether the rack is won by balls that fell legally."""
        gone = set(potted)
        if self.game == "nine_ball":
            return "9" in gone
        last = {"ten_ball": "10", "eight_ball": "8"}.get(self.game)
        return last is not None and last in gone and last in self.on

    def opponents(self, layout: Mapping[str, Place]) -> tuple[str, ...]:
        """The balls on for the other player with a layout."""
        if self.game == "eight_ball" and "8" not in self.on:
            others = tuple(ball for ball in layout if ball not in self.on and ball not in ("cue", "8"))
            return others or tuple(ball for ball in layout if ball == "8")
        return balls_on(self.game, layout)

    def with_call(self, ball: str, pocket: str) -> Problem:
        """The same with another ball and pocket meant."""
        return replace(self, call=(ball, pocket))


def balls_on(game: str, balls: Iterable[str], group: str | None = None) -> tuple[str, ...]:
    """The balls on of a bare layout; `group` ("solids" or "stripes") is the player's at eight-ball."""
    objects = [ball for ball in balls if ball != "cue"]
    if game in LOWEST_FIRST:
        return tuple(sorted(objects, key=_number)[:1])
    if game == "snooker":
        reds = tuple(ball for ball in objects if ball.startswith("red"))
        return reds or tuple(ball for ball in COLOURS if ball in objects)[:1]
    if game == "eight_ball":
        others = [ball for ball in objects if ball != "8"]
        if group is not None:
            others = [ball for ball in others if (_number(ball) < 8) == (group == "solids")]
        return tuple(others) or tuple(ball for ball in objects if ball == "8")
    return tuple(objects)


def _number(ball: str) -> int:
    return int(ball) if ball.isdecimal() else 99
