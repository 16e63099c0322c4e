"""Pots in layouts of named balls, asked for one by one and computed all at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np

from ripasso.core.geometry.plane import Array
from ripasso.core.geometry.pots import Pots, chances, pots
from ripasso.core.table import POCKETS, TableSpec
from ripasso.core.table.places import Layout, Place

#: Pots computed together: large enough to be quick, small enough for the cache of the processor.
BATCH = 4096


@dataclass(frozen=True)
class Pot:
    """One computed pot: a ball into a pocket, where it stands among all, and its chance (NaN: touching)."""

    ball: str
    pocket: str
    index: int
    chance: float


class Question:
    """The pots of some balls of a layout into some pockets; readable once its book is solved."""

    def __init__(
        self, book: PotBook, first: int, balls: Sequence[str], pockets: Sequence[str], others: tuple[str, ...]
    ) -> None:
        self._book, self._first = book, first
        self.balls, self.pockets = tuple(balls), tuple(pockets)
        #: The names of all balls of the layout but the cue ball, in the order of the blockers' columns.
        self.others = others
        self._pots: list[Pot] | None = None

    def pots(self) -> list[Pot]:
        """All of them, ball by ball."""
        if self._pots is None:
            self._pots = self._read()
        return self._pots

    def _read(self) -> list[Pot]:
        names = [(ball, pocket) for ball in self.balls for pocket in self.pockets]
        chance = self._book.chances
        return [
            Pot(ball, pocket, self._first + i, float(chance[self._first + i]))
            for i, (ball, pocket) in enumerate(names)
        ]

    def best(self, ball: str | None = None) -> Pot | None:
        """The pot of the highest chance (of one ball); None when every chance is 0."""
        mine = [pot for pot in self.pots() if (ball is None or pot.ball == ball) and pot.chance > 0]
        # max() keeps the first of equal ones: balls and pockets are in their order of search.
        return max(mine, key=lambda pot: pot.chance, default=None)

    def likeliest(self, ball: str) -> Pot | None:
        """The pot of a ball with the highest chance, or where there is none with the widest window."""
        mine = [pot for pot in self.pots() if pot.ball == ball]
        windows = self._book.found.window
        return self.best(ball) or max(mine, key=lambda pot: windows[pot.index], default=None)

    def pot(self, ball: str, pocket: str) -> Pot | None:
        """One of them."""
        return next((p for p in self.pots() if p.ball == ball and p.pocket == pocket), None)


class PotBook:
    """Collects questions; `solve` answers them all."""

    def __init__(self, spec: TableSpec) -> None:
        self._spec = spec
        self._cue: list[Place] = []
        self._ball: list[Place] = []
        self._pocket: list[int] = []
        self._others: list[tuple[Place, ...]] = []
        self._own: list[int] = []
        self.found: Pots
        self.chances: Array

    def ask(
        self, cue: Place, layout: Layout, balls: Sequence[str], pockets: Sequence[str] = POCKETS
    ) -> Question:
        """The pots of `balls` (those that are in the layout) with the cue ball at a place."""
        others = tuple(name for name in layout if name != "cue")
        places = tuple(layout[name] for name in others)
        present = [ball for ball in balls if ball in layout and ball != "cue"]
        question = Question(self, len(self._cue), present, pockets, others)
        for ball in present:
            own = others.index(ball)
            for pocket in pockets:
                self._cue.append(cue)
                self._ball.append(places[own])
                self._pocket.append(POCKETS.index(pocket))
                self._others.append(places)
                self._own.append(own)
        return question

    def solve(self, spread: float) -> None:
        """Compute every pot asked for; `spread` is the aim's standard deviation in radians."""
        total = len(self._cue)
        widest = max((len(places) for places in self._others), default=0)
        others = np.full((total, widest, 2), np.nan)
        for row, places in enumerate(self._others):
            others[row, : len(places)] = places
        own = np.array(self._own, dtype=np.int64)
        others[np.arange(total), own] = np.nan  # a ball does not stand in its own way
        cue, ball = np.array(self._cue).reshape(-1, 2), np.array(self._ball).reshape(-1, 2)
        pocket = np.array(self._pocket, dtype=np.int64)
        parts = [
            pots(
                self._spec,
                cue[i : i + BATCH],
                ball[i : i + BATCH],
                pocket[i : i + BATCH],
                others[i : i + BATCH],
            )
            for i in range(0, max(1, total), BATCH)
        ]
        joined = {f.name: np.concatenate([getattr(part, f.name) for part in parts]) for f in fields(Pots)}
        self.found = Pots(**joined)
        self.chances = chances(self.found, spread)
