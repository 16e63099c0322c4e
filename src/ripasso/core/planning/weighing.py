"""What a choice and a stroke gave away: the best option, the one that was chosen, and what came of it.

A value is that of an option (`options.valued`): the chance of this pot and the next, and, weighed, what a
legal miss leaves. What went by the choice and by the stroke: `core.measures.given_away`. A verdict is for
people.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ripasso.core.geometry.layouts import PotBook
from ripasso.core.measures.given_away import Worth
from ripasso.core.physics.players import Spreads
from ripasso.core.planning.candidates import net_of, routes
from ripasso.core.planning.expected import SEED
from ripasso.core.planning.options import ROUTES, WEIGHT, Option, Search, searched
from ripasso.core.planning.problem import Problem
from ripasso.core.table.places import Place

#: A pot and the next one that are worth so much: a bank, a combination or a safety is hardly better.
ENOUGH = 0.7


@dataclass(frozen=True)
class Weighed:
    """The best option, the best stroke of the choice that was made (None: none was found), what came of it.

    `reached` is the value of the layout that the stroke left, None where that is not known.
    """

    best: Option
    chosen: Option | None
    reached: float | None


def worth_of(option: Option) -> Worth:
    """The value of an option with its interval."""
    found = option.value
    return Worth(found.value or 0.0, found.low or 0.0, found.high or 0.0)


def weigh(
    problem: Problem,
    meant: tuple[str, str] | None,
    reached: float | None,
    spreads: Spreads,
    *,
    weight: float = WEIGHT,
    seed: int = SEED,
    go_on: Callable[[], bool] = lambda: True,
) -> Weighed | None:
    """Weigh a choice: a ball and its pocket, None for a stroke that was meant to be safe.

    None where nothing legal was found or the work was stopped. Raises `ValueError` without a cue ball or a
    ball on.
    """
    stopped = False

    def progress(_share: float, _found: object) -> bool:
        nonlocal stopped
        stopped = stopped or not go_on()
        return not stopped

    enough = ENOUGH if meant is not None else math.inf
    search = searched(problem, spreads, weight=weight, seed=seed, enough=enough, progress=progress)
    if stopped or not search.found:
        return None
    if meant is not None and not _of(search, meant):
        # Not among what is likeliest: looked at by itself.
        for route in routes(net_of(problem, *meant, spreads), ROUTES):
            search.refine(route)
    chosen = max(_of(search, meant), key=lambda one: one.value.value or 0.0, default=None)
    return Weighed(search.shown[0], chosen, reached)


def _of(search: Search, meant: tuple[str, str] | None) -> list[Option]:
    if meant is None:
        return [one for one in search.found if one.pocket is None]
    return [one for one in search.found if (one.ball, one.pocket) == meant]


def value_reached(
    problem: Problem,
    after: Mapping[str, Place],
    *,
    fouled: bool,
    goes_on: bool,
    spreads: Spreads,
    weight: float = WEIGHT,
) -> float | None:
    """What a layout that was reached is worth to the striker, on the scale of an option's value.

    `goes_on`: the striker plays on, else the opponent does. None without a cue ball that was not fouled with.
    """
    if fouled:
        return 0.0
    fallen = [ball for ball in problem.layout if ball not in after and ball != "cue"]
    on = problem.after(fallen) if goes_on else problem.opponents(after)
    if goes_on and (not on or problem.wins(fallen)):
        return 1.0
    if "cue" not in after or not on:
        return None
    book = PotBook(problem.spec)
    question = book.ask(after["cue"], after, on)
    book.solve(spreads.aim_mrad / 1000)
    best = question.best()
    chance = best.chance if best is not None else 0.0
    return chance if goes_on else weight * (1 - chance)
