"""What can be played from a layout: at most six options that differ for a person, the best first.

Direct pots come first, as they are found first; then whatever a sweep around the table comes upon: banks,
combinations, cannons, kicks, safeties. Every figure is counted on repetitions with the player's errors.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace

from ripasso.core.physics.motion import Event, Motion, simulate
from ripasso.core.physics.players import Spreads
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.candidates import (
    SWEEP_PARTS,
    Candidate,
    around,
    combinations,
    come_upon,
    different,
    direct_pots,
    first_look,
    net_of,
    routes,
    sweep,
)
from ripasso.core.planning.expected import REPETITIONS, SEED, Expected, Share, expected
from ripasso.core.planning.problem import Problem
from ripasso.core.table.places import Place

#: How much a miss that leaves nothing counts against a pot and the next one; a setting.
WEIGHT = 0.5
#: So many options are shown; so many direct pots are looked at, and strokes of each.
SHOWN, DIRECT, ROUTES = 6, 8, 3
#: Of what the sweep comes upon so many pots and quiet strokes are repeated.
INDIRECT, SAFETIES, ASKED, COMBINATIONS = 12, 8, 400, 6
#: Of a first look so many quiet strokes are asked what they leave.
FIRST_ASKED = 40
#: Shares of the work: direct pots where there are any, combinations, and all until the sweep is done.
SHARE_OF_DIRECT, SHARE_OF_COMBINATIONS, SWEPT = 0.5, 0.1, 0.8
#: Of strokes near a route so many are tried so often; a softer one that is worth nearly as much is preferred.
TRIED, QUICK, AS_GOOD = 5, 120, 0.02
#: A pot that is made less often is not shown as one.
LEAST_POT = 0.05
Z = 1.960


@dataclass(frozen=True)
class Option:
    """One option: its kind, the stroke, what it promises, its value with interval.

    Kinds are pot, bank, combination, carom, kick and safety. `cushions` are those of the cue ball after its
    first contact (before it at a kick). `value` weighs a safe miss; `both` is the chance of this pot and the
    next one.
    """

    kind: str
    ball: str
    pocket: str | None
    stroke: Stroke
    cushions: tuple[str, ...]
    motion: Motion
    expected: Expected
    both: float
    value: Share
    tied: bool = False
    #: Where the cue ball is put; None where it lies already.
    cue_place: Place | None = None


Progress = Callable[[float, Sequence[Option]], bool]


def find_options(
    problem: Problem,
    spreads: Spreads,
    *,
    weight: float = WEIGHT,
    seed: int = SEED,
    repetitions: int = REPETITIONS,
    progress: Progress = lambda share, options: True,
) -> list[Option]:
    """Options of a problem with a cue ball; `progress` is told what is found and says whether to go on.

    Raises `ValueError` without a cue ball or a ball on.
    """
    search = searched(problem, spreads, weight=weight, seed=seed, repetitions=repetitions, progress=progress)
    return search.shown


def searched(
    problem: Problem,
    spreads: Spreads,
    *,
    weight: float = WEIGHT,
    seed: int = SEED,
    repetitions: int = REPETITIONS,
    enough: float = math.inf,
    progress: Progress = lambda share, options: True,
) -> Search:
    """The search that `find_options` shows the best of, with everything that was judged.

    Where direct pots are worth `enough` for sure, nothing else is looked for.
    """
    if "cue" not in problem.layout or not problem.on:
        raise ValueError("Options need a cue ball and a ball that is on.")
    search = Search(problem, spreads, weight, seed, repetitions, progress, enough)
    search.run()
    return search


@dataclass
class Search:
    """One search: what comes quickly and is likely first, so that an answer stands while the rest goes on."""

    problem: Problem
    spreads: Spreads
    weight: float
    seed: int
    repetitions: int
    progress: Progress
    enough: float = math.inf
    found: list[Option] = field(default_factory=list)

    @property
    def shown(self) -> list[Option]:
        """The best of what was found so far."""
        return chosen(self.found)

    def run(self) -> None:
        """Direct pots, combinations, then a sweep around the table; ends early where that is wanted."""
        pots = direct_pots(self.problem, self.spreads)[:DIRECT]
        share = SHARE_OF_DIRECT if pots else 0.0
        if not self._direct(pots, share):
            return
        if any((one.value.low or 0.0) >= self.enough for one in self.found):
            self.progress(1.0, self.shown)
            return
        aimed = combinations(self.problem, self.spreads)
        for candidate in _spread(aimed, COMBINATIONS):
            self._take(candidate)
        share += SHARE_OF_COMBINATIONS
        if self.progress(share, self.shown):
            self._swept({(ball, pocket) for ball, pocket, _ in pots}, share)

    def _direct(self, pots: Sequence[tuple[str, str, float]], share: float) -> bool:
        for done, (ball, pocket, _chance) in enumerate(pots):
            for route in routes(net_of(self.problem, ball, pocket, self.spreads), ROUTES):
                begun = share * (done + 0.5) / len(pots)
                if not self.found:
                    self._take(route)  # an answer before it is refined
                    if not self.progress(0.5 * begun, self.shown):
                        return False
                self.refine(route)
                if not self.progress(begun, self.shown):
                    return False
        return True

    def _swept(self, direct: set[tuple[str, str]], share: float) -> None:
        """What strokes all around come upon; an early part is judged at once where nothing was found yet."""
        made: list[Candidate] = []
        quiet: list[Candidate] = []
        looks_first = not self.found
        if looks_first:
            self._take_one(*come_upon(self.problem, first_look(self.problem), self.spreads, FIRST_ASKED))
            if not self.progress(share, self.shown):
                return
        for done, strokes in enumerate(sweep(self.problem)):
            pots, left = come_upon(self.problem, strokes, self.spreads, ASKED // SWEEP_PARTS)
            made += [one for one in pots if (one.ball, one.pocket) not in direct]
            quiet += [_turned(one) for one in left]
            if not self.found or (looks_first and done == 0):
                self._take_one(made, left)
            if not self.progress(share + (SWEPT - share) * (done + 1) / SWEEP_PARTS, self.shown):
                return
        last = (*_spread(made, INDIRECT), *different(quiet, SAFETIES))
        for number, candidate in enumerate(last):
            self._take(candidate)
            if not self.progress(SWEPT + (1 - SWEPT) * number / len(last), self.shown):
                return
        self.progress(1.0, self.shown)

    def _take_one(self, made: Sequence[Candidate], left: Sequence[Candidate]) -> None:
        """Judge the likeliest pot and the quietest stroke of a part: an answer before the rest is played."""
        for candidate in (*_spread(made, 1), *different([_turned(one) for one in left], 1)):
            self._take(candidate)

    def refine(self, route: Candidate) -> None:
        """Judge the best stroke near a route."""
        self._take(_refined(self.problem, route, self.spreads, self.weight, self.seed + 1))

    def _take(self, candidate: Candidate) -> None:
        """Judge a candidate; what is hardly ever made is no pot to be shown."""
        option = _judged(self.problem, candidate, self.spreads, self.weight, self.seed, self.repetitions)
        if candidate.ball is None or (option.expected.pot.rate or 0.0) >= LEAST_POT:
            self.found.append(option)


def _turned(quiet: Candidate) -> Candidate:
    """A quiet stroke ordered by how little it leaves."""
    return Candidate(quiet.stroke, quiet.ball, quiet.pocket, quiet.rest, 1 - quiet.next_chance)


def _spread(candidates: Sequence[Candidate], most: int) -> list[Candidate]:
    """The softest and best of each ball and pocket, then further ones, at most so many."""
    groups: dict[tuple[str | None, str | None], list[Candidate]] = {}
    for one in sorted(candidates, key=lambda candidate: -candidate.next_chance):
        groups.setdefault((one.ball, one.pocket), []).append(one)
    kept: list[Candidate] = []
    for place in range(3):
        kept += [group[place] for group in groups.values() if place < len(group)]
    return kept[:most]


def _refined(problem: Problem, route: Candidate, spreads: Spreads, weight: float, seed: int) -> Candidate:
    """The best stroke near a route as the player plays it; of those as good the softest."""
    near = sorted((route, *around(problem, route, spreads)), key=lambda one: -one.next_chance)
    softest = min(near, key=lambda one: one.stroke.speed)
    meant = problem.with_call(route.ball or "", route.pocket or "")
    tried = []
    for one in (*near[:TRIED], softest):
        promise = expected(meant, one.stroke, spreads, seed=seed, repetitions=QUICK)
        tried.append((valued(promise, weight)[1].value or 0.0, one))
    best = max(value for value, _ in tried)
    return min((one for value, one in tried if value >= best - AS_GOOD), key=lambda one: one.stroke.speed)


def option_of(
    problem: Problem,
    stroke: Stroke,
    spreads: Spreads,
    *,
    weight: float = WEIGHT,
    seed: int = SEED,
    repetitions: int = REPETITIONS,
) -> Option:
    """A stroke of somebody's own as an option; its ball and pocket are those it pots when played exactly."""
    motion = simulate(problem.layout, stroke, problem.bed, problem.physics)
    fell = next(
        (event for event in motion.events if event.kind == "pocket" and event.balls != ("cue",)), None
    )
    ball, pocket = (fell.balls[0], fell.met) if fell is not None else problem.call or (None, None)
    place = motion.rest().get("cue", (0.0, 0.0))
    return _judged(problem, Candidate(stroke, ball, pocket, place, 0.0), spreads, weight, seed, repetitions)


