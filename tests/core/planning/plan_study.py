"""Stated and played chance to clear, on layouts of our own: `python -m tests.core.planning.plan_study`.

Every rack (2,000 of each layout, or as many as are named) is played with all physics and noise, deciding anew
from the maps after each shot. Run for a report, not in every test run.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator

import numpy as np

from ripasso.core.physics.players import spreads_of_level
from ripasso.core.planning.backward.deciding import decide
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


def main() -> None:
    """Print stated and played chance of each layout, the mean and the largest difference."""
    racks = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
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
