"""What a player of the demo sees on a table and decides to play: pots with their position, or a safety."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from ripasso.core.physics.players import Spreads
from ripasso.core.physics.strokes import Stroke, with_least_elevation
from ripasso.core.planning.candidates import Candidate, come_upon, direct_pots, net_of
from ripasso.core.planning.expected import Expected, expected
from ripasso.core.planning.in_hand import placed, places
from ripasso.core.planning.problem import Problem

#: Balls with pockets whose strokes are looked at, strokes of each that are played often, and how often.
POTS, STROKES, REPETITIONS = 4, 2, 60
#: What a pot is worth that leaves nothing, and how much a harder stroke and side cost.
ALONE, HARDER, SIDE = 0.3, 0.02, 0.05
#: How far a player's feeling for a value is off.
FEELING = 0.09
#: A fan at a ball: so many directions across it and these speeds (m/s); strokes whose leave is looked at.
FAN, SAFE_SPEEDS, LEAVES = 31, (0.9, 1.4, 2.1, 3.0), 60
#: Degrees between the directions of a kick, and its speeds.
KICK_DEG, KICK_SPEEDS = 1.0, (1.8, 2.8)


@dataclass(frozen=True)
class Choice:
    """A stroke somebody means to play, on which balls, with what it promises; `ball` is None for a safety."""

    problem: Problem
    stroke: Stroke
    ball: str | None
    pocket: str | None
    promise: Expected | None
    value: float

    @property
    def chance(self) -> float:
        """The chance of the pot."""
        return (self.promise.pot.rate or 0.0) if self.promise else 0.0


def pots_of(problems: Sequence[Problem], spreads: Spreads, seed: int) -> list[Choice]:
    """The pots worth thinking of, the most valuable first: of each ball and pocket the best stroke."""
    likely = [
        (chance, one, ball, pocket) for one in problems for ball, pocket, chance in direct_pots(one, spreads)
    ]
    found = []
    for _, problem, ball, pocket in sorted(likely, key=lambda pot: -pot[0])[:POTS]:
        made = [
            one for one in net_of(problem, ball, pocket, spreads) if (one.ball, one.pocket) == (ball, pocket)
        ]
        made.sort(key=lambda one: -_first_look(one))
        called = problem.with_call(ball, pocket)
        looked = [_looked_at(called, one, spreads, seed) for one in _apart(made)[:STROKES]]
        found += [max(looked, key=lambda choice: choice.value)] if looked else []
    return sorted(found, key=lambda choice: -choice.value)


def _first_look(one: Candidate) -> float:
    return one.next_chance - HARDER * one.stroke.speed - SIDE * abs(one.stroke.a)


def _apart(made: Sequence[Candidate]) -> list[Candidate]:
    kept: list[Candidate] = []
    for one in made:
        if all(math.dist(one.rest, other.rest) > 0.2 for other in kept):
            kept.append(one)
    return kept


def _looked_at(called: Problem, one: Candidate, spreads: Spreads, seed: int) -> Choice:
    promise = expected(called, one.stroke, spreads, seed=seed, repetitions=REPETITIONS)
    leave = promise.leave.value or 0.0
    value = (promise.pot.rate or 0.0) * (ALONE + (1 - ALONE) * leave)
    value -= HARDER * one.stroke.speed / 2 + (promise.scratch.rate or 0.0)
    return Choice(called, one.stroke, one.ball, one.pocket, promise, value)


def felt_best(choices: Sequence[Choice], chance: random.Random) -> Choice:
    """The choice that somebody takes for the best: nobody feels values exactly."""
    return max(choices, key=lambda choice: choice.value + chance.gauss(0, FEELING))


def safety_of(
    problems: Sequence[Problem], spreads: Spreads, speeds: Sequence[float] = SAFE_SPEEDS
) -> Choice | None:
    """A legal stroke that pots nothing and leaves little; through cushions where no ball is seen."""
    for fan in (_fans, _kicks):
        quiet: list[tuple[Problem, Candidate]] = []
        for problem in problems:
            strokes = [
                with_least_elevation(one, problem.spec, problem.layout)
                for one in fan(problem, speeds if fan is _fans else KICK_SPEEDS)
            ]
            quiet += [(problem, one) for one in come_upon(problem, strokes, spreads, LEAVES)[1]]
        if quiet:
            least = min(one.next_chance for _, one in quiet)
            near = [pair for pair in quiet if pair[1].next_chance <= least + 0.08]
            problem, best = min(near, key=lambda pair: pair[1].stroke.speed)
            return Choice(problem, best.stroke, None, None, None, 1 - best.next_chance)
    return None


def _fans(problem: Problem, speeds: Sequence[float]) -> Iterator[Stroke]:
    cue = problem.layout["cue"]
    for ball in problem.on:
        if ball not in problem.layout:
            continue
        x, y = problem.layout[ball]
        way, far = math.atan2(y - cue[1], x - cue[0]), math.dist(cue, (x, y))
        half = math.asin(min(1.0, 2 * problem.spec.ball_radius / far)) * 0.97
        for speed in speeds:
            for step in range(FAN):
                for b in (0.0, -0.3):
                    yield Stroke(way + half * (2 * step / (FAN - 1) - 1), speed, 0.0, b)


def _kicks(problem: Problem, speeds: Sequence[float]) -> Iterator[Stroke]:
    for speed in speeds:
        for step in range(int(360 / KICK_DEG)):
            yield Stroke(math.radians(step * KICK_DEG), speed)


def in_hand(
    problems: Sequence[Problem], spreads: Spreads, chance: random.Random, *, kitchen: bool
) -> tuple[float, float]:
    """Where somebody puts the cue ball down: where a pot is likeliest, of a handful of places."""
    tried: list[tuple[float, tuple[float, float]]] = []
    for problem in problems:
        free = [place for place in places(problem) if not kitchen or place[0] <= problem.spec.length / 4]
        for place in chance.sample(free, min(120, len(free))):
            likely = direct_pots(placed(problem, place), spreads)
            tried.append((likely[0][2] if likely else 0.0, place))
    best = max(value for value, _ in tried)
    return chance.choice([place for value, place in tried if value >= best - 0.02])


def to_ball(choice: Choice) -> float:
    """The direction from the cue ball to the ball that is to be potted; nan for a safety."""
    if choice.ball is None:
        return math.nan
    cue, ball = choice.problem.layout["cue"], choice.problem.layout[choice.ball]
    return math.atan2(ball[1] - cue[1], ball[0] - cue[0])


def reduced(problem: Problem, on: Sequence[str]) -> Problem:
    """The same table with other balls on."""
    return replace(problem, on=tuple(on))
