"""The plan of a rack read out of its maps: balls in order, pockets, strokes, zones, and where it is hard."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ripasso.core.geometry.zones import Polygon
from ripasso.core.physics.parameters import Array
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.backward.deciding import Decision, decisions, rack_after, worth
from ripasso.core.planning.backward.levels import NEAR_M, levels, zone_about
from ripasso.core.planning.backward.orders import Order, State
from ripasso.core.planning.backward.solving import Rack, solved
from ripasso.core.table.places import Place

#: A step that keeps less than this of what the place before it is worth at best is hard.
HARD = 0.8
#: Orders whose chances are within this of the best one's are as good; so many others are told.
AS_GOOD, OTHERS = 0.02, 3
#: Corners of a zone that are kept at most.
MOST_CORNERS = 48


@dataclass(frozen=True)
class Step:
    """One ball of a plan: how it is potted, where the cue ball stops, in which zone it should.

    `before` and `after` are the chances to clear from where the cue ball lies and from the planned rest;
    `value` is that with this stroke. `keeps` is the share of the next state's best that the stroke leaves;
    `opens`: it opens a cluster, so that what follows is an estimate.
    """

    ball: str
    pocket: str
    stroke: Stroke
    cue: Place
    rest: Place
    chance: float
    value: float
    after: float
    keeps: float
    hard: bool
    zone: Polygon | None
    opens: bool = False


@dataclass(frozen=True)
class RackPlan:
    """Steps from a place of the cue ball; `clear` is the chance to clear (to the horizon where there is one).

    `spread` is half of the 95 % interval, `whole` False where only some pots ahead were looked at,
    `others` are orders that begin otherwise, each with its chance.
    """

    cue: Place
    clear: float
    spread: float
    steps: tuple[Step, ...]
    whole: bool
    others: tuple[tuple[tuple[str, ...], float], ...] = ()

    @property
    def order(self) -> tuple[str, ...]:
        """The balls in order."""
        return tuple(step.ball for step in self.steps)

    @property
    def hardest(self) -> Step | None:
        """The step at which the chance falls most."""
        hard = [step for step in self.steps if step.hard]
        return min(hard, key=lambda step: step.chance * step.keeps, default=None)


#: What playing out showed of the stated chances: how far they are off, two-sided 95 %, at even chances
#: (`tests.core.planning.plan_study`).
OFF = 0.12


def half_interval(chance: float) -> float:
    """Half of the 95 % interval of a stated chance: it is narrower near 0 and 1."""
    return float(OFF * 2 * np.sqrt(max(0.0, chance * (1 - chance))))


def plan_of(rack: Rack, cue: Place, *, with_others: bool = True) -> RackPlan | None:
    """The plan from a place of the cue ball; None where nothing can be potted from there.

    With others the orders that begin with another ball are worked out as well.
    """
    start = rack.order.start
    found = decisions(rack, start, cue)
    if not found:
        return None
    steps = _steps(rack, start, found[0], cue)
    others: list[tuple[tuple[str, ...], float]] = []
    for other in found[1:] if with_others else ():
        if other.ball != found[0].ball and other.ball not in {order[0] for order, _ in others}:
            order = tuple(step.ball for step in _steps(rack, start, other, cue))
            others.append((order, other.value))
    clear = found[0].value
    return RackPlan(
        cue,
        clear,
        half_interval(clear),
        tuple(steps),
        rack.order.horizon is None,
        tuple(others[:OTHERS]),
    )


def hard_ahead(rack: Rack, state: State, cue: Place) -> int:
    """How many balls of the best plan from a place are hard; 0 where nothing can be potted."""
    found = decisions(rack, state, cue)
    return sum(step.hard for step in _steps(rack, state, found[0], cue)) if found else 0


def _steps(rack: Rack, state: State, first: Decision, cue: Place) -> list[Step]:
    """The steps of a plan that begins with a decision."""
    steps: list[Step] = []
    decision: Decision | None = first
    here: State | None = state
    while decision is not None and here is not None:
        step = step_of(rack, decision, cue)
        steps.append(step)
        cue, here = step.rest, decision.choice.then
        rack = rack_after(rack, decision.choice)
        decision = _next(rack, here, cue)
    return steps


def _next(rack: Rack, state: State | None, cue: Place) -> Decision | None:
    if state is None or not rack.order.choices[state]:
        return None
    found = decisions(rack, state, cue)
    return found[0] if found else None


def step_of(rack: Rack, decision: Decision, cue: Place) -> Step:
    """A decision as a step of a plan."""
    then, rack = decision.choice.then, rack_after(rack, decision.choice)
    rest = settled(rack, then, decision)
    after = float(worth(rack, then, np.array([rest]))[0])
    best, keeps, zone = 1.0, 1.0, None
    if then is not None:
        made = rack.maps[then]
        best = float(made.value[made.valid].max(initial=0.0))
        keeps = decision.value / (decision.chance * best) if decision.chance * best > 0 else 0.0
        zone = zone_about(rack, then, rest)
    return Step(
        decision.ball,
        decision.pocket,
        decision.stroke,
        cue,
        rest,
        decision.chance,
        decision.value,
        after,
        keeps,
        decision.chance * keeps < HARD,
        zone,
        decision.choice.opens,
    )


def settled(rack: Rack, state: State | None, decision: Decision) -> Place:
    """Where the cue ball is planned to stop: the mean of its rests, or the rest nearest to it where a ball
    lies there."""
    rest = decision.rest
    if state is None:
        return rest
    reach = 2 * rack.setting.spec.ball_radius
    standing = np.array([rack.problem.layout[ball] for ball in rack.order.standing(state)]).reshape(-1, 2)
    if len(standing) and (np.hypot(*(standing - np.array(rest)).T) < reach).any():
        x, y = decision.rests[np.argmin(np.hypot(*(decision.rests - np.array(rest)).T))]
        rest = (float(x), float(y))
    return rest


def zone_share(rack: Rack, state: State, zone_places: Array, rest: Place) -> float:
    """What a zone of somebody's own holds: the mean over its places (k, 2) against the best one near."""
    xs, ys, values = levels(rack, state)
    gx, gy = np.meshgrid(xs, ys)
    best = float(values[np.hypot(gx - rest[0], gy - rest[1]) <= NEAR_M].max(initial=0.0))
    if not len(zone_places) or best <= 0:
        return 0.0
    return float(worth(rack, state, zone_places).mean() / best)


