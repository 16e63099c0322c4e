"""Long runs: where a run stands in its rack, the chance of a ball, and what is to be beaten."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.inference.estimates import Mean, mean
from ripasso.core.inference.intervals import Rate, rate

#: Balls of a rack in straight pool that are run before the next is set up; the fifteenth is the break ball.
RACK_BALLS = 14
#: So many of the latest runs are to be beaten.
LATEST = 5


@dataclass(frozen=True, slots=True)
class RunInRacks:
    """A run as whole racks and balls of the rack it ended in; `left` are the balls to the next break shot."""

    racks: int
    balls: int
    left: int


def in_racks(run: int, start: int = 0) -> RunInRacks:
    """Where a run of so many balls ends that began `start` balls (0 to 13) into a rack.

    >>> in_racks(61)
    RunInRacks(racks=4, balls=5, left=9)
    """
    racks, balls = divmod(start + run, RACK_BALLS)
    return RunInRacks(racks, balls, RACK_BALLS - balls)


@dataclass(frozen=True, slots=True)
class LongRuns:
    """Runs in the order played: how many, the longest, their mean, the chance of a ball, whole racks.

    `ball` takes every run as ended by one miss: balls made of balls and misses. `to_beat` is the mean of
    the latest; None before any run.
    """

    count: int
    longest: int
    average: Mean
    ball: Rate
    whole_racks: Rate
    to_beat: float | None


def long_runs(runs: Sequence[int]) -> LongRuns:
    """The figures of runs (balls each)."""
    balls = sum(runs)
    to_beat = float(np.mean(runs[-LATEST:])) if runs else None
    racks = rate(sum(one >= RACK_BALLS for one in runs), len(runs))
    return LongRuns(
        len(runs), max(runs, default=0), mean(runs), rate(balls, balls + len(runs)), racks, to_beat
    )


def chance_of_run(ball: float, run: int) -> float:
    """The chance that a run reaches `run` balls where each is made with the chance `ball` (geometric law)."""
    return float(ball**run)
