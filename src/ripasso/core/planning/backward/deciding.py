"""What to play from where the balls really lie, by the maps: ball, pocket, stroke, and what it is worth."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from ripasso.core.physics.parameters import Array
from ripasso.core.physics.repeating import ON_TABLE, Outcomes, played, repeat
from ripasso.core.physics.strokes import Stroke, with_least_elevation
from ripasso.core.planning.backward.opening import MOVED_M
from ripasso.core.planning.backward.orders import Choice, State
from ripasso.core.planning.backward.setting import Setting
from ripasso.core.planning.backward.solving import (
    Pocketing,
    Rack,
    after_of,
    interpolated,
    obstacles_of,
    pocketings_of,
    values_of,
)
from ripasso.core.planning.backward.ways import Ways, many
from ripasso.core.planning.reading.clusters import clusters
from ripasso.core.table import POCKETS
from ripasso.core.table.places import Place

#: Of each ball and pocket so many strokes, and of all so many that are worth this share of the best one, are
#: looked at with more points before they are stated.
STROKES, AGAIN, LOOKED_AGAIN = 2, 3, 0.85


@dataclass(frozen=True)
class Decision:
    """A stroke with its ball and pocket: `value` is the chance to clear with it, `chance` that to pot.

    `rests` (p, 2) are where the cue ball stops at the points of its errors, `shares` (p,) what each counts.
    """

    choice: Choice
    pocket: str
    stroke: Stroke
    value: float
    chance: float
    rests: Array
    shares: Array
    #: Looked at with many points.
    stated: bool = False

    @property
    def ball(self) -> str:
        """The ball that is potted."""
        return self.choice.ball

    @property
    def rest(self) -> Place:
        """Where the cue ball stops on average."""
        shares = self.shares if self.shares.sum() > 0 else np.ones(len(self.shares))
        x, y = np.average(self.rests, axis=0, weights=shares)
        return (float(x), float(y))


def decisions(
    rack: Rack,
    state: State,
    cue: Place,
    *,
    only: Iterable[tuple[str, str]] | None = None,
    layout: Mapping[str, Place] | None = None,
) -> list[Decision]:
    """The best stroke of every ball and pocket that is on, the best first.

    `layout` are the balls where they lie now, without it where they lay; `only` asks for some balls and
    pockets.
    """
    here = rack if layout is None else _moved(rack, layout)
    place = np.array([cue])
    asked = None if only is None else set(only)
    found: list[tuple[Decision, Array]] = []
    for choice in rack.order.choices[state]:
        pockets = [pocket for pocket in POCKETS if asked is None or (choice.ball, pocket) in asked]
        if not pockets or (layout is not None and choice.ball not in layout):
            continue
        after = after_of(rack, choice)
        for pocketing in pocketings_of(here, choice.ball, place, standing=state[0], only=pockets):
            found += [(one, after) for one in _decisions(here, state, choice, pocketing, after)]
    found.sort(key=lambda one: -one[0].value)
    least = LOOKED_AGAIN * found[0][0].value if found else 0.0
    stated = [_stated(here, state, one, cue, after) for one, after in found[:AGAIN] if one.value >= least]
    best: dict[tuple[str, str, bool], Decision] = {}
    for one in sorted((*stated, *(other for other, _ in found)), key=_first):
        best.setdefault((one.ball, one.pocket, one.choice.opens), one)
    return sorted(best.values(), key=_first)


def _first(decision: Decision) -> tuple[bool, float]:
    """What was looked at with many points comes first, of that the best."""
    return not decision.stated, -decision.value


def _moved(rack: Rack, layout: Mapping[str, Place]) -> Rack:
    """The same rack with its balls where they lie now; those that fell are where they lay."""
    problem = replace(
        rack.problem, layout={ball: layout.get(ball, rack.problem.layout[ball]) for ball in rack.order.balls}
    )
    return replace(rack, problem=problem, obstacles=obstacles_of(problem, rack.order), pocketings={})


def _decisions(
    rack: Rack, state: State, choice: Choice, pocketing: Pocketing, after: Array
) -> list[Decision]:
    """The best strokes of a ball into a pocket, as the few points of maps tell them."""
    values = values_of(rack, state, choice, pocketing, after)[0]
    best = np.argsort(-values, kind="stable")[:STROKES]
    return [
        _decision(rack.setting, choice, pocketing.ways, int(number), float(values[number]))
        for number in best
        if values[number] > 0
    ]


def _decision(setting: Setting, choice: Choice, ways: Ways, number: int, value: float) -> Decision:
    shares = ways.weight[0, number].astype(np.float64)
    rests = ways.rest[0, number].astype(np.float64)
    made = setting.stroke(number, float(ways.aim[0, number]), float(ways.elevation[0, number]))
    return Decision(choice, POCKETS[ways.pocket], made, value, float(shares.sum()), rests, shares)


def _stated(rack: Rack, state: State, decision: Decision, cue: Place, after: Array) -> Decision:
    """A decision played with all balls, at many errors: how often it is made, where the cue ball stops.

    Balls that it moves are taken to lie where they lay.
    """
    layout = {"cue": cue, **{ball: rack.problem.layout[ball] for ball in rack.order.standing(state)}}
    physics = rack.setting.physics
    starts = played(decision.stroke, rack.setting.spreads, many(), physics)
    outcomes = repeat(layout, starts, rack.setting.bed, physics, threads=1)
    made = outcomes.potted(decision.ball) == POCKETS.index(decision.pocket)
    made &= outcomes.potted("cue") == ON_TABLE
    made &= outcomes.first == outcomes.balls.index(decision.ball)
    rests = outcomes.rest[:, outcomes.balls.index("cue")]
    shares = made / len(made)
    if decision.choice.opens:
        shares = shares * _broken_out(rack, decision, outcomes)
    elif decision.choice.through:
        shares = shares * _opens(rack, decision, cue)
    worths = interpolated(after, rack.net.xs, rack.net.ys, rests)
    return replace(
        decision,
        value=float((shares * worths).sum()),
        chance=float(shares.sum()),
        rests=rests,
        shares=shares,
        stated=True,
    )


def _broken_out(rack: Rack, decision: Decision, outcomes: Outcomes) -> npt.NDArray[np.bool_]:
    """In which outcomes a ball of the cluster moved or fell."""
    moved = np.zeros(len(outcomes.rest), dtype=np.bool_)
    for number, ball in enumerate(outcomes.balls):
        if ball != "cue" and rack.order.bit(ball) & decision.choice.through:
            away = outcomes.rest[:, number] - np.array(rack.problem.layout[ball])
            moved |= np.hypot(*away.T) > MOVED_M
    return moved


def _opens(rack: Rack, decision: Decision, cue: Place) -> float:
    """The share of the made pots of a break ball whose cue ball runs into the next rack."""
    found = pocketings_of(rack, decision.ball, np.array([cue]), only=(decision.pocket,))
    for pocketing in found:
        speeds = rack.setting.strokes
        number = int(
            np.argmin(np.abs(speeds - [decision.stroke.speed, decision.stroke.a, decision.stroke.b]).sum(1))
        )
        weight = pocketing.ways.weight[0, number]
        if weight.sum() > 0:
            met = (pocketing.ways.met[0, number] & decision.choice.through) != 0
            return float((weight * met).sum() / weight.sum())
    return 0.0


def around(rack: Rack, state: State, place: Place) -> list[tuple[str, str]]:
    """The balls and pockets that the map plays from the places of the net about a place."""
    net, made = rack.net, rack.maps[state]
    i = int(np.clip(np.searchsorted(net.xs, place[0]) - 1, 0, len(net.xs) - 2))
    j = int(np.clip(np.searchsorted(net.ys, place[1]) - 1, 0, len(net.ys) - 2))
    found: dict[tuple[str, str], None] = {}
    for u, v in ((i, j), (i, j + 1), (i + 1, j), (i + 1, j + 1)):
        k = u * len(net.ys) + v
        if made.choice[k] >= 0:
            ball = rack.order.choices[state][made.choice[k]].ball
            found[ball, POCKETS[made.pocket[k]]] = None
    return list(found)


def decide(rack: Rack, state: State, cue: Place, layout: Mapping[str, Place]) -> Decision | None:
    """The best stroke of what the maps play about a place; of all that is on where that is nothing."""
    found = decisions(rack, state, cue, only=around(rack, state, cue), layout=layout)
    if not found:
        found = decisions(rack, state, cue, layout=layout)
    return found[0] if found else None


def forced(rack: Rack, layout: Mapping[str, Place], stroke: Stroke) -> Stroke:
    """The stroke with the elevation that the balls behind the cue ball force as well."""
    return with_least_elevation(stroke, rack.setting.spec, layout)


def rack_after(rack: Rack, choice: Choice) -> Rack:
    """The rack after a choice: with its clusters open where it opens them."""
    return rack.opened if choice.opens and rack.opened is not None else rack


def rack_as(rack: Rack, layout: Mapping[str, Place]) -> Rack:
    """The rack as balls lie: with its clusters open once they are."""
    if rack.opened is None or clusters(replace(rack.problem, layout=layout)):
        return rack
    return rack.opened


def worth(rack: Rack, state: State | None, places: Array) -> Array:
    """The chance to clear from places (k, 2)."""
    if state is None:
        return np.ones(len(places))
    return interpolated(rack.maps[state].value, rack.net.xs, rack.net.ys, places)