def best_place(rack: Rack, state: State) -> tuple[Place, float]:
    """The best place of the net for the cue ball in hand, and its chance."""
    made = rack.maps[state]
    values = np.where(made.valid, made.value, -1.0)
    place = rack.net.places[int(np.argmax(values))]
    return (float(place[0]), float(place[1])), float(values.max())


def plan_in_order(rack: Rack, cue: Place, order: Sequence[str]) -> RackPlan | None:
    """The plan in an order of somebody's own: its balls one after the other, each from the best place that
    the one before leaves; None where the rules forbid it, without steps where it begins with no pot."""
    state: State | None = rack.order.start
    states: list[State] = []
    for ball in order:
        if state is None:
            return None
        states.append(state)
        choice = next((one for one in rack.order.choices[state] if one.ball == ball), None)
        if choice is None:
            return None
        state = choice.then
    if state is not None:
        return None
    own = _in_order(rack, order, states)
    return plan_of(own, cue, with_others=False) or RackPlan(cue, 0.0, 0.0, (), rack.order.horizon is None)


def _in_order(rack: Rack, order: Sequence[str], states: Sequence[State]) -> Rack:
    """The rack with one ball in each state: the maps of these states with that choice alone."""
    choices = {
        state: tuple(one for one in rack.order.choices[state] if one.ball == ball)
        for state, ball in zip(states, order, strict=True)
    }
    own = replace(rack, order=Order(rack.order.balls, rack.order.start, choices, rack.order.horizon), maps={})
    for state in reversed(states):
        own.maps[state] = solved(own, state)
    return own
