"""Names for the things on a table: each ball of the game at most once, by all that was seen of each thing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ripasso.film.reading.detection.colours import Look, Palette
from ripasso.film.reading.detection.scene import Thing

#: Looks that are kept of a thing; each further one replaces the oldest.
MOST_LOOKS = 12
#: A look unlike its kind by more than this says no more than that it is unlike.
MOST_COST = 12.0
#: A ball of which too little is seen may be any.
UNSEEN_COST = 6.0
#: What being seen to move first counts for the name of the cue ball, each time and at most so often.
STRUCK, OFTEN = 2.0, 3
#: How colourful films show paint that is looked for, the least first, and of how many things this is told.
FADES, LEAST_SEEN = (0.6, 0.7, 0.8, 0.9, 1.0), 5
#: How much better than the next name a name must fit to be sure, and the surest that colours alone can be.
SURE_BY, SUREST = 3.0, 0.99


#: What it costs a name, each time and at most, that a higher ball was met first while it lay on the table.
NOT_LOWEST, MOST_OF_LOWEST = 0.8, 3.0

#: A ball that was met first, and those that lay there besides.
Met = tuple[int, frozenset[int]]


@dataclass(frozen=True)
class Named:
    """The ball a thing is, and how sure that is (0 to 1)."""

    ball: str
    sure: float


def named(
    things: Sequence[Thing],
    palette: Palette,
    balls: Sequence[str],
    said: Mapping[int, str] | None = None,
    met: Sequence[Met] = (),
) -> dict[int, Named]:
    """The names of things by their keys; reds are numbered in the order of the keys.

    `said` are names that a person gave, `met` what says that a ball is the lowest of some: games in which the
    lowest ball is met first. Things for which no ball is left have no name.
    """
    from scipy.optimize import linear_sum_assignment  # heavy; loaded where a film is read

    said = dict(said or {})
    found = {key: Named(ball, 1.0) for key, ball in said.items()}
    open_things = [thing for thing in things if thing.key not in said]
    names = [ball for ball in balls if ball not in said.values()]
    if not open_things or not names:
        return found
    kinds = [kind_of(name) for name in names]
    costs = _costs(open_things, kinds, palette)
    if met:
        costs += _not_the_lowest(open_things, names, costs, met)
    # More things than balls: one of them is none.
    spare = np.full((len(open_things), max(0, len(open_things) - len(names))), MOST_COST)
    full = np.hstack((costs, spare))
    rows, columns = linear_sum_assignment(full)
    for row, column in zip(rows, columns, strict=True):
        if column < len(names):
            found[open_things[row].key] = Named(
                names[column], _sureness(costs, row, column, kinds, rows, columns)
            )
    return _reds_in_order(found, set(said))


def _not_the_lowest(
    things: Sequence[Thing], names: Sequence[str], costs: np.ndarray, met: Sequence[Met]
) -> np.ndarray:
    """What it costs (things, names) to call a thing lower than one that was met first while it lay there.

    By the names that all have without that; a wrong first contact is a foul, and seldom.
    """
    from scipy.optimize import linear_sum_assignment

    keys = [thing.key for thing in things]
    rows, columns = linear_sum_assignment(costs)
    number = {keys[row]: _number(names[column]) for row, column in zip(rows, columns, strict=True)}
    numbers = np.array([_number(name) for name in names])
    more = np.zeros_like(costs)
    for row, key in enumerate(keys):
        lowest = [number[first] for first, others in met if key in others and first in number]
        for first in lowest:
            more[row, (numbers > 0) & (numbers < first)] += NOT_LOWEST
    return np.asarray(np.minimum(more, MOST_OF_LOWEST))


def _number(ball: str) -> int:
    return int(ball) if ball.isdecimal() else 0


def kind_of(ball: str) -> str:
    """The kind of a ball: all reds are one."""
    return "red" if ball.startswith("red") else ball


def _costs(things: Sequence[Thing], kinds: Sequence[str], palette: Palette) -> np.ndarray:
    """How unlike balls of some kinds things are (things, kinds), by all that was seen of them."""
    costs = np.full((len(things), len(kinds)), UNSEEN_COST)
    for row, thing in enumerate(things):
        if thing.looks:
            costs[row] = np.minimum(MOST_COST, palette.costs(thing.looks, kinds)).mean(axis=0)
    struck = np.array([STRUCK * float(np.clip(thing.struck, -OFTEN, OFTEN)) for thing in things])
    costs[:, [kind == "cue" for kind in kinds]] -= struck[:, None]
    return costs


def faded(things: Sequence[Thing], palette: Palette, balls: Sequence[str]) -> float:
    """How colourful the film shows paint: so that all things together are most like the balls of the game."""
    from scipy.optimize import linear_sum_assignment

    seen, kinds = [thing for thing in things if thing.looks], [kind_of(ball) for ball in balls]
    if len(seen) < LEAST_SEEN:
        return palette.fade
    sums = []
    for fade in FADES:
        costs = _costs(seen, kinds, replace(palette, fade=fade))
        sums.append(float(costs[linear_sum_assignment(costs)].sum()))
    return FADES[int(np.argmin(sums))]


def _sureness(
    costs: np.ndarray, row: int, column: int, kinds: Sequence[str], rows: np.ndarray, columns: np.ndarray
) -> float:
    """By how much worse the next best thing would be: another name, or an exchange with another thing."""
    own, kind = costs[row, column], kinds[column]
    taken = dict(zip(columns.tolist(), rows.tolist(), strict=True))
    worse = []
    for other in range(costs.shape[1]):
        if kinds[other] == kind:
            continue
        change = costs[row, other] - own
        if other in taken:
            rival = taken[other]
            change += costs[rival, column] - costs[rival, other]
        worse.append(change)
    margin = min(worse, default=SURE_BY)
    fits = float(np.clip(1.3 - own / MOST_COST, 0.3, 1.0))
    return float(min(SUREST, fits * (0.5 + 0.5 * np.clip(margin / SURE_BY, 0, 1) ** 0.7)))


def _reds_in_order(found: dict[int, Named], said: set[int]) -> dict[int, Named]:
    keys = sorted(key for key, name in found.items() if kind_of(name.ball) == "red" and key not in said)
    taken = {name.ball for key, name in found.items() if key in said}
    free = [f"red{i}" for i in range(1, 16) if f"red{i}" not in taken]
    for key, ball in zip(keys, free, strict=False):
        found[key] = Named(ball, found[key].sure)
    return found


def remember(thing: Thing, look: Look | None) -> None:
    """Keep a look of a thing."""
    if look is not None:
        thing.looks.append(look)
        del thing.looks[:-MOST_LOOKS]


def alikeness(thing: Thing, look: Look) -> float:
    """How unlike what was seen of a thing a look is; white shows more or less of itself as a ball rolls."""
    if not thing.looks:
        return 2.0
    colour = np.median([seen.colour for seen in thing.looks], axis=0)
    off = (np.array(look.colour) - colour) / 14.0
    white = min(abs(look.white - seen.white) for seen in thing.looks) / 0.3
    return float((0.6 * off[0]) ** 2 + off[1] ** 2 + off[2] ** 2 + white**2)
