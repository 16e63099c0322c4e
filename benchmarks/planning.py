"""Racks worked out backwards: as multiples of 100,000 dependent multiply-adds, with their memory."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np

from benchmarks.physics import yardstick
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.planning.backward.plans import best_place, plan_of
from ripasso.core.planning.backward.setting import setting_of
from ripasso.core.planning.backward.solving import Rack, rack_of, solve
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.planning.warming import warm_up
from ripasso.core.table import table_spec
from ripasso.core.table.places import Place

SPEC = table_spec({"preset": "pool_9ft"})
CLUB = spreads_of_level("club", snooker=False)
TIMES = 200
#: Seconds within which an order stands, and the whole plan, on two quiet processors.
FIRST_S, WHOLE_S = 2.0, 20.0


def _unit() -> float:
    yardstick(100_000, 1e-7)
    taken = []
    for _ in range(TIMES):
        begun = time.perf_counter()
        yardstick(100_000, 1e-7)
        taken.append(time.perf_counter() - begun)
    return min(taken)


def _layout(balls: list[str], rng: np.random.Generator) -> dict[str, Place]:
    places: list[Place] = []
    while len(places) < len(balls):
        x, y = float(rng.uniform(0.1, 2.44)), float(rng.uniform(0.1, 1.17))
        if all(np.hypot(x - a, y - b) > 0.15 for a, b in places):
            places.append((x, y))
    return dict(zip(balls, places, strict=True))


def _kept(rack: Rack) -> float:
    """Megabytes of the ways of a rack."""
    tables = [one.ways for some in rack.pocketings.values() for one in some]
    return sum(ways.weight.nbytes + ways.rest.nbytes + ways.met.nbytes for ways in tables) / 1e6


def measure() -> Iterator[str]:
    unit, rng = _unit(), np.random.default_rng(11)
    warm_up()  # compiled code is no part of a search
    cases = (
        ("nine balls from ball in hand", "nine_ball", [str(n) for n in range(1, 10)], None),
        ("seven balls and the 8", "eight_ball", ["cue", *(str(n) for n in range(1, 9))], "solids"),
        ("straight pool's last five", "straight_pool", ["cue", "1", "2", "3", "4", "5"], None),
    )
    for name, game, balls, group in cases:
        layout = _layout(balls, rng)
        problem = Problem(game, SPEC, layout, balls_on(game, layout, group))
        told = []
        for coarse, most in ((True, FIRST_S), (False, WHOLE_S)):
            begun = time.perf_counter()
            rack = rack_of(problem, setting_of(problem, CLUB, coarse=coarse))
            solve(rack)
            cue = layout.get("cue") or best_place(rack, rack.order.start)[0]
            plan_of(rack, cue, with_others=not coarse)
            taken = time.perf_counter() - begun
            told.append(f"{taken / unit:,.0f} x ({taken:.1f} s; aim {most:g} s)")
        yield f"{name}: first order {told[0]}, whole plan {told[1]}, ways of {_kept(rack):.0f} MB"
