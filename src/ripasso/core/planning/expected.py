"""What a stroke promises to a player: pot, foul, scratch, where the cue ball stops, what it leaves."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ripasso.core.geometry.layouts import PotBook
from ripasso.core.geometry.position import angle_from_line, side_of_line
from ripasso.core.geometry.zones import Zone, distance_outside
from ripasso.core.inference.intervals import Rate, rate
from ripasso.core.physics.players import Spreads
from ripasso.core.physics.repeating import ON_TABLE, Outcomes, repeat, strokes_with_errors
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.problem import Problem
from ripasso.core.table import POCKETS, pocket_mouth_middle
from ripasso.core.table.places import Place

Array = npt.NDArray[np.float64]
Flags = npt.NDArray[np.bool_]

#: Repetitions of one stroke, the seed that makes two looks agree, and so many of them are asked for a leave.
REPETITIONS, SEED, LEAVES = 400, 1, 120
#: Two-sided 95 % of the normal distribution.
Z = 1.960


@dataclass(frozen=True, slots=True)
class Share:
    """A mean of chances with its 95 % interval; None without a case."""

    value: float | None
    low: float | None
    high: float | None
    of: int


@dataclass(frozen=True, slots=True)
class RightSide:
    """The likeliest next pot from the middle of the cloud, and how often the side of its line is that one."""

    ball: str
    pocket: str
    share: Rate


@dataclass(frozen=True)
class Expected:
    """What came of n repetitions. Rest is that of legal strokes: mean (m) and covariance (m2).

    `pot` is the called ball into its pocket without a foul; `leave` the best next pot after it; `left` the
    opponent's best pot after a legal miss; `side` is None without a next ball, or straight behind it.
    """

    repetitions: int
    pot: Rate
    foul: Rate
    scratch: Rate
    rest: Place | None
    cov: tuple[tuple[float, float], tuple[float, float]] | None
    cloud: Array
    leave: Share
    left: Share
    ended: bool
    side: RightSide | None = None


def expected(
    problem: Problem,
    stroke: Stroke,
    spreads: Spreads,
    *,
    seed: int = SEED,
    repetitions: int = REPETITIONS,
    threads: int | None = None,
) -> Expected:
    """Play a stroke many times with a player's errors and count."""
    starts = strokes_with_errors(stroke, spreads, problem.physics, seed=seed, count=repetitions)
    outcomes = repeat(problem.layout, starts, problem.bed, problem.physics, threads)
    return judged(problem, outcomes, spreads)


def judged(problem: Problem, outcomes: Outcomes, spreads: Spreads) -> Expected:
    """What outcomes come to by the rules of the game, and what they leave."""
    fouls, scratches = fouls_of(problem, outcomes), outcomes.potted("cue") != ON_TABLE
    made = _called(problem, outcomes) & ~fouls
    cue = outcomes.rest[:, outcomes.balls.index("cue")]
    lies = cue[~scratches & ~fouls]
    # A called pot is about where the cue ball stops when it is made.
    cloud = cue[made] if made.any() else lies
    count = len(fouls)
    cov = np.cov(cloud.T) if len(cloud) > 1 else None
    return Expected(
        count,
        rate(int(made.sum()), count),
        rate(int(fouls.sum()), count),
        rate(int(scratches.sum()), count),
        (float(cloud[:, 0].mean()), float(cloud[:, 1].mean())) if len(cloud) else None,
        tuple(tuple(float(v) for v in row) for row in cov) if cov is not None else None,  # type: ignore[arg-type]
        cloud,
        _leaves(problem, outcomes, np.flatnonzero(made), spreads, own=True),
        _leaves(problem, outcomes, np.flatnonzero(~made & ~fouls), spreads, own=False),
        bool(outcomes.ended.all()),
        right_side(problem, cloud, spreads) if made.any() else None,
    )