def _judged(
    problem: Problem, candidate: Candidate, spreads: Spreads, weight: float, seed: int, repetitions: int
) -> Option:
    motion = simulate(problem.layout, candidate.stroke, problem.bed, problem.physics)
    kind, cushions, first = kind_of(motion, candidate.ball)
    meant = problem
    if candidate.ball is not None and candidate.pocket is not None:
        meant = problem.with_call(candidate.ball, candidate.pocket)
    promise = expected(meant, candidate.stroke, spreads, seed=seed, repetitions=repetitions)
    both, value = valued(promise, weight)
    ball = candidate.ball or first or problem.on[0]
    return Option(kind, ball, candidate.pocket, candidate.stroke, cushions, motion, promise, both, value)


def valued(promise: Expected, weight: float) -> tuple[float, Share]:
    """The chance of this pot and the next, and the value that weighs what a legal miss leaves."""
    count = promise.repetitions
    pot, foul = promise.pot.rate or 0.0, promise.foul.rate or 0.0
    leave, left = promise.leave.value or 0.0, promise.left.value
    both = pot * leave
    miss = max(0.0, 1 - pot - foul)
    safe = 1 - left if left is not None else 0.0
    value = both + weight * miss * safe
    # To first order: shares of repetitions, and means over leaves.
    slope = leave - weight * safe
    spread = slope**2 * pot * (1 - pot) / count + (weight * safe) ** 2 * foul * (1 - foul) / count
    spread += (pot * _half(promise.leave) / Z) ** 2 + (weight * miss * _half(promise.left) / Z) ** 2
    half = Z * math.sqrt(spread)
    return both, Share(value, max(0.0, value - half), min(1.0, value + half), count)


