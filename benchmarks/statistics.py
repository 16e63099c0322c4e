"""Statistics over 200,000 shots: pages of figures and the overview, beside bare NumPy on the same columns."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable, Iterator
from typing import cast

import numpy as np

from ripasso.core.measures import ShotColumns
from ripasso.core.measures.facts import Facts
from ripasso.core.measures.slices import CUT_BANDS, DISTANCE_BANDS
from ripasso.demo.planted import Habits, planted_facts
from ripasso.ui.statistics.pages import page_of
from ripasso.ui.statistics.ready import overview_of

SHOTS, ROUNDS = 200_000, 5


def _seconds(act: Callable[[], object]) -> float:
    taken = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        act()
        taken.append(time.perf_counter() - start)
    return statistics.median(taken)


def _bare_rates(made: np.ndarray, groups: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Made and all of each group."""
    return np.bincount(groups, weights=made), np.bincount(groups)


def _bare_potting(facts: Facts, keep: np.ndarray) -> list[object]:
    """The counts of the page of potting, from plain arrays: bands, pockets, deliveries."""
    made = facts.flags("made")[keep]
    cut = np.abs(facts.numbers("cut_deg")[keep])
    way = facts.numbers("cue_travel")[keep] + facts.numbers("object_travel")[keep]
    share = way / facts.numbers("table_length")[keep]
    found: list[object] = [
        _bare_rates(made, np.digitize(cut, [low for low, _ in CUT_BANDS[1:]])),
        _bare_rates(made, np.digitize(share, [low for low, _ in DISTANCE_BANDS[1:]])),
    ]
    for name in ("pocket", "delivery", "phase", "contact"):
        _, groups = np.unique(facts.texts(name)[keep].astype(str), return_inverse=True)
        found.append(_bare_rates(made, groups))
    return found


def _bare_overview(facts: Facts, keep: np.ndarray) -> list[object]:
    """The sums that questions stand on: two groups of shots each, from plain arrays."""
    made, found = facts.flags("made")[keep], _bare_potting(facts, keep)
    for name in ("stroke", "stroke_pace", "side", "pace", "position", "unforced", "intent"):
        _, groups = np.unique(facts.texts(name)[keep].astype(str), return_inverse=True)
        found.append(_bare_rates(made, groups))
    for name in ("along", "across", "angle_miss", "travel", "crossing_deg", "since_rest_s", "chance"):
        values = facts.numbers(name)[keep]
        known = ~np.isnan(values)
        found.append(
            (float(values[known].mean()), float(values[known].std()), float(np.median(values[known])))
        )
    return found


def measure() -> Iterator[str]:
    """A line for each page: its time, and as a multiple of the bare sums."""
    facts = planted_facts(SHOTS, Habits(), 1)
    nothing = cast(ShotColumns, None)
    everything = np.ones(SHOTS, dtype=bool)
    slices = {
        "first opening, all shots": everything,
        "a slice, one shot in four": np.arange(SHOTS) % 4 == 0,
        "a slice, thin cuts": np.abs(facts.numbers("cut_deg")) >= 45,
    }
    for words, keep in slices.items():
        bare = _seconds(lambda keep=keep: _bare_potting(facts, keep))
        page = _seconds(lambda keep=keep: page_of("potting", nothing, facts.where(keep), ["p"]))
        yield f"potting, {words}: {1000 * page:.0f} ms, {page / bare:.2f} x bare NumPy"
        bare = _seconds(lambda keep=keep: _bare_overview(facts, keep))
        page = _seconds(lambda keep=keep: overview_of(nothing, facts.where(keep), "p", "nine_ball"))
        yield f"overview, {words}: {1000 * page:.0f} ms, {page / bare:.2f} x bare NumPy"


if __name__ == "__main__":
    for line in measure():
        print(line)
