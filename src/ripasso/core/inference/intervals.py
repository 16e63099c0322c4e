"""Rates and counts with their 95 % intervals. A rate without its count and interval is never shown."""

from __future__ import annotations

import math
from dataclasses import dataclass
from statistics import NormalDist

CONFIDENCE = 0.95
# Standard normal quantile at 0.975; tables of the normal distribution give 1.959964.
Z_975 = 1.959963984540054
FEW = 5  # under so many shots a rate is shown grey and never ranked


@dataclass(frozen=True, slots=True)
class Rate:
    """`made` of `of`, with the Wilson interval; of nothing the last three are None."""

    made: int
    of: int
    rate: float | None
    low: float | None
    high: float | None

    @property
    def few(self) -> bool:
        """Too few to rank."""
        return self.of < FEW


@dataclass(frozen=True, slots=True)
class Count:
    """`count` events in `per` units, with the exact Poisson interval of the rate per unit."""

    count: int
    per: float
    rate: float | None
    low: float | None
    high: float | None


def rate(made: int, of: int, confidence: float = CONFIDENCE) -> Rate:
    """The share `made` of `of` with its Wilson score interval (Wilson 1927), 95 % unless asked otherwise.

    >>> r = rate(8, 10)
    >>> round(r.low, 4), round(r.high, 4)
    (0.4902, 0.9433)
    """
    if of == 0:
        return Rate(0, 0, None, None, None)
    if not 0 <= made <= of:
        raise ValueError(f"{made} of {of} is no rate")
    z = _normal_quantile(confidence)
    share, z2 = made / of, z**2
    centre = (share + z2 / (2 * of)) / (1 + z2 / of)
    half = z / (1 + z2 / of) * math.sqrt(share * (1 - share) / of + z2 / (4 * of * of))
    low = 0.0 if made == 0 else max(0.0, centre - half)
    high = 1.0 if made == of else min(1.0, centre + half)
    return Rate(made, of, share, low, high)


def _normal_quantile(confidence: float) -> float:
    """How many standard deviations a two-sided interval reaches to either side."""
    if confidence == CONFIDENCE:
        return Z_975
    return NormalDist().inv_cdf((1 + confidence) / 2)


def count_per(count: int, per: float) -> Count:
    """`count` events per unit, with the exact Poisson interval (Garwood 1936, chi-square form), 95 %.

    Of no units the last three are None.
    """
    if per <= 0:
        return Count(count, per, None, None, None)
    # scipy.special takes 0.1 s to load, and nothing but an interval needs it.
    from scipy.special import chdtri

    tail = (1 - CONFIDENCE) / 2
    low = 0.0 if count == 0 else float(chdtri(2 * count, 1 - tail)) / 2
    high = float(chdtri(2 * (count + 1), tail)) / 2
    return Count(count, per, count / per, low / per, high / per)
