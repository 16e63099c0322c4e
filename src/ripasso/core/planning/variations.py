"""What a little more or less of something would have done to a stroke: aim, pace, tip."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from ripasso.core.physics.motion import Motion, simulate
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.problem import Problem

#: How much is changed: aim (degrees), speed (share), tip (m).
AIM_DEG, SPEED_SHARE, TIP_M = 0.1, 0.05, 1e-3


@dataclass(frozen=True)
class Variation:
    """A changed stroke and what comes of it: how far off the cue ball stops, and whether the pot stays.

    `name` is one of thinner, thicker, harder, softer, left, right, higher, lower; `moved_m` None where the
    cue ball falls.
    """

    name: str
    stroke: Stroke
    moved_m: float | None
    falls: bool
    potted: bool


def variations(problem: Problem, stroke: Stroke) -> list[Variation]:
    """The stroke with a little more or less of each; the ball meant is the called one, else what fell."""
    usual = simulate(problem.layout, stroke, problem.bed, problem.physics)
    rest = usual.rest().get("cue")
    found = []
    for name, changed in _changed(problem, stroke, usual):
        motion = simulate(problem.layout, changed, problem.bed, problem.physics)
        there = motion.rest().get("cue")
        moved = math.dist(rest, there) if rest is not None and there is not None else None
        found.append(Variation(name, changed, moved, there is None, _potted(problem, motion, usual)))
    return found


def _changed(problem: Problem, stroke: Stroke, usual: Motion) -> Iterator[tuple[str, Stroke]]:
    """Names and strokes; thin is the side on which less of the ball is met."""
    millimetre = TIP_M / problem.spec.ball_radius
    first = next((e for e in usual.events if e.kind == "ball_ball" and "cue" in e.balls), None)
    turn = math.radians(AIM_DEG)
    if first is not None:
        other = 1 - first.balls.index("cue")
        away = first.before[other][:2] - first.before[1 - other][:2]
        left = -math.sin(stroke.phi) * away[0] + math.cos(stroke.phi) * away[1]
        thinner = turn if left < 0 else -turn
        yield "thinner", replace(stroke, phi=stroke.phi + thinner)
        yield "thicker", replace(stroke, phi=stroke.phi - thinner)
    yield "harder", replace(stroke, speed=stroke.speed * (1 + SPEED_SHARE))
    yield "softer", replace(stroke, speed=stroke.speed * (1 - SPEED_SHARE))
    yield "left", replace(stroke, a=stroke.a - millimetre)
    yield "right", replace(stroke, a=stroke.a + millimetre)
    yield "higher", replace(stroke, b=stroke.b + millimetre)
    yield "lower", replace(stroke, b=stroke.b - millimetre)


def _potted(problem: Problem, motion: Motion, usual: Motion) -> bool:
    if problem.call is not None:
        return motion.pockets.get(problem.call[0]) == problem.call[1]
    wanted = {ball for ball in usual.pockets if ball != "cue"}
    return bool(wanted) and wanted <= set(motion.pockets)
