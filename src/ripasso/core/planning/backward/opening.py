"""Clusters that are opened on the way: where their balls are taken to lie afterwards, and what that is worth.

Where balls run that are broken out nobody knows beforehand: they are taken to lie a hand apart, and an
opening counts a share of what the rack is worth then. Both are estimates.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from itertools import product

from ripasso.core.planning.backward.orders import Choice, Order, State
from ripasso.core.planning.problem import Problem
from ripasso.core.planning.reading.clusters import clusters
from ripasso.core.table.places import Place

#: Balls of an opened cluster lie so far from its middle (m); an opening is worth this share (common practice,
#: no source).
APART_M, OPENED = 0.16, 0.8
#: A ball of a cluster that moved farther than this was broken out (m).
MOVED_M = 0.03
TURN = math.radians(30.0)


def opened(problem: Problem) -> Problem | None:
    """The problem with its clusters apart; None where there are none."""
    found = clusters(problem)
    if not found:
        return None
    layout = dict(problem.layout)
    for cluster in found:
        middle = _middle([problem.layout[ball] for ball in cluster])
        for ball in cluster:
            x, y = problem.layout[ball]
            way = math.atan2(y - middle[1], x - middle[0])
            others = {name: place for name, place in layout.items() if name != ball}
            layout[ball] = _free_place(problem, middle, way, others)
    return replace(problem, layout=layout)


def _middle(places: list[Place]) -> Place:
    return (sum(x for x, _ in places) / len(places), sum(y for _, y in places) / len(places))


def _free_place(problem: Problem, middle: Place, way: float, others: Mapping[str, Place]) -> Place:
    """A place a hand away in a direction, or in one near to it that is free."""
    spec, near = problem.spec, 2 * problem.spec.ball_radius + 0.02
    place = middle
    for step in range(12):
        turned = way + TURN * (step // 2 + step % 2) * (1 if step % 2 else -1)
        place = (middle[0] + APART_M * math.cos(turned), middle[1] + APART_M * math.sin(turned))
        inside = near < place[0] < spec.length - near and near < place[1] < spec.width - near
        if inside and all(math.dist(place, other) > near for other in others.values()):
            break
    return place


def with_openings(order: Order, problem: Problem) -> Order:
    """The order with every ball also played so that the cue ball runs into a cluster."""
    found = clusters(problem)
    choices: dict[State, tuple[Choice, ...]] = {}
    for state, some in order.choices.items():
        standing = [bits for cluster in found if (bits := _bits(order, cluster, state))]
        plain = [choice for choice in some if choice.then is not None and not choice.through]
        more = [_opening(order, choice, bits) for choice, bits in product(plain, standing)]
        choices[state] = (*some, *(one for one in more if one is not None))
    return replace(order, choices=choices)


def _opening(order: Order, choice: Choice, bits: int) -> Choice | None:
    """The choice played into a cluster; None where its ball is of the cluster."""
    if bits & order.bit(choice.ball):
        return None
    return replace(choice, through=bits, opens=True)


def _bits(order: Order, cluster: tuple[str, ...], state: State) -> int:
    """The bits of a cluster whose balls all stand, else none."""
    bits = sum(order.bit(ball) for ball in cluster)
    return bits if bits & state[0] == bits else 0
