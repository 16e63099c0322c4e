"""When an exercise comes back: a plain, stated rule of levels and gaps.

A set that passes lifts the exercise by one level, one that does not lowers it by two; the level says in how
many days it is due again. Skipping moves the date and leaves the level.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from ripasso.core.inference.intervals import rate

#: Days until an exercise is due again, by its level.
GAPS_DAYS = (1, 2, 4, 8, 16, 32, 64)
LAST_LEVEL = len(GAPS_DAYS) - 1
#: What a set that did not pass takes off the level.
FALL = 2
#: A share is reached when the lower end of this interval of the made share reaches it.
CONFIDENCE = 0.80


@dataclass(frozen=True, slots=True)
class Goal:
    """What a set is asked for: a `share` of successes, or `made` successes among `of` attempts in a row."""

    share: float | None = None
    made: int | None = None
    of: int | None = None


@dataclass(frozen=True, slots=True)
class Standing:
    """Where an exercise stands: its level (0 to 6) and the day on which it is due."""

    level: int
    due: date


def lower_end(outcomes: Sequence[bool | None]) -> float | None:
    """The lower end of the 80 % interval of the share of successes (Wilson 1927); None without any."""
    judged = [one for one in outcomes if one is not None]
    return rate(sum(judged), len(judged), CONFIDENCE).low


def passed(outcomes: Sequence[bool | None], goal: Goal) -> bool:
    """Whether a set reached its goal; attempts that nobody judged do not count.

    A goal with both is reached by either.
    """
    judged = [bool(one) for one in outcomes if one is not None]
    low = lower_end(outcomes)
    if goal.share is not None and low is not None and low >= goal.share:
        return True
    if goal.made is None:
        return False
    of = max(goal.of or goal.made, goal.made)
    return any(sum(judged[i : i + of]) >= goal.made for i in range(max(0, len(judged) - of) + 1))


def after_set(level: int, played: date, *, is_passed: bool) -> Standing:
    """Where an exercise stands after a set."""
    level = min(LAST_LEVEL, level + 1) if is_passed else max(0, level - FALL)
    return Standing(level, played + timedelta(days=GAPS_DAYS[level]))


def skipped(standing: Standing, today: date) -> Standing:
    """Not today: it is due tomorrow, on the same level."""
    return Standing(standing.level, max(standing.due, today) + timedelta(days=1))
