"""What parts one stroke from another: aim, pace and tip, and how far each alone moves the cue ball."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ripasso.core.physics.motion import simulate
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.problem import Problem
from ripasso.core.table.places import Place


@dataclass(frozen=True)
class Differences:
    """How a stroke differs from a meant one, and how far each alone moves where the cue ball stops, metres.

    `aim_deg` is to the left where positive, `pace` a share (0.06: harder by 6 %), the tip in metres to the
    right and up. A way is None where the cue ball falls.
    """

    aim_deg: float
    pace: float
    tip_right_m: float
    tip_up_m: float
    by_aim_m: float | None
    by_pace_m: float | None
    by_tip_m: float | None
    together_m: float | None


def differences(problem: Problem, meant: Stroke, other: Stroke) -> Differences:
    """The parts of what was done otherwise than meant; they need not add up, as cushions come between."""
    usual = _stops(problem, meant)

    def moved(stroke: Stroke) -> float | None:
        there = _stops(problem, stroke)
        return math.dist(usual, there) if usual is not None and there is not None else None

    radius = problem.spec.ball_radius
    return Differences(
        math.degrees(math.remainder(other.phi - meant.phi, 2 * math.pi)),
        other.speed / meant.speed - 1,
        (other.a - meant.a) * radius,
        (other.b - meant.b) * radius,
        moved(replace(meant, phi=other.phi)),
        moved(replace(meant, speed=other.speed)),
        moved(replace(meant, a=other.a, b=other.b)),
        moved(other),
    )


def _stops(problem: Problem, stroke: Stroke) -> Place | None:
    return simulate(problem.layout, stroke, problem.bed, problem.physics).rest().get("cue")
