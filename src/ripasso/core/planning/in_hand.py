"""Ball in hand: where the cue ball is best put, and what is played from there.

Places on a net are asked for their likeliest pot; of those that are likely some that differ are looked at
with every pace and tip, and the best are counted as any option is.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from ripasso.core.geometry.layouts import PotBook
from ripasso.core.physics.players import Spreads
from ripasso.core.planning.candidates import Candidate, net_of, routes
from ripasso.core.planning.expected import REPETITIONS, SEED
from ripasso.core.planning.options import WEIGHT, Option, Progress, Search, chosen
from ripasso.core.planning.problem import Problem
from ripasso.core.table.places import Place

#: Metres between the places of the net; places are different ideas from so far on, metres.
NET_M, APART_M = 0.09, 0.3
#: Of a ball and pocket places within this share of the likeliest are looked at, at most so many of each.
NEARLY, OF_EACH = 0.9, 4
#: So many pots and places are looked at in all, and counted in the end.
LOOKED_AT, COUNTED = 20, 6
#: At snooker the cue ball is put into the D: its line and its radius on a full-size table, metres.
BAULK_M, D_RADIUS_M, FULL_SIZE_M = 0.737, 0.292, 3.569


def places(problem: Problem) -> Iterator[Place]:
    """Places of a net at which the cue ball may be put."""
    spec, near = problem.spec, 2 * problem.spec.ball_radius + 1e-3
    balls = [place for ball, place in problem.layout.items() if ball != "cue"]
    share = spec.length / FULL_SIZE_M
    middle = spec.width / 2
    step = NET_M * (0.5 * share if spec.snooker else 1.0)
    for i in range(1, int(spec.length / step) + 1):
        for j in range(1, int(spec.width / step) + 1):
            place = (i * step, j * step)
            if place[0] > spec.length - near or place[1] > spec.width - near:
                continue
            if spec.snooker and (
                place[0] > BAULK_M * share or math.dist(place, (BAULK_M * share, middle)) > D_RADIUS_M * share
            ):
                continue
            if all(math.dist(place, ball) > near for ball in balls):
                yield place


def placed(problem: Problem, place: Place) -> Problem:
    """The problem with the cue ball put down."""
    return replace(problem, layout={"cue": place, **{b: p for b, p in problem.layout.items() if b != "cue"}})


def find_places(
    problem: Problem,
    spreads: Spreads,
    *,
    weight: float = WEIGHT,
    seed: int = SEED,
    repetitions: int = REPETITIONS,
    progress: Progress = lambda share, options: True,
) -> list[Option]:
    """Options with the cue ball in hand, each with its `cue_place`; `progress` as in `find_options`.

    Raises `ValueError` without a ball on.
    """
    if not problem.on:
        raise ValueError("Options need a ball that is on.")
    ideas = _likely(problem, spreads)
    looked: list[tuple[Problem, Candidate]] = []
    found: list[Option] = []
    for done, (place, ball, pocket) in enumerate(ideas):
        here = placed(problem, place)
        looked += [(here, route) for route in routes(net_of(here, ball, pocket, spreads), 1)]
        if not progress(0.7 * (done + 1) / len(ideas), []):
            return []
    # Of places that leave alike the one with the softer stroke.
    looked.sort(key=lambda one: (-round(one[1].next_chance, 1), one[1].stroke.speed))
    for done, (here, route) in enumerate(looked[:COUNTED]):
        search = Search(here, spreads, weight, seed, repetitions, progress)
        search.refine(route)
        found += [replace(option, cue_place=here.layout["cue"]) for option in search.found]
        if not progress(0.7 + 0.3 * (done + 1) / len(looked[:COUNTED]), chosen(found)):
            break
    return chosen(found)


def _likely(problem: Problem, spreads: Spreads) -> list[tuple[Place, str, str]]:
    """Places, balls and pockets that are likely; of each ball and pocket some places far from each other."""
    book = PotBook(problem.spec)
    questions = [
        (place, book.ask(place, {**problem.layout, "cue": place}, problem.on)) for place in places(problem)
    ]
    book.solve(spreads.aim_mrad / 1000)
    every: dict[tuple[str, str], list[tuple[float, Place]]] = {}
    for place, question in questions:
        for pot in question.pots():
            if pot.chance > 0:
                every.setdefault((pot.ball, pot.pocket), []).append((pot.chance, place))
    kept: list[tuple[float, Place, str, str]] = []
    for (ball, pocket), some in every.items():
        some.sort(reverse=True)
        own: list[Place] = []
        for chance, place in some:
            if chance < NEARLY * some[0][0] or len(own) == OF_EACH:
                break
            if all(math.dist(place, other) >= APART_M for other in own):
                own.append(place)
                kept.append((chance, place, ball, pocket))
    kept.sort(reverse=True)
    return [(place, ball, pocket) for _, place, ball, pocket in kept[:LOOKED_AT]]
