"""Differences, means, quantiles and sums of chances with their 95 % intervals; sources at the functions."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ripasso.core.inference.intervals import Rate, rate

Floats = npt.NDArray[np.float64]
RESAMPLES, SEED = 2000, 0
#: Above so many values the bootstrap gives way to closed forms, and the Poisson-binomial to a normal one.
LARGE = 2000


@dataclass(frozen=True, slots=True)
class Difference:
    """A difference of two rates; None for all where one side is empty."""

    difference: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Mean:
    """A mean or a quantile of `of` values; of none the first three are None."""

    value: float | None
    low: float | None
    high: float | None
    of: int


def difference(first: Rate, second: Rate) -> Difference:
    """The difference of two rates with Newcombe's hybrid score interval (Newcombe 1998, method 10)."""
    if first.rate is None or second.rate is None:
        return Difference(None, None, None)
    assert first.low is not None and first.high is not None
    assert second.low is not None and second.high is not None
    gap = first.rate - second.rate
    down = math.hypot(first.rate - first.low, second.high - second.rate)
    up = math.hypot(first.high - first.rate, second.rate - second.low)
    return Difference(gap, gap - down, gap + up)


def mean(values: Sequence[float] | Floats) -> Mean:
    """The mean: bootstrap percentiles, above `LARGE` values Student's t."""
    array = np.asarray(values, dtype=np.float64)
    if len(array) > LARGE:
        from scipy.special import stdtrit

        half = float(stdtrit(len(array) - 1, 0.975)) * float(array.std(ddof=1)) / math.sqrt(len(array))
        middle = float(array.mean())
        return Mean(middle, middle - half, middle + half, len(array))
    return _bootstrap(array, lambda rows: rows.mean(axis=-1))


def quantile(values: Sequence[float] | Floats, share: float) -> Mean:
    """A quantile (linear): bootstrap percentiles, above `LARGE` values binomial order statistics."""
    array = np.asarray(values, dtype=np.float64)
    if len(array) > LARGE:
        ordered, count = np.sort(array), len(array)
        half = 1.959963984540054 * math.sqrt(count * share * (1 - share))
        low = max(0, math.floor(count * share - half) - 1)
        high = min(count - 1, math.ceil(count * share + half))
        return Mean(float(np.quantile(array, share)), float(ordered[low]), float(ordered[high]), count)
    return _bootstrap(array, lambda rows: np.quantile(rows, share, axis=-1))


def _bootstrap(array: Floats, of: Callable[[Floats], Floats]) -> Mean:
    """Percentile bootstrap (Efron 1979): 2,000 resamples, a new generator for each figure."""
    if not len(array):
        return Mean(None, None, None, 0)
    rows = np.random.default_rng(SEED).integers(0, len(array), (RESAMPLES, len(array)))
    low, high = np.percentile(of(array[rows]), [2.5, 97.5])
    return Mean(float(of(array)), float(low), float(high), len(array))


@dataclass(frozen=True, slots=True)
class Expected:
    """Successes beside the sum of their chances; `low` and `high` belong to `above`. Of none: None."""

    made: int
    of: int
    expected: float | None
    above: float | None
    low: float | None
    high: float | None


def expected(chances: Sequence[float] | Floats, made: int) -> Expected:
    """Made minus expected, with the interval of the Poisson-binomial distribution of the sum.

    `above` ranges from made − k(0.975) to made − k(0.025), k(q) the smallest count with cumulative
    probability at least q. Above `LARGE` attempts a normal approximation refined by the skewness
    (Cornish-Fisher, with half a count of continuity) gives k.
    """
    p = np.asarray(chances, dtype=np.float64)
    if not len(p):
        return Expected(made, 0, None, None, None, None)
    total = float(p.sum())
    if len(p) > LARGE:
        spread = math.sqrt(float((p * (1 - p)).sum()))
        skew = float((p * (1 - p) * (1 - 2 * p)).sum()) / spread**3 if spread else 0.0
        counts = []
        for z in (1.959963984540054, -1.959963984540054):
            at = total + spread * (z + skew * (z * z - 1) / 6)
            counts.append(math.ceil(at - 0.5))
        high_k, low_k = counts
    else:
        mass = np.ones(1)
        for one in p:
            mass = np.convolve(mass, (1 - one, one))
        cumulative = np.cumsum(mass)
        high_k, low_k = (int(np.searchsorted(cumulative, q - 1e-12)) for q in (0.975, 0.025))
    return Expected(made, len(p), total, made - total, float(made - high_k), float(made - low_k))


@dataclass(frozen=True, slots=True)
class AimSpread:
    """The aim's standard deviation that makes a record most likely, mrad; None where it is not known."""

    mrad: float | None
    low_mrad: float | None
    high_mrad: float | None
    made: int
    of: int


SPREADS_MRAD = (0.1, 100.0)
#: Chances are kept within these, so that one lapse on an easy ball does not decide.
KEPT = (0.005, 0.995)
LEAST_ATTEMPTS = 20
#: Many attempts are counted by tolerances in steps of this share; what lies outside these is as good as sure.
BIN, TOLERANCES_MRAD = 0.03, (0.01, 1000.0)
#: The 95 % point of chi-square with one degree of freedom: the deviance of the profile likelihood's ends.
DEVIANCE = 3.841


