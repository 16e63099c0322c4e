"""From ball to ball: how well one leads to the next, what opens clusters, which balls come last."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ripasso.core.physics.parameters import Array
from ripasso.core.planning.backward.orders import BREAK_PACE, Choice
from ripasso.core.planning.backward.solving import Pocketing, Rack, pocketings_of, values_of
from ripasso.core.table import POCKETS, pocket_mouth_middle

#: A link of this chance and more is easy, one below `HARD` is hard (common practice, no source).
EASY, HARD = 0.85, 0.6
#: A way opens a cluster that is made so often at least and meets one of its balls.
SURE = 0.6
#: More often than not.
EVEN = 0.5
#: The places from which a link is judged: the best share of those from which the first ball goes.
BEST_PLACES = 0.25


@dataclass(frozen=True)
class Link:
    """From a good place for the first ball: the chance to pot it and then the second one."""

    first: str
    then: str
    chance: float

    @property
    def kind(self) -> str:
        """Easy, fair or hard."""
        if self.chance >= EASY:
            return "easy"
        return "hard" if self.chance < HARD else "fair"


@dataclass(frozen=True)
class Opening:
    """A pot whose cue ball runs into a cluster: the share of the places from which it can be played so.

    `cut_deg` are the cuts between which four of five of these places lie, without sign.
    """

    ball: str
    pocket: str
    places: float
    cut_deg: tuple[float, float]


@dataclass(frozen=True)
class BreakBall:
    """At straight pool: the chance to pot a ball and open the next rack off it, and what leads to it best."""

    ball: str
    chance: float
    key_ball: str | None
    key_chance: float


class Links:
    """Answers about pairs of balls of one rack; what was asked is kept."""

    def __init__(self, rack: Rack) -> None:
        self._rack = rack
        self._last: dict[str, Array] = {}
        self._state = rack.order.start

    def _pocketings(self, ball: str) -> list[Pocketing]:
        if ball not in self._rack.pocketings:
            self._rack.pocketings[ball] = pocketings_of(self._rack, ball, self._rack.net.places)
        return self._rack.pocketings[ball]

    def _values(self, ball: str, after: Array, gone: str | None = None, *, opens: bool = False) -> Array:
        """The best of a ball from each place, with what follows; `opens`: into the next rack."""
        rack = self._rack
        standing = self._state[0] & ~(rack.order.bit(gone) if gone is not None else 0)
        choice = Choice(ball, None, rack.order.rack_bit, BREAK_PACE) if opens else Choice(ball, None)
        best = np.zeros(len(rack.net.places))
        for pocketing in self._pocketings(ball):
            found = values_of(rack, (standing, 0), choice, pocketing, after)
            best = np.maximum(best, found.max(axis=1))
        return best

    def alone(self, ball: str, gone: str | None = None) -> Array:
        """The chance to pot a ball from each place of the net."""
        key = f"{ball} {gone}"
        if key not in self._last:
            self._last[key] = self._values(ball, np.ones(len(self._rack.net.places)), gone)
        return self._last[key]

    def link(self, first: str, then: str) -> Link:
        """How well one ball leads to another."""
        return Link(first, then, self._from_good_places(first, self.alone(then, gone=first)))

    def _from_good_places(self, first: str, after: Array) -> float:
        own = self.alone(first)
        led = self._values(first, after)
        good = own >= 0.9 * own.max(initial=0.0)
        some = np.sort(led[good & (own > 0)])[::-1]
        return float(some[: max(1, int(BEST_PLACES * len(some)))].mean()) if len(some) else 0.0

    def openings(self, cluster: tuple[str, ...]) -> list[Opening]:
        """Pots that run the cue ball into a cluster, those that can be played from most places first."""
        rack, found = self._rack, []
        bits = sum(rack.order.bit(ball) for ball in cluster)
        for ball in rack.order.balls:
            if ball in cluster:
                continue
            for pocketing in self._pocketings(ball):
                ways = pocketing.ways
                opens = ((ways.met & bits) != 0) & (ways.weight > 0)
                sure = (ways.weight * opens).sum(axis=2) >= SURE
                stands = (ways.approach & self._state[0] & ~rack.order.bit(ball)) == 0
                played = sure.any(axis=1) & stands
                if played.any() and pocketing.left_open(self._state[0] & ~rack.order.bit(ball)) > 0.5:
                    cuts = self._cuts(ball, ways.pocket, rack.net.places[played])
                    found.append(Opening(ball, POCKETS[ways.pocket], float(played.mean()), cuts))
        return sorted(found, key=lambda one: -one.places)

    def _cuts(self, ball: str, pocket: int, places: Array) -> tuple[float, float]:
        """Between which cuts (degrees, without sign) four of five pots from these places (k, 2) are."""
        spec, lies = self._rack.setting.spec, np.array(self._rack.problem.layout[ball])
        way = np.array(pocket_mouth_middle(spec, POCKETS[pocket])) - lies
        line = way / np.hypot(*way)
        aims = lies - 2 * spec.ball_radius * line - places
        cosine = np.clip(aims @ line / np.maximum(np.hypot(*aims.T), 1e-9), -1, 1)
        low, high = np.percentile(np.degrees(np.arccos(cosine)), [10, 90])
        return float(low), float(high)

    def break_ball(self, ball: str, others: tuple[str, ...]) -> BreakBall:
        """A ball as the break ball, with the best of the others before it."""
        after = self._values(ball, np.ones(len(self._rack.net.places)), opens=True)
        chance = float(after.max(initial=0.0))
        keys = [(self._from_good_places(other, after), other) for other in others if other != ball]
        best, key = max(keys, default=(0.0, None))
        return BreakBall(ball, chance, key if best > 0 else None, best)

    def break_places(self, ball: str) -> float:
        """The share of places from which a ball is potted and the next rack opened, more often than not."""
        found = self._values(ball, np.ones(len(self._rack.net.places)), opens=True)
        return float((found > EVEN).mean())
