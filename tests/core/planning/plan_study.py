"""Stated and played chance to clear, on layouts of our own: `python -m tests.core.planning.plan_study`.

With `orders` behind the number the orders proposed are played beside two plain ones, lowest number first and
the nearest ball first, where the rules leave the order free: each rack solved anew for its one order.

Every rack (2,000 of each layout, or as many as are named) is played with all physics and noise, deciding anew
from the maps after each shot. Run for a report, not in every test run.
"""

from __future__ import annotations

import math
import sys
import time
from collections.abc import Iterator, Mapping
from dataclasses import replace

import numpy as np

from ripasso.core.physics.players import spreads_of_level
from ripasso.core.planning.backward.deciding import decide
from ripasso.core.planning.backward.orders import Order
from ripasso.core.planning.backward.plans import plan_of
from ripasso.core.planning.backward.playing_out import play_out
from ripasso.core.planning.backward.setting import setting_of
from ripasso.core.planning.backward.solving import Rack, rack_of, solve
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.table import snooker_spots, table_spec
from ripasso.core.table.places import Place

#: Games of the study with how many layouts each.
LAYOUTS = {"nine_ball": 6, "ten_ball": 4, "eight_ball": 4, "straight_pool": 4, "snooker": 2}
#: The places of a study's balls come from this seed.
SEED = 19
#: Orders whose chances differ by less are said to be as good: they are not played.
STATED = 0.005


def scattered(rng: np.random.Generator, names: list[str], length: float, width: float) -> dict[str, Place]:
    """Balls anywhere, at least 14 cm apart and 6 cm from the rails."""
    places: list[Place] = []
    while len(places) < len(names):
        x, y = float(rng.uniform(0.06, length - 0.06)), float(rng.uniform(0.06, width - 0.06))
        if all(np.hypot(x - a, y - b) > 0.14 for a, b in places):
            places.append((x, y))
    return dict(zip(names, places, strict=True))


def problems() -> Iterator[tuple[str, Problem, str]]:
    """Name, problem and level of every layout."""
    rng = np.random.default_rng(SEED)
    for game, count in LAYOUTS.items():
        for number in range(count):
            level = ("club", "county", "professional")[number % 3]
            spec = table_spec({"preset": "snooker_12ft"} if game == "snooker" else None)
            if game == "snooker":
                spots = snooker_spots(spec)
                cue = scattered(rng, ["cue"], spec.length, spec.width)
                layout = {**cue, **spots}
            else:
                first = {"nine_ball": 10 - 3 - number % 3, "ten_ball": 7}.get(game, 1)
                last = {"nine_ball": 9, "ten_ball": 10, "eight_ball": 8, "straight_pool": 5}[game]
                start = {"eight_ball": 4 - number % 2}.get(game, first)
                names = ["cue", *(str(ball) for ball in range(start, last + 1))]
                layout = scattered(rng, names, spec.length, spec.width)
            on = balls_on(game, layout, "solids" if game == "eight_ball" else None)
            yield (
                f"{game} {number + 1} ({len(layout) - 1} balls, {level})",
                Problem(game, spec, layout, on),
                level,
            )


def worked_out(problem: Problem, level: str) -> Rack:
    """The rack of a problem with all of its maps."""
    spreads = spreads_of_level(level, snooker=problem.spec.snooker)
    rack = rack_of(problem, setting_of(problem, spreads))
    solve(rack)
    return rack


def in_order(rack: Rack, balls: list[str]) -> Rack:
    """The same rack with one order only, worked out for it; balls it does not name come last, as they may."""
    order = Order(rack.order.balls, rack.order.start, {}, rack.order.horizon)
    for state, choices in rack.order.choices.items():
        wanted = [ball for ball in balls if ball in {choice.ball for choice in choices}]
        order.choices[state] = tuple(one for one in choices if not wanted or one.ball == wanted[0])
    made = replace(rack, order=order, maps={}, opened=None)
    solve(made)
    return made


def nearest_first(layout: Mapping[str, Place], own: list[str]) -> list[str]:
    """The ball nearest to the cue ball, then always the one nearest to the ball before."""
    at, left, found = layout["cue"], list(own), []
    while left:
        ball = min(left, key=lambda name: math.dist(layout[name], at))
        left.remove(ball)
        found.append(ball)
        at = layout[ball]
    return found


def orders(racks: int) -> None:
    """Print for each free layout what the order proposed and the plain ones promise, and come to."""
    for name, problem, level in problems():
        if problem.game not in ("eight_ball", "straight_pool"):
            continue
        rack, cue = worked_out(problem, level), problem.layout["cue"]
        plan = plan_of(rack, cue, with_others=False)
        assert plan is not None
        own = list(plan.order)
        free = own[:-1] if problem.game == "eight_ball" else own
        last = own[len(free) :]
        best: float | None = None
        for kind, order in (
            ("proposed", own),
            ("lowest first", sorted(free, key=int) + last),
            ("nearest first", nearest_first(problem.layout, free) + last),
        ):
            one = in_order(rack, order)
            first = decide(one, one.order.start, cue, problem.layout)
            stated = first.value if first is not None else 0.0
            best = stated if best is None else best
            if kind != "proposed" and abs(best - stated) < STATED:
                print(f"{name}, {kind} {' '.join(order)}: stated {stated:.3f}: no difference", flush=True)
                continue
            cleared = play_out(one, cue, racks=racks, seed=SEED).cleared
            print(
                f"{name}, {kind} {' '.join(order)}: stated {stated:.3f}, played {cleared.rate:.3f}",
                flush=True,
            )


def main() -> None:
    """Print stated and played chance of each layout, the mean and the largest difference."""
    racks = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    if sys.argv[2:] == ["orders"]:
        orders(racks)
        return
    differences = []
    for name, problem, level in problems():
        begun = time.perf_counter()
        rack = worked_out(problem, level)
        solved_s = time.perf_counter() - begun
        cue = problem.layout["cue"]
        first = decide(rack, rack.order.start, cue, problem.layout)
        stated = first.value if first is not None else 0.0
        begun = time.perf_counter()
        played = play_out(rack, cue, racks=racks, seed=SEED).cleared
        differences.append((played.rate or 0.0) - stated)
        print(
            f"{name}: stated {stated:.3f}, played {played.rate:.3f} ({played.made} of {played.of}), "
            f"{differences[-1]:+.3f}; {solved_s:.1f} s and {time.perf_counter() - begun:.1f} s",
            flush=True,
        )
    off = np.abs(differences)
    print(
        f"differences: mean {off.mean():.3f}, largest {off.max():.3f}, with sign {np.mean(differences):+.3f}"
    )


if __name__ == "__main__":
    main()
