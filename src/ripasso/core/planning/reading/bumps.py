"""At straight pool: balls that the cue ball can push to where they open the next rack, off which pot."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from ripasso.core.physics.players import Spreads
from ripasso.core.physics.repeating import ON_TABLE, Outcomes, repeat, starts_of, strokes_with_errors
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.backward.orders import break_balls
from ripasso.core.planning.candidates import direct_pots, strokes_of_net
from ripasso.core.planning.problem import Problem
from ripasso.core.table import POCKETS, starting_layout
from ripasso.core.table.places import Place

#: A break ball that goes from this share of places and more needs no help; to where it would be worth less no
#: ball is pushed (common practice, no source).
NATURAL = 0.25
#: What a push must add to that share at least.
BETTER = 0.08
#: A ball was pushed that lies so far from where it lay, and came near to where it was meant to, metres.
PUSHED_M, NEAR_M = 0.03, 0.2
#: A pot with its push counts that is made so often at least, of so many tries with the player's errors.
LEAST, TRIES, SEED = 0.25, 300, 5
#: So many pots are looked at, and of each ball so many pushes, the softest first.
POTS, PUSHES = 8, 2


@dataclass(frozen=True)
class Bump:
    """A pot off which a ball is pushed to a place: `share` says how often both come off.

    `before` and `after` are the shares of places for the cue ball from which the next rack is opened off the
    ball, where it lies and where it comes to lie.
    """

    ball: str
    off: str
    pocket: str
    stroke: Stroke
    place: Place
    share: float
    before: float
    after: float


@dataclass(frozen=True)
class _Push:
    ball: str
    off: str
    pocket: str
    stroke: Stroke
    place: Place


def bumps(
    problem: Problem,
    spreads: Spreads,
    lies: Callable[[str], float],
    break_places: Callable[[Problem, str], float],
) -> list[Bump]:
    """The best bump of each ball, the likeliest first; empty where a break ball lies well already.

    `break_places` is the share of places from which a ball of a problem opens the next rack, `lies` that of
    this one.
    """
    if problem.game != "straight_pool" or "cue" not in problem.layout:
        return []
    balls = tuple(ball for ball in problem.layout if ball != "cue")
    before = {ball: lies(ball) for ball in break_balls(problem)}
    if len(balls) < 2 or max(before.values(), default=0.0) >= NATURAL:
        return []
    found: dict[str, Bump] = {}
    tried: dict[str, int] = {}
    for push in sorted(_pushes(problem, spreads), key=lambda one: one.stroke.speed):
        if tried.get(push.ball, 0) == PUSHES:
            continue
        tried[push.ball] = tried.get(push.ball, 0) + 1
        share = _comes_off(problem, push, spreads)
        if share < LEAST:
            continue
        worth, after = before.get(push.ball, 0.0), break_places(_pushed(problem, push), push.ball)
        best = found.get(push.ball)
        helps = after >= max(NATURAL, worth + BETTER)
        if helps and (best is None or share * after > best.share * best.after):
            found[push.ball] = Bump(
                push.ball, push.off, push.pocket, push.stroke, push.place, share, worth, after
            )
    return sorted(found.values(), key=lambda one: -one.share * one.after)


def _pushes(problem: Problem, spreads: Spreads) -> Iterator[_Push]:
    """Pots played exactly after which another ball lies where a break ball may lie."""
    rack = np.array([at for ball, at in starting_layout(problem.game, problem.spec).items() if ball != "cue"])
    for ball, pocket, _chance in direct_pots(problem, spreads)[:POTS]:
        strokes = strokes_of_net(problem, ball, pocket)
        if not strokes:
            continue
        outcomes = repeat(problem.layout, starts_of(strokes, problem.physics), problem.bed, problem.physics)
        made = _made(outcomes, ball, pocket)
        for other in outcomes.balls:
            if other in ("cue", ball):
                continue
            rests = outcomes.rest[:, outcomes.balls.index(other)]
            way = np.hypot(*(rests - problem.layout[other]).T)
            clear = np.hypot(*(rests[:, None] - rack[None]).transpose(2, 0, 1)).min(axis=1)
            good = made & (way > PUSHED_M) & (outcomes.potted(other) == ON_TABLE)
            for k in np.flatnonzero(good & (clear > 2 * problem.spec.ball_radius)):
                push = _Push(other, ball, pocket, strokes[k], (float(rests[k][0]), float(rests[k][1])))
                if other in break_balls(_pushed(problem, push)):
                    yield push


def _made(outcomes: Outcomes, ball: str, pocket: str) -> np.ndarray:
    """Where a ball fell into its pocket and the cue ball into none (n,)."""
    fell = outcomes.potted(ball) == POCKETS.index(pocket)
    return np.asarray(fell & (outcomes.potted("cue") == ON_TABLE))


def _pushed(problem: Problem, push: _Push) -> Problem:
    """The layout once a push came off; the cue ball's place is left open."""
    left = {ball: at for ball, at in problem.layout.items() if ball not in ("cue", push.off)}
    left[push.ball] = push.place
    return replace(problem, layout=left, on=tuple(left))


def _comes_off(problem: Problem, push: _Push, spreads: Spreads) -> float:
    """How often the pot is made and the ball pushed lies near to where it is meant to."""
    starts = strokes_with_errors(push.stroke, spreads, problem.physics, seed=SEED, count=TRIES)
    outcomes = repeat(problem.layout, starts, problem.bed, problem.physics)
    rests = outcomes.rest[:, outcomes.balls.index(push.ball)]
    near = np.hypot(*(rests - push.place).T) < NEAR_M
    stays = outcomes.potted(push.ball) == ON_TABLE
    return math.fsum(_made(outcomes, push.off, push.pocket) & near & stays) / TRIES
