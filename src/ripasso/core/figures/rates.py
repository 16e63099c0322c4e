"""Rates by their names: which shots are counted among, and which of them count.

Each is defined here once and read by pages, questions, ready figures and the command line alike. To add one:
a function with `@rate_figure`; a name that is taken is refused.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from ripasso.core.figures.facts import Facts, Flags
from ripasso.core.inference.estimates import rate_of
from ripasso.core.inference.intervals import Rate
from ripasso.core.measures.errors import Thresholds

#: From this chance on a leave is a pot; below it there is hardly one.
OPEN_LEAVE = Thresholds().hardly


class Counted(NamedTuple):
    """The shots a rate is of, and those that count; the second matters only among the first."""

    among: Flags
    success: Flags

    @property
    def rate(self) -> Rate:
        """The rate with its interval."""
        return rate_of(self.success[self.among])


RateFigure = Callable[[Facts], Counted]
RATES: dict[str, RateFigure] = {}


def rate_figure(name: str) -> Callable[[RateFigure], RateFigure]:
    """Give a rate its name; raises ValueError for one that is taken."""

    def register(figure: RateFigure) -> RateFigure:
        if name in RATES:
            raise ValueError(f"there is a figure “{name}” already: {RATES[name].__qualname__}")
        RATES[name] = figure
        return figure

    return register


def _followed_safeties(facts: Facts) -> Flags:
    """Safeties with a next shot: the opponent's, unless after a foul."""
    followed = facts.flags("has_next") & (facts.flags("goes_to_other") | facts.flags("fouled"))
    return facts.equal("intent", "safety") & followed


@rate_figure("safeties held")
def safeties_held(facts: Facts) -> Counted:
    """Safeties after which nothing was potted on the next shot; a foul holds nothing."""
    return Counted(_followed_safeties(facts), ~facts.flags("fouled") & ~facts.flags("answered"))


@rate_figure("safeties with hardly a pot left")
def safeties_left_little(facts: Facts) -> Counted:
    """Safeties whose leave is known (or that were a foul), and those that left hardly a pot."""
    clean, leave = ~facts.flags("fouled"), facts.numbers("leave")
    known = ~np.isnan(leave) | ~clean
    with np.errstate(invalid="ignore"):
        return Counted(_followed_safeties(facts) & known, clean & (leave < OPEN_LEAVE))


@rate_figure("escapes hit")
def escapes_hit(facts: Facts) -> Counted:
    """Escapes without a foul."""
    return Counted(facts.equal("intent", "escape"), ~facts.flags("fouled"))


@rate_figure("escapes that left a pot")
def escapes_left_pot(facts: Facts) -> Counted:
    """Escapes that hit and were followed by the opponent, and those that left a pot."""
    leave = facts.numbers("leave")
    hit = escapes_hit(facts)
    seen = hit.among & hit.success & facts.flags("goes_to_other") & ~np.isnan(leave)
    with np.errstate(invalid="ignore"):
        return Counted(seen, leave >= OPEN_LEAVE)
