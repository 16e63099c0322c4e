"""Each ball of a layout by itself: into which pockets it goes, from where, and once which balls are gone."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ripasso.core.geometry.pots import CLOSED, OBJECT_BLOCKED, Pots, chances, pots
from ripasso.core.physics.parameters import Array
from ripasso.core.physics.players import Spreads
from ripasso.core.planning.backward.setting import COARSE_M, net_of
from ripasso.core.planning.problem import Problem
from ripasso.core.planning.reading.clusters import clusters
from ripasso.core.table import POCKETS
from ripasso.core.table.places import Place

#: Farther than this share of the table's length from every other ball one stands alone (common practice, no
#: source).
ALONE = 0.35
#: A ball is on the rail that is nearer to it than this besides its radius (m).
ON_RAIL_M = 0.004
#: A pot that is made so often from a good place counts as a pocket of the ball.
OPEN = 0.5


@dataclass(frozen=True)
class PocketRead:
    """A ball's pocket: the chance from where the cue ball lies (None: it is in hand) and from the best place.

    `places` is the share of places from which the chance is `OPEN` and more; `when_gone` are the balls that
    shut the pocket while they stand.
    """

    pocket: str
    chance: float | None
    best: float
    places: float
    when_gone: tuple[str, ...]


@dataclass(frozen=True)
class BallRead:
    """A ball with its pockets, the best from anywhere first, and its flags.

    Flags: `no_pocket`, `one_pocket`, `cluster`, `alone`, `on_rail`, and `trouble` for what needs a plan.
    """

    ball: str
    place: Place
    pockets: tuple[PocketRead, ...]
    flags: tuple[str, ...]

    @property
    def open_pockets(self) -> tuple[PocketRead, ...]:
        """Those it goes into from a good place."""
        return tuple(one for one in self.pockets if one.best >= OPEN)

    @property
    def freedom(self) -> float:
        """The share of places from which it goes into some pocket, at least."""
        return max((one.places for one in self.pockets), default=0.0)


def read_balls(problem: Problem, spreads: Spreads) -> list[BallRead]:
    """Every ball of a layout but the cue ball."""
    layout = {ball: place for ball, place in problem.layout.items() if ball != "cue"}
    grouped = {ball for cluster in clusters(problem) for ball in cluster}
    return [_ball(problem, layout, ball, spreads, is_grouped=ball in grouped) for ball in layout]


def _ball(
    problem: Problem, layout: Mapping[str, Place], ball: str, spreads: Spreads, *, is_grouped: bool
) -> BallRead:
    others = [name for name in layout if name != ball]
    pockets = tuple(
        sorted(
            (_pocket(problem, layout, ball, others, number, spreads) for number in range(len(POCKETS))),
            key=lambda one: (-one.best, -one.places),
        )
    )
    pockets = tuple(one for one in pockets if one.best > 0 or one.when_gone)
    flags = _flags(problem, layout, ball, pockets, is_grouped=is_grouped)
    return BallRead(ball, layout[ball], pockets, flags)


def _pocket(
    problem: Problem, layout: Mapping[str, Place], ball: str, others: list[str], number: int, spreads: Spreads
) -> PocketRead:
    places = net_of(problem.spec, COARSE_M).places
    blocking = np.array([layout[name] for name in others]).reshape(-1, 2)
    free = np.ones(len(places), dtype=np.bool_)
    for place in (*blocking, layout[ball]):
        free &= np.hypot(*(places - np.array(place)).T) > 2 * problem.spec.ball_radius
    cue = problem.layout.get("cue")
    asked = places[free] if cue is None else np.vstack([places[free], [cue]])
    found = _asked(problem, layout[ball], number, asked, blocking)
    chance = np.nan_to_num(chances(found, spreads.aim_mrad / 1000))
    elsewhere = chance if cue is None else chance[:-1]
    shut = bool((found.obstacle == OBJECT_BLOCKED).any() and not (elsewhere > 0).any())
    gone: tuple[str, ...] = ()
    if shut and not (found.obstacle == CLOSED).all():
        blocks = found.object_blockers
        gone = tuple(name for number, name in enumerate(others) if blocks[:, number].any())
    return PocketRead(
        POCKETS[number],
        float(chance[-1]) if cue is not None else None,
        float(elsewhere.max(initial=0.0)),
        float((elsewhere >= OPEN).mean()) if len(elsewhere) else 0.0,
        gone,
    )


def _asked(problem: Problem, ball: Place, number: int, cues: Array, blocking: Array) -> Pots:
    count = len(cues)
    return pots(
        problem.spec,
        cues,
        np.tile(np.array(ball), (count, 1)),
        np.full(count, number, dtype=np.int64),
        np.tile(blocking, (count, 1, 1)),
    )


def _flags(
    problem: Problem,
    layout: Mapping[str, Place],
    ball: str,
    pockets: tuple[PocketRead, ...],
    *,
    is_grouped: bool,
) -> tuple[str, ...]:
    spec, (x, y) = problem.spec, layout[ball]
    open_ones = sum(one.best >= OPEN for one in pockets)
    rail = min(x, y, spec.length - x, spec.width - y) - spec.ball_radius
    away = min((math.dist(layout[ball], at) for name, at in layout.items() if name != ball), default=0.0)
    flags = []
    if open_ones == 0:
        flags.append("no_pocket")
    if open_ones == 1:
        flags.append("one_pocket")
    if is_grouped:
        flags.append("cluster")
    if rail < ON_RAIL_M:
        flags.append("on_rail")
    if away > ALONE * spec.length:
        flags.append("alone")
    if open_ones == 0 or is_grouped or (open_ones == 1 and rail < ON_RAIL_M):
        flags.append("trouble")
    return tuple(flags)
