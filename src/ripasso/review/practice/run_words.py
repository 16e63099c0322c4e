"""Long runs in words: the run, its racks, what is to be beaten, how far the chance of a ball carries."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from ripasso.core.practice.long_runs import RACK_BALLS, chance_of_run, in_racks, long_runs
from ripasso.review.language.vocabulary import count
from ripasso.review.record.practice import Attempt, AttemptSet, Exercise

#: The runs whose chance is said besides.
ASKED = (RACK_BALLS, 50, 100)


def balls_wanted(exercise: Exercise) -> int | None:
    """How many balls a run is asked for: those of its layout; None for a run that goes on rack after rack."""
    balls = [ball for ball in exercise.layout or () if ball != "cue"]
    return len(balls) or None


def runs_of(attempts: Iterable[Attempt]) -> list[int]:
    """The balls of every run that were said, in order."""
    return [one.count for one in attempts if one.count is not None]


def run_succeeds(exercise: Exercise, run: int, earlier: Sequence[int]) -> bool | None:
    """Whether a run is a success: all balls of the layout; else better than the latest ones on average.

    None for the first run of an exercise that goes on: there is nothing to beat.
    """
    wanted = balls_wanted(exercise)
    if wanted is not None:
        return run >= wanted
    to_beat = long_runs(earlier).to_beat
    return None if to_beat is None else run > to_beat


def run_words(run: int) -> str:
    """Such as "61 balls: 4 racks and 5, 9 to the next break shot"."""
    if run < RACK_BALLS:
        return count(run, "ball")
    found = in_racks(run)
    racks = count(found.racks, "rack")
    return f"{count(run, 'ball')}: {racks} and {found.balls}, {found.left} to the next break shot"


def run_lines(exercise: Exercise, sets: Sequence[AttemptSet]) -> list[str]:
    """An exercise's runs: the latest, the longest, what is to be beaten, what a ball's chance comes to."""
    runs = runs_of(one for made in sets for one in made.attempts or ())
    if not runs:
        return ["B counts a run by its balls."]
    found = long_runs(runs)
    lines = [f"Last: {run_words(runs[-1])}. Longest of {found.count}: {run_words(found.longest)}."]
    if balls_wanted(exercise) is None:
        lines.append(f"To beat: {found.to_beat:.1f}, the average of the latest {min(5, found.count)}.")
    if found.ball.rate is not None and found.ball.low is not None and found.ball.high is not None:
        ends = f"{100 * found.ball.low:.1f} to {100 * found.ball.high:.1f}"
        lines.append(f"A ball is made in {100 * found.ball.rate:.1f} % ({ends}); {chances(found.ball.rate)}.")
    return lines


def chances(ball: float) -> str:
    """Such as "14 balls in 49 % of runs, 50 in 8, 100 in 0.6"."""
    said = [f"{100 * chance_of_run(ball, run):.2g}" for run in ASKED]
    first, *others = (f"{run} balls in {share}" for run, share in zip(ASKED, said, strict=True))
    return ", ".join((f"{first} % of runs", *(one.replace(" balls", "") for one in others)))
