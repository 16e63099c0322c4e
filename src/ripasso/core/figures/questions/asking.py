"""What questions are put together from: which shots, less and more than a limit."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ripasso.core.figures.answers import Answer, Asked
from ripasso.core.figures.facts import Flags

Question = Callable[[Asked], Answer]


def texts(asked: Asked, name: str, values: tuple[str, ...]) -> Flags:
    """Shots that have one of the values."""
    return asked.facts.equal(name, *values)


def less(values: np.ndarray, limit: float) -> Flags:
    """Known and below the limit."""
    with np.errstate(invalid="ignore"):
        found: Flags = values < limit
    return found


def more(values: np.ndarray, limit: float) -> Flags:
    """Known, and the limit or above."""
    with np.errstate(invalid="ignore"):
        found: Flags = values >= limit
    return found


def words(asked: Asked, name: str, *wanted: str) -> Flags:
    """Shots that have one of the words in a column of several words each."""
    masks = asked.facts.words(name)
    found: Flags = np.zeros(len(asked.facts), dtype=np.bool_)
    for one in wanted:
        if one in masks:
            found |= masks[one]
    return found


def below_and_above(values: np.ndarray, among: Flags) -> tuple[Flags, Flags]:
    """Some shots in two halves, below their own median and at it or above; those not known are in neither."""
    known = among & ~np.isnan(values)
    middle = float(np.median(values[known])) if known.any() else 0.0
    return known & less(values, middle), known & more(values, middle)
