"""How options hold: the same best with other seeds, stated figures against 20,000 repetitions, first answers.

python -m tests.core.physics.options_study [NINE EIGHT SNOOKER [SEEDS]]
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from ripasso.core.physics.players import Spreads, spreads_of_level
from ripasso.core.planning.expected import expected
from ripasso.core.planning.options import Option, find_options
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.table import table_spec
from ripasso.core.table.placing import ImpossiblePlace, settle

REPETITIONS = 20_000
#: Of an exact count among so many repetitions, this much is the chance of the count itself.
OWN_ERROR = 1.96


@dataclass
class Found:
    """What came of all layouts."""

    held: int = 0
    stated: int = 0
    same: list[float] = field(default_factory=list)
    first: list[float] = field(default_factory=list)
    seconds: list[float] = field(default_factory=list)
    wrong: list[str] = field(default_factory=list)


def layouts(game: str, count: int) -> Iterator[Problem]:
    """Random layouts of a game, always the same."""
    spec = table_spec({"preset": "snooker_12ft" if game == "snooker" else "pool_9ft"})
    balls = {
        "nine_ball": ["4", "6", "7", "8", "9"],
        "eight_ball": ["2", "5", "7", "8", "10", "12", "15"],
        "snooker": ["red1", "red2", "red3", "brown", "blue", "pink", "black"],
    }[game]
    for number in range(count):
        random = np.random.default_rng((31, number, len(balls)))
        layout: dict[str, tuple[float, float]] = {}
        for ball in ("cue", *balls):
            while ball not in layout:
                wanted = random.uniform((0.06, 0.06), (spec.length - 0.06, spec.width - 0.06))
                try:
                    layout[ball] = settle(spec, layout, ball, tuple(map(float, wanted))).place
                except ImpossiblePlace:
                    continue
        yield Problem(game, spec, layout, balls_on(game, layout, "solids" if game == "eight_ball" else None))


def studied(problem: Problem, spreads: Spreads, seeds: int, found: Found) -> None:
    """Options of one layout, with other seeds and against many repetitions."""
    begun = time.perf_counter()
    first: list[float] = []

    def note(share: float, options: object) -> bool:
        if options and not first:
            first.append(time.perf_counter() - begun)
        return True

    options = find_options(problem, spreads, progress=note)
    took = time.perf_counter() - begun
    found.seconds.append(took)
    if not options:
        return
    found.first.append(first[0] / took)
    for option in options:
        _against_many(problem, option, spreads, found)
    best = [find_options(problem, spreads, seed=1000 * (seed + 1)) for seed in range(seeds)]
    found.same.append(float(np.mean([_as_good(options[0], other) for other in best])))


def _as_good(best: Option, others: list[Option]) -> bool:
    """The best option is the other seed's best one or as good as that."""
    tied = [other for place, other in enumerate(others) if place == 0 or other.tied]
    return any((best.kind, best.ball, best.pocket) == (o.kind, o.ball, o.pocket) for o in tied)


def _against_many(problem: Problem, option: Option, spreads: Spreads, found: Found) -> None:
    meant = problem.with_call(option.ball, option.pocket) if option.pocket else problem
    many = expected(meant, option.stroke, spreads, seed=987_654, repetitions=REPETITIONS)
    stated = option.expected
    for name in ("pot", "scratch", "leave"):
        one, other = getattr(stated, name), getattr(many, name)
        value = other.value if name == "leave" else other.rate
        if one.low is None or value is None:
            continue
        found.stated += 1
        # The leave of the many is one of few cases as well: its own interval counts.
        more = (other.high - other.low) / 2 if name == "leave" else 0.0
        inside = one.low - more <= value <= one.high + more
        found.held += inside
        if not inside:
            found.wrong.append(f"{option.kind} {name}: stated {one}, many {value:.3f}")


def main(counts: list[int], seeds: int) -> None:
    """Prints what was found."""
    found = Found()
    for problem in layouts("nine_ball", 1):
        find_options(problem, spreads_of_level("club", snooker=False))  # loads what is compiled
    for game, count in zip(("nine_ball", "eight_ball", "snooker"), counts, strict=True):
        for problem in layouts(game, count):
            studied(problem, spreads_of_level("club", snooker=game == "snooker"), seeds, found)
    first, took = found.first, found.seconds
    lines = (
        *found.wrong,
        f"{found.held} of {found.stated} stated figures hold ({100 * found.held / found.stated:.1f} %)",
        f"the same best with other seeds: {found.same}",
        f"first answer after {statistics.median(first):.0%} of the time (most {max(first):.0%})",
        f"one search {statistics.median(took):.2f} s (most {max(took):.2f} s)",
    )
    sys.stdout.write("\n".join(lines) + "\n")


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:]]
    main(numbers[:3] or [12, 8, 6], numbers[3] if len(numbers) > 3 else 10)
