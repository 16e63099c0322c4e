"""What rolls say of a table: drift by its slope, and what side spin adds, in mm per metre with t intervals.

A level table lets a slow ball without side run straight. What rolls without side drift is the table; what
rolls with side drift besides, seen along the roll, is the spin.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.table.places import Place

#: Rolls shorter than this say nothing (m).
SHORTEST_M = 0.3
#: Standard gravity (m/s2), CODATA.
GRAVITY = 9.80665
#: A lag up and down the table, at rest at the foot of it: common words for the cloth by the rolling
#: deceleration as a share of gravity (common practice, no source).
CLOTH_WORDS = ((0.007, "fast"), (0.012, "medium"), (math.inf, "slow"))


@dataclass(frozen=True, slots=True)
class Roll:
    """A slow roll: where it was played, at what it was aimed, where it stopped; `spin` none, left, right."""

    start: Place
    aimed_at: Place
    stopped_at: Place
    spin: str = "none"


@dataclass(frozen=True, slots=True)
class Drift:
    """A mean drift in mm per metre of way, of so many rolls, with its 95 % t interval (None: under two)."""

    mm_per_m: float
    low: float | None
    high: float | None
    of: int

    @property
    def is_level(self) -> bool | None:
        """Nothing is told from level; None with too few rolls."""
        return None if self.low is None or self.high is None else self.low <= 0 <= self.high


@dataclass(frozen=True)
class LevelCheck:
    """The table's drift along its length (to the foot) and across it (to the left), by rolls without side.

    `by_spin` is what side adds, to the left of the roll's way, by its side.
    """

    along: Drift | None
    across: Drift | None
    by_spin: dict[str, Drift]


def drift_of(roll: Roll) -> tuple[tuple[float, float], float] | None:
    """The drift in the table frame, and that to the left of the way, in mm per metre; None: too short."""
    start, aim, stop = (
        np.asarray(place, dtype=np.float64) for place in (roll.start, roll.aimed_at, roll.stopped_at)
    )
    line = aim - start
    length = float(np.hypot(*line))
    if length == 0:
        return None
    line = line / length
    way = float((stop - start) @ line)
    if way < SHORTEST_M:
        return None
    left = np.array([-line[1], line[0]])
    off = 1000 * float((stop - start) @ left) / way
    return (float(off * left[0]), float(off * left[1])), off


def level_check(rolls: Iterable[Roll]) -> LevelCheck:
    """What rolls say. A roll along the table shows the drift across it, and the other way round."""
    along, across = list[float](), list[float]()
    sided: dict[str, list[float]] = {"left": [], "right": []}
    kept = [(roll, found) for roll in rolls if (found := drift_of(roll)) is not None]
    for roll, ((x, y), _) in kept:
        if roll.spin != "none":
            continue
        if _is_along(roll):
            across.append(y)
        else:
            along.append(x)
    table_x, table_y = _mean(along), _mean(across)
    for roll, (_, off) in kept:
        if roll.spin in sided:
            sided[roll.spin].append(off - _to_the_left(roll, table_x, table_y))
    by_spin = {side: drift for side, offs in sided.items() if (drift := mean_drift(offs)) is not None}
    return LevelCheck(mean_drift(along), mean_drift(across), by_spin)


def _is_along(roll: Roll) -> bool:
    dx, dy = (abs(b - a) for a, b in zip(roll.start, roll.aimed_at, strict=True))
    return dx >= dy


def _to_the_left(roll: Roll, x: float, y: float) -> float:
    """What the table's own drift is to the left of a roll's way."""
    dx, dy = (b - a for a, b in zip(roll.start, roll.aimed_at, strict=True))
    length = math.hypot(dx, dy)
    return (-dy * x + dx * y) / length


def _mean(values: Sequence[float]) -> float:
    return float(np.mean(values)) if values else 0.0


def mean_drift(values: Sequence[float]) -> Drift | None:
    """The mean with Student's t interval; None of nothing."""
    if not values:
        return None
    array = np.asarray(values)
    middle = float(array.mean())
    if len(array) < 2:
        return Drift(middle, None, None, 1)
    from scipy.special import stdtrit

    half = float(stdtrit(len(array) - 1, 0.975)) * float(array.std(ddof=1)) / math.sqrt(len(array))
    return Drift(middle, middle - half, middle + half, len(array))


def rolling_constant(distance: float, seconds: float) -> float:
    """The rolling deceleration as a share of gravity, of a ball that rolled so far (m) and stopped (s).

    s = a t² / 2 for a ball that slows down evenly until it stops, seen from its end.
    """
    if distance <= 0 or seconds <= 0:
        raise ValueError("A roll has a distance and a time.")
    return 2 * distance / seconds**2 / GRAVITY


def cloth_word(mu: float) -> str:
    """The cloth in a common word."""
    return next(word for most, word in CLOTH_WORDS if mu <= most)
