"""Strokes worth a closer look: pots aimed at directly, and whatever a sweep around the table comes upon."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import product

import numpy as np
import numpy.typing as npt

from ripasso.core.geometry.layouts import PotBook
from ripasso.core.geometry.mouths import mouths_of
from ripasso.core.geometry.pots import CLOSED, CUE_BLOCKED, CUT, OBJECT_BLOCKED, pots
from ripasso.core.physics.aiming import aim_at
from ripasso.core.physics.players import Spreads
from ripasso.core.physics.repeating import ON_TABLE, Outcomes, repeat, starts_of
from ripasso.core.physics.strokes import Stroke, with_least_elevation
from ripasso.core.planning.expected import fouls_of, lies_after
from ripasso.core.planning.problem import Problem
from ripasso.core.table import POCKETS
from ripasso.core.table.places import Place

Array = npt.NDArray[np.float64]

#: The number of a stroke, and the ball and pocket it pots.
Fallen = tuple[int, str | None, str | None]

#: Ball speeds of a net, m/s, from dead weight to power.
PACES = (0.6, 0.9, 1.3, 1.8, 2.4, 3.2, 4.3, 5.8)
#: Tip offsets of a net, radii: across and up.
TIPS = tuple((a, b) for a in (-0.3, 0.0, 0.3) for b in (-0.35, 0.0, 0.35))
#: A pot below this chance is not looked at as a direct one.
LEAST_CHANCE = 0.03
#: The sweep: azimuths between which is so much, paces and heights of the tip.
SWEEP_DEG, SWEEP_PACES, SWEEP_TIPS = 0.2, (1.4, 2.6, 4.2), ((0.0, 0.0), (0.0, -0.35), (0.0, 0.3))
SWEEP_PARTS = len(SWEEP_TIPS) * len(SWEEP_PACES)
#: The directions of a first look, degrees apart.
FIRST_DEG = 0.8
#: Azimuths around a combination's that are played, radians: a fiftieth of a degree apart.
NEAR_TURNS = tuple(np.radians(np.linspace(-0.4, 0.4, 41)))
#: So many combinations are aimed at; harder ones (metres to the third) nobody tries.
PLANTS, HARDEST_PLANT = 6, 1.0
#: Strokes whose cue ball stops so near to each other are one idea, metres.
SAME_PLACE_M = 0.25
#: A softer stroke is looked at that leaves this share of what the best one leaves.
NEARLY_AS_GOOD = 0.85


@dataclass(frozen=True)
class Candidate:
    """A stroke that does something: the ball and pocket it pots (None: nothing), where the cue ball stops."""

    stroke: Stroke
    ball: str | None
    pocket: str | None
    rest: Place
    #: The best next pot of whoever plays next, played exactly.
    next_chance: float


def aimed(problem: Problem, stroke: Stroke, ball: str, target: Place) -> Stroke | None:
    """A stroke aimed so that a ball runs over a target, with the elevation that rails force."""
    first = aim_at(stroke, problem.layout["cue"], problem.layout[ball], target, problem.physics)
    if first is None:
        return None
    raised = with_least_elevation(first, problem.spec, problem.layout)
    if raised.elevation == first.elevation:
        return first
    return aim_at(raised, problem.layout["cue"], problem.layout[ball], target, problem.physics)


def direct_pots(problem: Problem, spreads: Spreads) -> list[tuple[str, str, float]]:
    """Balls on and pockets that can be potted directly, the likeliest first, with their chance."""
    book = PotBook(problem.spec)
    question = book.ask(problem.layout["cue"], problem.layout, problem.on)
    book.solve(spreads.aim_mrad / 1000)
    likely = [(pot.ball, pot.pocket, pot.chance) for pot in question.pots() if pot.chance >= LEAST_CHANCE]
    return sorted(likely, key=lambda pot: -pot[2])


def target_of(problem: Problem, ball: str, pocket: str) -> Place:
    """Where a ball is aimed for a pocket: the middle of the window in which it drops clean."""
    layout = problem.layout
    others = [place for name, place in layout.items() if name not in ("cue", ball)]
    found = pots(
        problem.spec,
        np.array([layout["cue"]]),
        np.array([layout[ball]]),
        np.array([POCKETS.index(pocket)]),
        np.array([others], dtype=np.float64).reshape(1, -1, 2),
    )
    target = found.target[0]
    if not np.isfinite(target).all():
        target = mouths_of(problem.spec).middle[POCKETS.index(pocket)]
    return (float(target[0]), float(target[1]))


def net_of(problem: Problem, ball: str, pocket: str, spreads: Spreads) -> list[Candidate]:
    """Strokes of every pace and tip that pot a ball, played exactly."""
    return made_by(problem, strokes_of_net(problem, ball, pocket), spreads)


def strokes_of_net(problem: Problem, ball: str, pocket: str) -> list[Stroke]:
    """Strokes of every pace and tip that are aimed so that a ball drops."""
    target = target_of(problem, ball, pocket)
    nets = (Stroke(0.0, pace, a, b) for pace, (a, b) in product(PACES, TIPS))
    return [stroke for one in nets if (stroke := aimed(problem, one, ball, target)) is not None]


def around(problem: Problem, candidate: Candidate, spreads: Spreads) -> list[Candidate]:
    """Strokes a little softer, harder, and with the tip a little elsewhere, aimed anew."""
    if candidate.ball is None or candidate.pocket is None:
        return []
    one, ball = candidate.stroke, candidate.ball
    target = target_of(problem, ball, candidate.pocket)
    near = product((0.88, 1.0, 1.13), (-0.12, 0.0, 0.12), (-0.14, 0.0, 0.14))
    strokes = [
        aimed(problem, replace(one, speed=one.speed * share, a=one.a + a, b=one.b + b), ball, target)
        for share, a, b in near
    ]
    kept = [stroke for stroke in strokes if stroke is not None and not stroke.slips]
    wanted = (candidate.ball, candidate.pocket)
    return [c for c in made_by(problem, kept, spreads) if (c.ball, c.pocket) == wanted]


def made_by(problem: Problem, strokes: Sequence[Stroke], spreads: Spreads) -> list[Candidate]:
    """What strokes do that are played exactly: those that pot a ball legally."""
    if not strokes:
        return []
    outcomes = repeat(problem.layout, starts_of(strokes, problem.physics), problem.bed, problem.physics)
    fouls = fouls_of(problem, outcomes)
    found = [(int(k), *potted(problem, outcomes, int(k))) for k in np.flatnonzero(~fouls)]
    return _with_next(problem, strokes, outcomes, [one for one in found if one[1] is not None], spreads)


def first_look(problem: Problem) -> list[Stroke]:
    """The plainest strokes in few directions: they find an answer long before the whole sweep is played."""
    return [replace(stroke, speed=SWEEP_PACES[0]) for stroke in _around(problem, SWEEP_TIPS[0], FIRST_DEG)]


def sweep(problem: Problem) -> Iterator[list[Stroke]]:
    """Strokes in all directions, `SWEEP_PARTS` lists: one for each pace and height, the plainest first."""
    for tip in SWEEP_TIPS:
        raised = _around(problem, tip, SWEEP_DEG)
        for pace in SWEEP_PACES:
            yield [replace(stroke, speed=pace) for stroke in raised]


def _around(problem: Problem, tip: tuple[float, float], step_deg: float) -> list[Stroke]:
    """Strokes around the table, no flatter than rail and balls allow."""
    turns = np.radians(np.arange(0.0, 360.0, step_deg))
    strokes = (Stroke(float(phi), 1.0, *tip) for phi in turns)
    return [with_least_elevation(stroke, problem.spec, problem.layout) for stroke in strokes]


def combinations(problem: Problem, spreads: Spreads) -> list[Candidate]:
    """Pots of one ball by another: aimed so that the ball on runs to where it must meet the next one.

    What the second contact throws and the paths in between is found by playing azimuths close by.
    """
    firsts = (ball for ball in problem.on if ball in problem.layout)
    plants = [plant for first in firsts for plant in _plants(problem, first)]
    strokes: list[Stroke] = []
    for _, first, meets in sorted(plants)[:PLANTS]:
        for pace, (a, b) in product(SWEEP_PACES, SWEEP_TIPS):
            middle = aimed(problem, Stroke(0.0, pace, a, b), first, meets)
            if middle is not None:
                strokes += [replace(middle, phi=middle.phi + turn) for turn in NEAR_TURNS]
    if not strokes:
        return []
    outcomes = repeat(problem.layout, starts_of(strokes, problem.physics), problem.bed, problem.physics)
    legal = np.flatnonzero(~fouls_of(problem, outcomes))
    fallen = [(int(k), *potted(problem, outcomes, int(k))) for k in legal]
    first_met = [outcomes.balls[number] for number in outcomes.first]
    made = [one for one in fallen if one[1] is not None and one[1] != first_met[one[0]]]
    return _with_next(problem, strokes, outcomes, _middles(made), spreads)


def _plants(problem: Problem, first: str) -> Iterator[tuple[float, str, Place]]:
    """How hard a pot by a first ball is, that ball, and where its centre has to be when it meets the second.

    An error of the cue ball's aim grows with every way (in lengths of a metre) and with every cut.
    """
    layout = problem.layout
    for second in problem.counting:
        if second == first:
            continue
        others = [place for name, place in layout.items() if name not in ("cue", first, second)]
        asked = len(POCKETS)
        found = pots(
            problem.spec,
            np.repeat([layout[first]], asked, axis=0),
            np.repeat([layout[second]], asked, axis=0),
            np.arange(asked),
            np.repeat(np.array([others], dtype=np.float64).reshape(1, -1, 2), asked, axis=0),
        )
        ways = math.dist(layout["cue"], layout[first]) * found.cue_travel * found.object_travel
        hard = ways / np.maximum(0.1, np.cos(found.cut))
        is_open = ~np.isin(found.obstacle, (CLOSED, CUT, OBJECT_BLOCKED, CUE_BLOCKED))
        for number in np.flatnonzero(is_open & np.isfinite(hard) & (hard < HARDEST_PLANT)):
            x, y = found.ghost[number]
            yield float(hard[number]), first, (float(x), float(y))


def come_upon(
    problem: Problem, strokes: Sequence[Stroke], spreads: Spreads, most: int
) -> tuple[list[Candidate], list[Candidate]]:
    """What a sweep comes upon: pots of any kind, and legal strokes that leave little (at most so many)."""
    outcomes = repeat(problem.layout, starts_of(strokes, problem.physics), problem.bed, problem.physics)
    legal = np.flatnonzero(~fouls_of(problem, outcomes))
    made_ones: list[Fallen] = []
    others: list[Fallen] = []
    for k in legal:
        ball, pocket = potted(problem, outcomes, int(k))
        (made_ones if ball else others).append((int(k), ball, pocket))
    made = _with_next(problem, strokes, outcomes, _middles(made_ones), spreads)
    # Of strokes that pot nothing a spread-out part is asked what it leaves.
    step = max(1, len(others) // most)
    left = _with_next(problem, strokes, outcomes, others[::step][:most], spreads)
    return made, sorted(left, key=lambda candidate: candidate.next_chance)


def _middles(found: Sequence[Fallen]) -> list[Fallen]:
    """Of neighbouring azimuths that pot the same ball the one in their middle."""
    runs: list[list[Fallen]] = []
    for one in found:
        if runs and one[0] == runs[-1][-1][0] + 1 and one[1:] == runs[-1][-1][1:]:
            runs[-1].append(one)
        else:
            runs.append([one])
    return [run[len(run) // 2] for run in runs]


def potted(problem: Problem, outcomes: Outcomes, number: int) -> tuple[str | None, str | None]:
    """A ball on (else another one that counts) that fell, and its pocket."""
    fell = [
        (ball, POCKETS[int(fate)])
        for ball, fate in zip(outcomes.balls, outcomes.fate[number], strict=True)
        if fate != ON_TABLE and ball != "cue"
    ]
    own = [one for one in fell if one[0] in problem.on]
    return next(iter(own + [one for one in fell if one[0] in problem.counting]), (None, None))


def _with_next(
    problem: Problem,
    strokes: Sequence[Stroke],
    outcomes: Outcomes,
    chosen: Sequence[Fallen],
    spreads: Spreads,
) -> list[Candidate]:
    book = PotBook(problem.spec)
    asked = []
    for k, ball, _ in chosen:
        layout = lies_after(outcomes, int(k))
        fallen = [name for name in problem.layout if name not in layout and name != "cue"]
        on = problem.after(fallen) if ball else problem.opponents(layout)
        is_over = not on or problem.wins(fallen)
        asked.append(None if is_over or "cue" not in layout else book.ask(layout["cue"], layout, on))
    book.solve(spreads.aim_mrad / 1000)
    cue = outcomes.balls.index("cue")
    made = []
    for (k, ball, pocket), question in zip(chosen, asked, strict=True):
        best = question.best() if question is not None else None
        chance = best.chance if best is not None else float(question is None)
        rest = (float(outcomes.rest[k, cue, 0]), float(outcomes.rest[k, cue, 1]))
        made.append(Candidate(strokes[k], ball, pocket, rest, chance))
    return made


def different(candidates: Sequence[Candidate], most: int) -> list[Candidate]:
    """The best of candidates that stop the cue ball at different places."""
    kept: list[Candidate] = []
    for one in sorted(candidates, key=lambda candidate: -candidate.next_chance):
        if all(math.dist(one.rest, other.rest) > SAME_PLACE_M for other in kept):
            kept.append(one)
        if len(kept) == most:
            break
    return kept


def routes(candidates: Sequence[Candidate], most: int) -> list[Candidate]:
    """At most so many that differ, among them the softest of those that leave nearly as much as the best."""
    kept = different(candidates, most)
    if not kept:
        return []
    nearly = [one for one in candidates if one.next_chance >= NEARLY_AS_GOOD * kept[0].next_chance]
    softest = min(nearly, key=lambda one: one.stroke.speed)
    if softest in kept:
        return kept
    return [*kept[: max(1, most - 1)], softest]
