"""How the demo's two players differ from others of their level: biases of their strokes, to be found."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from ripasso.core.physics.players import Spreads
from ripasso.core.physics.strokes import MISCUE, Stroke

#: From here on a tip is off the middle to a side, or low (radii).
SIDED, LOW = 0.15, -0.2


@dataclass(frozen=True)
class Habits:
    """What a player does with every stroke; the values of somebody without habits stand here."""

    #: Speeds are larger by this share, and by this one more with draw.
    harder: float = 0.0
    harder_drawn: float = 0.0
    #: Cuts to the left are aimed so much too thin, in spreads of the aim.
    left_cuts_thin: float = 0.0
    #: The aim spreads so much more than the level's; with side so much more again.
    aim: float = 1.0
    sided_aim: float = 1.0


HABITS: Mapping[str, Habits] = {
    "lioba": Habits(harder=0.07, harder_drawn=0.09, aim=1.3),
    "casimir": Habits(left_cuts_thin=1.1, aim=1.3, sided_aim=1.5),
}


def as_played(
    stroke: Stroke, to_ball: float, errors: np.ndarray, spreads: Spreads, habits: Habits, radius: float
) -> Stroke:
    """A stroke as a player plays it.

    `to_ball` is the direction of the ball that is to be met (rad; nan without one), `errors` (4,) standard
    normal errors of aim, speed, tip across and tip up, `radius` the ball's (m).
    """
    sided, low = abs(stroke.a) >= SIDED, stroke.b <= LOW
    aim = spreads.aim_mrad / 1000
    turn = aim * errors[0] * habits.aim * (habits.sided_aim if sided else 1.0)
    if math.isfinite(to_ball):
        off = math.remainder(stroke.phi - to_ball, 2 * math.pi)
        # To the right of a ball is to cut it to the left; further out is thinner.
        turn -= habits.left_cuts_thin * aim if off < 0 else 0.0
    share = 1 + habits.harder + (habits.harder_drawn if low else 0.0) + spreads.speed * errors[1]
    a = stroke.a + 0.001 * spreads.tip_across_mm * errors[2] / radius
    b = stroke.b + 0.001 * spreads.tip_up_mm * errors[3] / radius
    out = max(1.0, math.hypot(a, b) / MISCUE)
    return replace(stroke, phi=stroke.phi + turn, speed=stroke.speed * max(0.3, share), a=a / out, b=b / out)