def right_side(problem: Problem, cloud: Array, spreads: Spreads) -> RightSide | None:
    """How often a cloud of rest points (n, 2) after the called pot is on its own side of the next line.

    The side is that of the cloud's middle; the next ball is the likeliest pot from there. None without one,
    and where the middle is straight behind it: no side is wanted then.
    """
    if problem.call is None:
        return None
    fallen, middle = problem.call[0], (float(cloud[:, 0].mean()), float(cloud[:, 1].mean()))
    layout = {ball: place for ball, place in problem.layout.items() if ball != fallen} | {"cue": middle}
    on = [] if problem.wins([fallen]) else [ball for ball in problem.after([fallen]) if ball in layout]
    if not on:
        return None
    book = PotBook(problem.spec)
    asked = book.ask(middle, layout, on)
    book.solve(spreads.aim_mrad / 1000)
    best = asked.best()
    if best is None:
        return None
    ball, pocket = layout[best.ball], pocket_mouth_middle(problem.spec, best.pocket)
    wanted = angle_from_line(ball, pocket, middle)
    sides = [side_of_line(wanted, angle_from_line(ball, pocket, (float(x), float(y)))) for x, y in cloud]
    if None in sides or side_of_line(wanted, wanted) == "straight":
        return None
    return RightSide(best.ball, best.pocket, rate(sides.count("right_side"), len(sides)))


def in_zone(promise: Expected, zone: Zone) -> Rate:
    """How often the cue ball stops in a zone, of the strokes that its cloud shows."""
    inside = sum(distance_outside(zone, (float(x), float(y))) == 0 for x, y in promise.cloud)
    return rate(inside, len(promise.cloud))


def fouls_of(problem: Problem, outcomes: Outcomes) -> Flags:
    """Which strokes (n,) are fouls: the cue ball fell, the wrong ball or none first, no cushion after it."""
    on = np.array([ball in problem.on for ball in outcomes.balls])
    fell = outcomes.fate != ON_TABLE
    objects = np.array([ball != "cue" for ball in outcomes.balls])
    foul = outcomes.potted("cue") != ON_TABLE
    foul |= (outcomes.first < 0) | ~on[outcomes.first]
    if problem.game == "eight_ball" and "8" not in problem.on and "8" in outcomes.balls:
        foul |= outcomes.potted("8") != ON_TABLE  # the rack is lost
    if problem.needs_cushion:
        foul |= ~outcomes.cushion & ~fell[:, objects].any(axis=1)
    else:
        # At snooker a ball that is not on may not fall.
        foul |= (fell & (objects & ~on)[None, :]).any(axis=1)
    return np.asarray(foul)


def _called(problem: Problem, outcomes: Outcomes) -> Flags:
    if problem.call is None:
        on = [outcomes.potted(ball) != ON_TABLE for ball in problem.on if ball in outcomes.balls]
        return np.asarray(np.any(on, axis=0)) if on else np.zeros(len(outcomes.first), dtype=np.bool_)
    ball, pocket = problem.call
    if ball not in outcomes.balls:
        return np.zeros(len(outcomes.first), dtype=np.bool_)
    return np.asarray(outcomes.potted(ball) == POCKETS.index(pocket))


def _leaves(
    problem: Problem, outcomes: Outcomes, which: npt.NDArray[np.int64], spreads: Spreads, *, own: bool
) -> Share:
    """The best next pot after some of the outcomes, for the same player or for the other one."""
    which = which[:LEAVES]
    if not len(which):
        return Share(None, None, None, 0)
    book = PotBook(problem.spec)
    asked = []
    for k in which:
        layout = lies_after(outcomes, int(k))
        fallen = [ball for ball in outcomes.balls if ball not in layout and ball != "cue"]
        on = problem.after(fallen) if own else problem.opponents(layout)
        is_over = not on or (own and problem.wins(fallen))
        asked.append(None if is_over or "cue" not in layout else book.ask(layout["cue"], layout, on))
    book.solve(spreads.aim_mrad / 1000)
    found = np.array([_best(question) for question in asked])
    middle, spread = float(found.mean()), float(found.std(ddof=1)) if len(found) > 1 else 0.0
    half = Z * spread / len(found) ** 0.5
    return Share(middle, max(0.0, middle - half), min(1.0, middle + half), len(found))


def _best(question) -> float:  # type: ignore[no-untyped-def]
    """The best pot of a question; where nothing is left to be potted the rack is won."""
    if question is None:
        return 1.0
    best = question.best()
    return best.chance if best is not None else 0.0


def lies_after(outcomes: Outcomes, number: int) -> dict[str, Place]:
    """The layout after one of the outcomes."""
    return {
        ball: (float(outcomes.rest[number, i, 0]), float(outcomes.rest[number, i, 1]))
        for i, ball in enumerate(outcomes.balls)
        if outcomes.fate[number, i] == ON_TABLE
    }