def aim_spread(left_mrad: Floats, right_mrad: Floats, made: npt.NDArray[np.bool_]) -> AimSpread:
    """Maximum likelihood over attempts with these tolerances to either side; 95 % by profile likelihood.

    Chance of each: Phi(right/s) + Phi(left/s) − 1. Needs 20 attempts with a miss and a success.
    """
    count, successes = len(made), int(made.sum())
    nothing = AimSpread(None, None, None, successes, count)
    if count < LEAST_ATTEMPTS or successes in (0, count):
        return nothing
    from scipy.optimize import brentq, minimize_scalar
    from scipy.special import ndtr

    left, right, downs, misses = _binned(left_mrad, right_mrad, made)

    def loss(log_s: float) -> float:
        s = math.exp(log_s)
        p = np.clip(ndtr(right / s) + ndtr(left / s) - 1, *KEPT)
        return float(-(downs * np.log(p) + misses * np.log1p(-p)).sum())

    low, high = (math.log(s) for s in SPREADS_MRAD)
    grid = np.linspace(low, high, 121)
    losses = np.array([loss(float(s)) for s in grid])
    place = int(losses.argmin())
    if place in (0, len(grid) - 1):
        return nothing
    found = minimize_scalar(
        loss,
        bounds=(float(grid[place - 1]), float(grid[place + 1])),
        method="bounded",
        options={"xatol": 1e-10},
    )
    best, least = float(found.x), float(found.fun)

    def over(log_s: float) -> float:
        return 2 * (loss(log_s) - least) - DEVIANCE

    def end(inside: float, outside: float) -> float | None:
        return float(math.exp(brentq(over, inside, outside, xtol=1e-12))) if over(outside) > 0 else None

    return AimSpread(math.exp(best), end(best, low), end(best, high), successes, count)


def _binned(
    left: Floats, right: Floats, made: npt.NDArray[np.bool_]
) -> tuple[Floats, Floats, Floats, Floats]:
    """Tolerances with how many attempts went in and not; above `LARGE` in steps of `BIN` of their size."""
    downs = made.astype(np.float64)
    if len(made) <= LARGE:
        return left, right, downs, 1 - downs
    steps = [
        np.round(np.log(np.clip(side, *TOLERANCES_MRAD)) / BIN).astype(np.int64) for side in (left, right)
    ]
    span = int(steps[1].max() - steps[1].min()) + 1
    cells, places = np.unique(
        (steps[0] - steps[0].min()) * span + steps[1] - steps[1].min(), return_inverse=True
    )
    low = [float(one.min()) for one in steps]
    made_of: Floats = np.bincount(places, weights=downs).astype(np.float64)
    all_of: Floats = np.bincount(places).astype(np.float64)
    one: Floats = np.exp(BIN * (cells // span + low[0]), dtype=np.float64)
    other: Floats = np.exp(BIN * (cells % span + low[1]), dtype=np.float64)
    return one, other, made_of, all_of - made_of


@dataclass(frozen=True, slots=True)
class RunsTest:
    """Whether successes come in streaks; `streaky` None where nothing can be said."""

    made: int
    of: int
    runs: int | None
    expected: float | None
    z: float | None
    p: float | None
    streaky: bool | None


def _runs(made: Sequence[bool] | npt.NDArray[np.bool_]) -> int:
    """How many rows of equal outcomes follow one another."""
    return 1 + int(np.count_nonzero(np.diff(np.asarray(made, dtype=np.bool_))))


def runs_test(made: Sequence[bool] | npt.NDArray[np.bool_]) -> RunsTest:
    """Wald and Wolfowitz (1940): runs against chance; normal, no continuity correction, two-sided."""
    count, successes = len(made), int(np.count_nonzero(made))
    failures = count - successes
    if not successes or not failures:
        return RunsTest(successes, count, None, None, None, None, None)
    runs = _runs(made)
    product = 2 * successes * failures
    middle = product / count + 1
    variance = product * (product - count) / (count * count * (count - 1))
    if variance <= 0:
        return RunsTest(successes, count, runs, middle, None, None, None)
    z = (runs - middle) / math.sqrt(variance)
    p = math.erfc(abs(z) / math.sqrt(2))
    return RunsTest(successes, count, runs, middle, z, p, p < 0.05 and runs < middle)


def fewer_runs_p(made: Sequence[bool] | npt.NDArray[np.bool_]) -> float | None:
    """How likely chance alone gives so few runs or fewer; None without both successes and failures.

    The exact distribution of the number of runs (Wald and Wolfowitz, 1940; Gibbons and Chakraborti,
    Nonparametric Statistical Inference, section 3.2): of n1 and n2, an even number of runs 2k has
    2 C(n1-1, k-1) C(n2-1, k-1) orders of C(n1+n2, n1), an odd one 2k+1 has
    C(n1-1, k) C(n2-1, k-1) + C(n1-1, k-1) C(n2-1, k).
    """
    one = int(np.count_nonzero(made))
    other = len(made) - one
    if not one or not other:
        return None
    from scipy.special import gammaln

    def log_choose(n: int, k: Floats) -> Floats:
        inside = (k >= 0) & (k <= n)
        safe = np.where(inside, k, 0)
        found = gammaln(n + 1) - gammaln(safe + 1) - gammaln(n - safe + 1)
        return np.where(inside, found, -np.inf)

    runs = _runs(made)
    counts = np.arange(2, runs + 1)
    half = (counts // 2).astype(np.float64)
    lower = (log_choose(one - 1, half - 1), log_choose(other - 1, half - 1))
    upper = (log_choose(one - 1, half), log_choose(other - 1, half))
    even = np.logaddexp(lower[0] + lower[1], lower[0] + lower[1])
    odd = np.logaddexp(upper[0] + lower[1], lower[0] + upper[1])
    logs = np.where(counts % 2 == 0, even, odd) - log_choose(one + other, np.array([float(one)]))
    return min(1.0, float(np.exp(logs).sum()))


def rate_of(flags: npt.NDArray[np.bool_]) -> Rate:
    """The rate of true among flags."""
    return rate(int(flags.sum()), len(flags))
