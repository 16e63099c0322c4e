"""Small racks solved by a plain slow method: `python -m tests.core.planning.slow_maps` writes its answers.

Every stroke of the net is aimed by root finding on the simulator and played with all balls at many errors,
from every place; nothing of the maps' own code is used but the list of strokes. The answers are kept, as they
take minutes.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np
from scipy.stats import norm, qmc

from ripasso.core.physics.bed import bed_of
from ripasso.core.physics.parameters import physics_of
from ripasso.core.physics.players import Spreads, spreads_of_level
from ripasso.core.physics.repeating import ON_TABLE, played, repeat
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.backward.setting import PACES, TIPS
from ripasso.core.planning.candidates import aimed, target_of
from ripasso.core.planning.problem import Problem
from ripasso.core.table import POCKETS, pocket_mouth_middle, table_spec
from ripasso.core.table.places import Place
from tests.core.planning.plan_study import scattered

KEPT = Path(__file__).with_name("slow_maps.json")
SEED, LAYOUTS, THREE_FROM = 7, 10, 6
ERRORS, STEP_M, ASKED = 64, 0.21, 12
LEVEL = "club"
#: The best strokes that are turned a little, by how much (degrees), with how many errors they are looked at.
KEPT_STROKES, OFFS_DEG, CHOSEN = 10, (-0.75, -0.5, -0.25, 0.0, 0.25, 0.5, 0.75), 128
#: The best of those that are turned less, by how much, with how many errors they are chosen and stated.
FINE_STROKES, FINE_DEG, FINELY, STATED = 4, (-0.125, 0.0, 0.125), 512, 4096


def errors(count: int = ERRORS, seed: int = SEED) -> np.ndarray:
    """Normal errors (`count`, 4) from a scrambled Sobol sequence."""
    return norm.ppf(qmc.Sobol(4, seed=seed).random(count))


def layouts() -> list[dict[str, Place]]:
    """Layouts of two balls, then of three, without a cue ball."""
    rng, spec = np.random.default_rng(SEED), table_spec(None)
    found = []
    for number in range(LAYOUTS):
        names = ["8", "9"] if number < THREE_FROM else ["7", "8", "9"]
        found.append(scattered(rng, names, spec.length, spec.width))
    return found


def axes() -> tuple[np.ndarray, np.ndarray]:
    """The places of a slow map along both sides."""
    spec = table_spec(None)
    radius = spec.ball_radius
    return (
        np.linspace(radius, spec.length - radius, 1 + round(spec.length / STEP_M)),
        np.linspace(radius, spec.width - radius, 1 + round(spec.width / STEP_M)),
    )


def is_free(layout: Mapping[str, Place], place: Place) -> bool:
    """No ball lies at a place."""
    reach = 2 * table_spec(None).ball_radius
    return all(np.hypot(place[0] - x, place[1] - y) > reach for x, y in layout.values())


def value_from(
    layout: Mapping[str, Place], place: Place, after: np.ndarray | None, spreads: Spreads
) -> float:
    """The best chance from a place to clear; `after` is the map of the next state (None: nothing is left)."""
    spec = table_spec(None)
    ball = min(layout, key=int)
    problem = Problem(
        "nine_ball", spec, {"cue": place, **layout}, (ball,), None, bed_of(spec), physics_of(spec)
    )
    own, found = errors(), list[tuple[float, Stroke, str]]()
    for pocket in _near(problem, ball):
        target = target_of(problem, ball, pocket)
        for pace in PACES:
            for a, b in TIPS:
                stroke = aimed(problem, Stroke(0.0, pace, a, b), ball, target)
                if stroke is not None:
                    least = max((worth for worth, _, _ in found), default=0.0)
                    worth = _worth(problem, stroke, ball, pocket, after, own, spreads, least)
                    found.append((worth, stroke, pocket))
    if not found:
        return 0.0
    found.sort(key=lambda one: -one[0])
    # Aimed at the middle of the window they were chosen; a little to its sides may be better. What is chosen
    # with some errors is stated with others: the best of many would be stated too well by its own.
    best = [(stroke, pocket) for _, stroke, pocket in found[:KEPT_STROKES]]
    for kept, offs, count, seed in (
        (FINE_STROKES, OFFS_DEG, CHOSEN, SEED + 1),
        (1, FINE_DEG, FINELY, SEED + 3),
    ):
        own = errors(count, seed)
        turned = [(_turned(stroke, off), pocket) for stroke, pocket in best for off in offs]
        worths = [_worth(problem, one, ball, pocket, after, own, spreads, 0.0) for one, pocket in turned]
        best = [turned[number] for number in np.argsort(worths)[::-1][:kept]]
    stroke, pocket = best[0]
    return _worth(problem, stroke, ball, pocket, after, errors(STATED, SEED + 2), spreads, 0.0)


def _turned(stroke: Stroke, off_deg: float) -> Stroke:
    return replace(stroke, phi=stroke.phi + float(np.radians(off_deg)))


def _near(problem: Problem, ball: str) -> list[str]:
    """The pockets into which the ball is cut by less than 87 degrees."""
    cue, at = np.array(problem.layout["cue"]), np.array(problem.layout[ball])
    found = []
    for pocket in POCKETS:
        way = np.array(pocket_mouth_middle(problem.spec, pocket)) - at
        come = at - cue
        cosine = float(way @ come / (np.hypot(*way) * np.hypot(*come)))
        if cosine > np.cos(np.radians(87)):
            found.append(pocket)
    return found


def _worth(
    problem: Problem,
    stroke: Stroke,
    ball: str,
    pocket: str,
    after: np.ndarray | None,
    own: np.ndarray,
    spreads: Spreads,
    least: float,
) -> float:
    """The mean over errors of the next state's value where the pot is made; few errors first."""
    total = 0.0
    for part in (slice(0, 16), slice(16, len(own))):
        starts = played(stroke, spreads, own[part], problem.physics)
        outcomes = repeat(problem.layout, starts, problem.bed, problem.physics, threads=1)
        made = (outcomes.potted(ball) == POCKETS.index(pocket)) & (outcomes.potted("cue") == ON_TABLE)
        made &= outcomes.first == outcomes.balls.index(ball)
        rests = outcomes.rest[:, outcomes.balls.index("cue")]
        worths = np.ones(len(made)) if after is None else read(after, rests)
        total += float((made * worths).sum())
        if part.start == 0 and total / 16 < least - 0.25:
            return 0.0
    return total / len(own)


