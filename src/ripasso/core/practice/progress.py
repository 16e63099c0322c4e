"""Whether practice changed anything: trends, before and after, and how many more attempts it takes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.inference.estimates import Difference, difference
from ripasso.core.inference.intervals import Rate, rate

#: "Better" is said where this interval of the difference lies above nothing: wrongly in less than one of
#: twenty comparisons in which nothing changed, with what the grain of counts adds.
CONFIDENCE = 0.91
Z_95, Z_80 = 1.6448536269514722, 0.8416212335729143
Z_975 = 1.959963984540054
#: A difference of so much should be seen, in four of five cases.
WANTED = 0.10
#: With fewer attempts, or where all or none succeeded, no trend is told.
LEAST = 8
STEPS, SMALL = 50, 1e-10


@dataclass(frozen=True, slots=True)
class Trend:
    """How the odds of a success change over 30 days, as a ratio with its 95 % interval; None: not told.

    `start` and `end` are the chances on the first and on the last day.
    """

    ratio: float | None
    low: float | None
    high: float | None
    start: float | None
    end: float | None


def trend(days: Sequence[float], made: Sequence[bool]) -> Trend:
    """A logistic regression of success on the day, by Newton's method, with Wald's interval.

    Source: McCullagh and Nelder, Generalized Linear Models, 1989, chapter 4.
    """
    x, y = np.asarray(days, dtype=np.float64), np.asarray(made, dtype=np.float64)
    if len(y) < LEAST or y.min() == y.max() or np.ptp(x) == 0:
        return Trend(None, None, None, None, None)
    scaled = (x - x.mean()) / 30
    design = np.stack((np.ones_like(scaled), scaled), axis=1)
    beta = np.zeros(2)
    information = np.eye(2)
    for _ in range(STEPS):
        chance = 1 / (1 + np.exp(-np.clip(design @ beta, -30, 30)))
        information = (design * (chance * (1 - chance))[:, None]).T @ design
        if np.linalg.det(information) < SMALL:
            return Trend(None, None, None, None, None)  # the days part successes from failures
        step = np.linalg.solve(information, design.T @ (y - chance))
        beta = beta + step
        if np.abs(step).max() < SMALL:
            break
    half = Z_975 * math.sqrt(np.linalg.inv(information)[1, 1])
    ends = [_logistic(beta[0] + beta[1] * scaled[place]) for place in (np.argmin(x), np.argmax(x))]
    low, middle, high = (_power(beta[1] + by) for by in (-half, 0.0, half))
    return Trend(middle, low, high, ends[0], ends[1])


def _logistic(value: float) -> float:
    return 1 / (1 + math.exp(-value))


def _power(value: float) -> float:
    return math.exp(min(value, 700.0))


@dataclass(frozen=True, slots=True)
class Change:
    """The same slice before and after; `verdict` is better, worse or none (not to be told from chance)."""

    before: Rate
    after: Rate
    gap: Difference
    verdict: str


def change(before: tuple[int, int], after: tuple[int, int]) -> Change:
    """Compare made of attempts before and after, by the 91 % interval of their difference (Newcombe 1998)."""
    first, second = rate(*before, CONFIDENCE), rate(*after, CONFIDENCE)
    gap = difference(second, first)
    verdict = "none"
    if gap.low is not None and gap.low > 0:
        verdict = "better"
    elif gap.high is not None and gap.high < 0:
        verdict = "worse"
    return Change(first, second, gap, verdict)


def attempts_to_see(share: float, by: float = WANTED) -> int:
    """How many attempts on each side it takes until a difference of `by` is seen in four of five cases.

    The usual formula for two proportions (Fleiss, Statistical Methods for Rates and Proportions, chapter 4),
    one-sided at 5 %.
    """
    other = share + by if share + by <= 1 else share - by
    spread = share * (1 - share) + other * (1 - other)
    return math.ceil((Z_95 + Z_80) ** 2 * spread / by**2)
