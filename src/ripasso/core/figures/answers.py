"""Answers to questions about a player: a difference, a share, a lean, each with interval and test.

An answer is a finding when chance alone would give it less than once in twenty times. Questions are asked of
the facts of the player's own shots, in order.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from ripasso.core.figures.facts import Facts, Flags, Floats, Ints
from ripasso.core.figures.racks import PlacedRack
from ripasso.core.inference.estimates import Mean, aim_spread, difference, mean, rate_of
from ripasso.core.inference.intervals import Rate, rate

LEVEL = 0.05
#: Fewer shots than this on a side are not tested: the normal approximations are too bold there.
LEAST = 10
Z_975 = 1.959963984540054


@dataclass(frozen=True)
class Answer:
    """The value with its 95 % interval, what it is made of, how likely chance alone is, and the shots.

    `form` is `gap` and `even` (differences of rates; `even` at equal difficulty), `share` (of two answers
    that chance gives alike), `lean` (a mean that has no reason to be other than 0), `streaks` (runs fewer
    than by chance), `rate`, `mean` or `most` (plain: no test). `p` is two-sided; None where nothing is tested
    or too little is known.
    """

    form: str
    value: float | None
    low: float | None
    high: float | None
    p: float | None
    shots: Flags
    first: Rate | None = None
    second: Rate | None = None
    of: int = 0

    @property
    def is_finding(self) -> bool:
        """Chance alone hardly gives it; for one question, see `corrected` for several."""
        return self.p is not None and self.p < LEVEL


class Asked:
    """The facts of one player with the player's racks, and what several questions need of them.

    The racks' shots are places among more facts than the player's; `places` says where these stand there.
    """

    def __init__(self, facts: Facts, racks: Sequence[PlacedRack] = (), places: Ints | None = None) -> None:
        self.facts, self.racks = facts, racks
        self._places = np.arange(len(facts)) if places is None else places
        self.pots: Flags = (facts.equal("intent", "pot")) & facts.flags("tried")
        self.made = facts.flags("made")
        self._chances: npt.NDArray[np.float64] | None = None
        self._beyond: Beyond | None = None

    def own_places(self, shots: Sequence[int]) -> list[int]:
        """Where shots of racks stand among the player's own; those that are not the player's are left out."""
        order = np.argsort(self._places, kind="stable")
        at = np.searchsorted(self._places, shots, sorter=order)
        among = at < len(order)
        found = order[at[among]]
        own = self._places[found] == np.asarray(shots, dtype=np.int64)[among]
        return [int(place) for place in found[own]]

    @property
    def chances(self) -> npt.NDArray[np.float64]:
        """The chance of each pot at the player's own aim spread; NaN where the geometry is not known.

        With too few attempts for a spread of their own: at the level of the session.
        """
        if self._chances is None:
            from scipy.special import ndtr  # heavy; loaded where something is asked

            facts = self.facts
            among = self.pots & facts.flags("free")
            left, right = facts.numbers("left_mrad"), facts.numbers("right_mrad")
            spread = aim_spread(left[among], right[among], facts.flags("down")[among]).mrad
            chances = facts.numbers("chance")
            if spread is not None:
                chances = np.where(among, ndtr(right / spread) + ndtr(left / spread) - 1, np.nan)
            self._chances = np.where(among, chances, np.nan)
        return self._chances

    @property
    def beyond(self) -> Beyond:
        """What came of each pot whose chance is known beside that chance."""
        if self._beyond is None:
            p = np.clip(self.chances, 0.005, 0.995)
            self._beyond = Beyond(self.pots & ~np.isnan(p), self.facts.flags("down") - p, p * (1 - p))
        return self._beyond


class Beyond(NamedTuple):
    """Of each shot: whether its chance is known, success (0 or 1) less that chance, and its variance."""

    known: Flags
    excess: Floats
    variance: Floats


def gap(first: Flags, second: Flags, success: Flags) -> Answer:
    """The rate of success in one group less that in another; test: two proportions, pooled (normal)."""
    one, other = rate_of(success[first]), rate_of(success[second])
    found = difference(one, other)
    value, low, high = found.difference, found.low, found.high
    p = _two_rates(one, other) if min(one.of, other.of) >= LEAST else None
    return Answer("gap", value, low, high, p, first, one, other, one.of + other.of)


def _two_rates(one: Rate, other: Rate) -> float | None:
    pooled = (one.made + other.made) / (one.of + other.of)
    spread = math.sqrt(pooled * (1 - pooled) * (1 / one.of + 1 / other.of))
    if spread == 0 or one.rate is None or other.rate is None:
        return None
    return _two_sided((one.rate - other.rate) / spread)


def even_gap(asked: Asked, first: Flags, second: Flags) -> Answer:
    """How much more than its chances one group of pots gives, less the same of another: at equal difficulty.

    Normal approximation of the sum of unlike Bernoulli trials.
    """
    beyond = asked.beyond
    one, other = first & beyond.known, second & beyond.known
    rates = rate_of(asked.made[one]), rate_of(asked.made[other])
    if min(rates[0].of, rates[1].of) < LEAST:
        return Answer("even", None, None, None, None, one, *rates, int((one | other).sum()))
    means = [float(beyond.excess[group].mean()) for group in (one, other)]
    variances = [
        float(beyond.variance[group].sum()) / found.of**2
        for group, found in zip((one, other), rates, strict=True)
    ]
    value, spread = means[0] - means[1], math.sqrt(sum(variances))
    low, high = value - Z_975 * spread, value + Z_975 * spread
    p_value = _two_sided(value / spread) if spread > 0 else None
    return Answer("even", value, low, high, p_value, one, *rates, int((one | other).sum()))


def share(among: Flags, has: Flags, by_chance: float = 0.5) -> Answer:
    """A share beside what chance gives; test: one proportion (score), which Wilson's interval inverts."""
    found = rate(int((among & has).sum()), int(among.sum()))
    if found.rate is None or found.of < LEAST:
        return Answer("share", found.rate, found.low, found.high, None, among, found, None, found.of)
    spread = math.sqrt(by_chance * (1 - by_chance) / found.of)
    p = _two_sided((found.rate - by_chance) / spread)
    return Answer("share", found.rate, found.low, found.high, p, among, found, None, found.of)


