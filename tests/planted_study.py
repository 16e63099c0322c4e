"""Whether statistics find what is there, and nothing else: `make habits`, writes docs/planted-habits.md.

Libraries of invented players (`ripasso.demo.matches.planted`): intervals must cover what was planted in
about 95 of 100 of them, a player without habits must rarely seem to have one, and each planted habit must be
found.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from ripasso.core.figures.answers import Asked
from ripasso.core.figures.player_stats import potting
from ripasso.core.figures.questions import QUESTIONS
from ripasso.demo.matches.planted import IN_ZONE, PLANTED, RIGHT_SIDE, Habits, planted_facts

LIBRARIES, SIZES = 1000, (1000, 5000)
#: Somebody with several habits, and what the intervals of these questions must cover.
KNOWN = Habits(
    spread_mrad=1.8,
    along_m=0.05,
    across_m=-0.02,
    thick=0.62,
    crossing=-0.15,
    cushions=-0.12,
    after_error=-0.1,
)
TRUE = {
    "along": KNOWN.along_m,
    "across": KNOWN.across_m,
    "thick_or_thin": KNOWN.thick,
    "crossing": KNOWN.crossing,
    "cushions": KNOWN.cushions,
    "after_error": KNOWN.after_error,
}
assert RIGHT_SIDE + KNOWN.crossing > 0 and IN_ZONE + KNOWN.cushions > 0


def covered(job: tuple[int, int]) -> dict[str, bool]:
    """Which intervals cover what was planted, in the library of a size and a seed."""
    size, seed = job
    facts = planted_facts(size, KNOWN, seed)
    asked = Asked(facts)
    found = {}
    for name, truth in TRUE.items():
        answer = QUESTIONS[name](asked)
        assert answer.low is not None and answer.high is not None
        found[name] = answer.low <= truth <= answer.high
    spread = potting(planted_facts(size, Habits(spread_mrad=KNOWN.spread_mrad), seed))[0]
    assert spread.low_mrad is not None and spread.high_mrad is not None
    return found | {"aim spread": spread.low_mrad <= KNOWN.spread_mrad <= spread.high_mrad}


def found_in_nobody(job: tuple[int, int]) -> dict[str, bool]:
    """What questions find in a player without habits; those that test nothing are left out."""
    asked = Asked(planted_facts(job[0], Habits(), job[1]))
    answers = {name: ask(asked) for name, ask in QUESTIONS.items()}
    return {name: answer.is_finding for name, answer in answers.items() if answer.p is not None}


def found_planted(job: tuple[int, int]) -> dict[str, bool]:
    """Which planted habits their questions find, each in a library of its own."""
    return {
        name: QUESTIONS[name](Asked(planted_facts(job[0], habits, 1000 + job[1]))).is_finding
        for name, habits in PLANTED.items()
    }


def shares(
    study: Callable[[tuple[int, int]], dict[str, bool]], size: int, libraries: int
) -> dict[str, float]:
    """How often each holds over so many libraries."""
    jobs = [(size, seed) for seed in range(libraries)]
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        rows = list(pool.map(study, jobs, chunksize=4))
    names = dict.fromkeys(name for row in rows for name in row)
    return {name: sum(row.get(name, False) for row in rows) / len(rows) for name in names}


def lines(libraries: int = LIBRARIES) -> Iterator[str]:
    """The document."""
    yield "# Habits that were planted, and found"
    yield ""
    yield f"Written by `make habits`: {libraries} libraries each of invented players, drawn by"
    yield "`ripasso.demo.matches.planted`."
    yield ""
    yield "## How often the 95 % interval covers what was planted"
    yield ""
    found = {size: shares(covered, size, libraries) for size in SIZES}
    yield "| what | planted | " + " | ".join(f"{size:,} shots (%)" for size in SIZES) + " |"
    yield "|---|---|" + "---|" * len(SIZES)
    for name in found[SIZES[0]]:
        truth = TRUE.get(name, KNOWN.spread_mrad)
        yield f"| {name} | {truth:g} | " + " | ".join(f"{100 * found[s][name]:.1f}" for s in SIZES) + " |"
    yield ""
    yield "## How often a question finds something in a player without habits"
    yield ""
    nobody = {size: shares(found_in_nobody, size, libraries) for size in SIZES}
    yield "| question | " + " | ".join(f"{size:,} shots (%)" for size in SIZES) + " |"
    yield "|---|" + "---|" * len(SIZES)
    for name in nobody[SIZES[-1]]:
        yield f"| {name} | " + " | ".join(f"{100 * nobody[s].get(name, 0):.1f}" for s in SIZES) + " |"
    yield ""
    yield f"## How often a habit is found in {SIZES[-1]:,} shots"
    yield ""
    yield "| habit | planted | found (%) |"
    yield "|---|---|---|"
    usual = Habits()
    for name, share in shares(found_planted, SIZES[-1], libraries).items():
        changed = {k: v for k, v in vars(PLANTED[name]).items() if v != vars(usual)[k]}
        words = ", ".join(f"{key} {value:g}" for key, value in changed.items())
        yield f"| {name} | {words} | {100 * share:.1f} |"


def main(target: Path) -> None:
    """Write the document, and print it."""
    text = "\n".join(lines()) + "\n"
    target.write_text(text, encoding="utf-8")
    sys.stdout.write(text)


if __name__ == "__main__":
    main(Path(sys.argv[1]))