def _half(share: Share) -> float:
    return (share.high - share.low) / 2 if share.high is not None and share.low is not None else 0.0


def kind_of(motion: Motion, ball: str | None) -> tuple[str, tuple[str, ...], str | None]:
    """The kind of a stroke that was played exactly, the cue ball's cushions, the ball met first."""
    before: list[str] = []
    after: list[str] = []
    first: str | None = None
    for event in motion.events:
        if event.kind == "ball_ball" and "cue" in event.balls and first is None:
            first = next(name for name in event.balls if name != "cue")
        elif event.kind == "cushion" and event.balls == ("cue",):
            (after if first is not None else before).append(event.met)
    if before:
        return "kick", tuple(before), first
    if ball is None:
        return "safety", tuple(after), first
    return _kind_of_pot(motion.events, ball, first), tuple(after), first


def _kind_of_pot(events: Iterable[Event], ball: str, first: str | None) -> str:
    banked, by_cue, by_other = False, False, False
    for event in events:
        if ball not in event.balls:
            continue
        if event.kind == "ball_ball":
            by_cue, by_other = by_cue or "cue" in event.balls, by_other or "cue" not in event.balls
        elif event.kind == "cushion":
            banked = True
        elif event.kind == "pocket":
            break
    if ball != first:
        return "carom" if by_cue and not by_other else "combination"
    return "bank" if banked else "pot"


def chosen(found: Sequence[Option]) -> list[Option]:
    """The best that differ for a person: another ball, pocket, kind or route; those as good are marked."""
    kept: list[Option] = []
    for option in sorted(found, key=lambda one: -(one.value.value or 0.0)):
        if len(kept) < SHOWN and not any(_alike(option, other) for other in kept):
            kept.append(option)
    if not kept:
        return []
    least = kept[0].value.low or 0.0
    return [
        replace(one, tied=place > 0 and (one.value.high or 0.0) >= least) for place, one in enumerate(kept)
    ]


def _alike(one: Option, other: Option) -> bool:
    if (one.kind, one.ball, one.pocket) != (other.kind, other.ball, other.pocket):
        return False
    if one.cushions != other.cushions:
        return False
    if one.expected.rest is None or other.expected.rest is None:
        return True
    return math.dist(one.expected.rest, other.expected.rest) < 0.3
