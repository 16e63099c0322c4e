"""The chance to clear before each shot of a rack, with the best option and with the one that was chosen.

Maps are worked out once and used as long as the balls lie where they lay: a rack costs a few of them.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from ripasso.core.physics.players import Spreads
from ripasso.core.planning.backward.deciding import decisions
from ripasso.core.planning.backward.orders import State
from ripasso.core.planning.backward.plans import hard_ahead
from ripasso.core.planning.backward.setting import setting_of
from ripasso.core.planning.backward.solving import Rack, rack_of, solve
from ripasso.core.planning.problem import Problem
from ripasso.core.planning.reading.clusters import clusters
from ripasso.core.table.places import Place

#: A ball lies where it lay within this (m).
STAYED_M = 0.03


@dataclass(frozen=True, slots=True)
class Chances:
    """To clear from a layout: with the best option, and with the best stroke of the chosen one (None: safe,
    or it is not among what can be potted). `rest` is where that stroke's cue ball stops on average."""

    best: float
    chosen: float | None
    rest: Place | None = None


@dataclass(frozen=True, slots=True)
class Task:
    """What a visit begins with: how many hard balls its best plan has, how many clusters lie there."""

    hard: int
    clusters: int


class RackFollower:
    """Answers for the layouts of one rack, one after the other."""

    def __init__(self, spreads: Spreads, go_on: Callable[[], bool] = lambda: True) -> None:
        self._spreads, self._go_on = spreads, go_on
        self._rack: Rack | None = None

    def chances(self, problem: Problem, meant: tuple[str, str] | None) -> Chances:
        """The chances from a layout with a cue ball; raises `ValueError` without a ball on, `Stopped`."""
        rack, state = self._fitting(problem)
        found = decisions(rack, state, problem.layout["cue"], layout=problem.layout)
        own = [one for one in found if (one.ball, one.pocket) == meant]
        if meant is not None and not own:
            own = decisions(rack, state, problem.layout["cue"], only=[meant], layout=problem.layout)
        chosen = own[0].value if own else 0.0
        best = max(found[0].value if found else 0.0, chosen)
        return Chances(best, chosen if meant is not None else None, own[0].rest if own else None)

    def task(self, problem: Problem) -> Task:
        """What lies before somebody who comes to the table; raises as `chances` does."""
        rack, state = self._fitting(problem)
        return Task(hard_ahead(rack, state, problem.layout["cue"]), len(clusters(problem)))

    def _fitting(self, problem: Problem) -> tuple[Rack, State]:
        """The rack in hand and its state for a layout; another one where balls moved."""
        rack = self._rack
        if rack is not None:
            state = _state(rack, problem)
            if state is not None:
                return rack, state
        made = rack_of(problem, setting_of(problem, self._spreads))
        solve(made, lambda _share: self._go_on())
        self._rack = made
        return made, made.order.start


def _state(rack: Rack, problem: Problem) -> State | None:
    """The state of a rack that a layout is in; None where a ball moved or the balls on are others."""
    if rack.problem.game != problem.game or rack.order.horizon is not None:
        return None
    balls = [ball for ball in problem.layout if ball != "cue"]
    for ball in balls:
        lay = rack.problem.layout.get(ball)
        if lay is None or math.dist(lay, problem.layout[ball]) > STAYED_M:
            return None
    standing = sum(rack.order.bit(ball) for ball in balls)
    for state, choices in rack.order.choices.items():
        if state[0] == standing and {choice.ball for choice in choices} == set(problem.on):
            return state
    return None