def plain(among: Flags, has: Flags) -> Answer:
    """A rate with nothing to test it against."""
    found = rate(int((among & has).sum()), int(among.sum()))
    return Answer("rate", found.rate, found.low, found.high, None, among, found, None, found.of)


def lean(values: npt.NDArray[np.float64], among: Flags) -> Answer:
    """A mean beside 0; test: Student's t of one sample."""
    known = among & ~np.isnan(values)
    found = mean(values[known])
    return Answer("lean", found.value, found.low, found.high, _one_sample(values[known]), known, of=found.of)


def average(values: npt.NDArray[np.float64], among: Flags) -> Answer:
    """A mean with nothing to test it against."""
    known = among & ~np.isnan(values)
    found: Mean = mean(values[known])
    return Answer("mean", found.value, found.low, found.high, None, known, of=found.of)


def _one_sample(values: npt.NDArray[np.float64]) -> float | None:
    if len(values) < LEAST:
        return None
    spread = float(values.std(ddof=1)) / math.sqrt(len(values))
    if spread == 0:
        return None
    from scipy.special import stdtr

    return float(2 * stdtr(len(values) - 1, -abs(float(values.mean())) / spread))


def _two_sided(z: float) -> float:
    return math.erfc(abs(z) / math.sqrt(2))


def corrected(answers: Sequence[Answer]) -> list[bool]:
    """Which answers are findings still when all of them are asked: Benjamini and Hochberg (1995), 5 %.

    Their step-up procedure: with the tested answers by rising p, all up to the last one whose p is below its
    share (rank of so many) of the level are findings. SciPy has it in `scipy.stats`, which takes a second and
    60 MB to load.
    """
    tested = sorted((answer.p, i) for i, answer in enumerate(answers) if answer.p is not None)
    last = max(
        (rank for rank, (p, _) in enumerate(tested, start=1) if p < LEVEL * rank / len(tested)), default=0
    )
    holding = {i for _, i in tested[:last]}
    return [i in holding for i in range(len(answers))]