def read(after: np.ndarray, places: np.ndarray) -> np.ndarray:
    """A slow map between its places."""
    from scipy.interpolate import RegularGridInterpolator

    xs, ys = axes()
    inside = np.clip(places, [xs[0], ys[0]], [xs[-1], ys[-1]])
    return RegularGridInterpolator((xs, ys), after)(inside)


def slow_map(layout: Mapping[str, Place], after: np.ndarray | None, spreads: Spreads) -> np.ndarray:
    """The value at every place; where a ball lies that of the places beside."""
    xs, ys = axes()
    found = np.full((len(xs), len(ys)), np.nan)
    for i, x in enumerate(xs):
        for j, y in enumerate(ys):
            if is_free(layout, (float(x), float(y))):
                found[i, j] = value_from(layout, (float(x), float(y)), after, spreads)
    for i, j in np.argwhere(np.isnan(found)):
        near = found[max(0, i - 1) : i + 2, max(0, j - 1) : j + 2]
        found[i, j] = np.nanmean(near)
    return found


def solved(layout: Mapping[str, Place], rng: np.random.Generator) -> dict[str, object]:
    """The map of the last ball, and of the whole rack the values at some places."""
    spec, spreads = table_spec(None), spreads_of_level(LEVEL, snooker=False)
    balls = sorted(layout, key=int)
    after: np.ndarray | None = None
    last: np.ndarray | None = None
    for first in range(len(balls) - 1, 0, -1):
        after = slow_map({ball: layout[ball] for ball in balls[first:]}, after, spreads)
        last = after if last is None else last
    asked = []
    while len(asked) < ASKED:
        x, y = float(rng.uniform(0.1, spec.length - 0.1)), float(rng.uniform(0.1, spec.width - 0.1))
        if is_free(layout, (x, y)):
            asked.append([x, y, value_from(layout, (x, y), after, spreads)])
    assert last is not None
    return {"layout": layout, "last": last.round(4).tolist(), "whole": asked}


def main() -> None:
    """Solve every layout, two at a time, and keep the answers."""
    randoms = [np.random.default_rng((SEED, number)) for number in range(LAYOUTS)]
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(solved, layouts(), randoms))
    KEPT.write_text(json.dumps(found) + "\n")


if __name__ == "__main__":
    main()
