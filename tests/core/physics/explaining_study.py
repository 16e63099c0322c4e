"""How right explained strokes are: simulated shots seen by a camera with noise.

python -m tests.core.physics.explaining_study 200
"""

from __future__ import annotations

import math
import sys
from dataclasses import dataclass

import numpy as np

from ripasso.core.physics.motion import simulate
from ripasso.core.physics.strokes import Stroke, with_least_elevation
from ripasso.core.planning.explaining import Explained, Sighting, explain
from ripasso.core.planning.problem import Problem
from ripasso.core.table import table_spec

NOISE_M, RATE = 0.003, 25.0
#: A shot is seen for so long at most, seconds.
SEEN_S = 4.0


@dataclass(frozen=True)
class Case:
    """A stroke that was played, and what was made of what was seen of it."""

    stroke: Stroke
    found: Explained

    @property
    def speed_off(self) -> float:
        """The share by which the speed is off."""
        return abs(self.found.stroke.speed / self.stroke.speed - 1)

    @property
    def aim_off_deg(self) -> float:
        """How far the ball's first way is off, with the squirt of the tip's offset in it."""
        return abs(math.degrees(math.remainder(_way(self.found.stroke) - _way(self.stroke), 2 * math.pi)))

    @property
    def side_inside(self) -> bool:
        """The side lies in its stated interval."""
        return abs(self.found.stroke.a - self.stroke.a) <= 1.96 * self.found.sd_a + 1e-9


def _way(stroke: Stroke) -> float:
    return stroke.phi + math.radians(2.0) * stroke.a


def case(number: int) -> Case:
    """A shot from a number: an object ball hit somewhere, any pace and tip, seen 25 times a second."""
    random = np.random.default_rng((77, number))
    spec = table_spec({"preset": "pool_9ft"})
    cue = tuple(map(float, random.uniform((0.3, 0.3), (1.0, 0.95))))
    ball = tuple(map(float, random.uniform((1.3, 0.2), (2.2, 1.05))))
    problem = Problem("nine_ball", spec, {"cue": cue, "1": ball}, ("1",))
    phi = math.atan2(ball[1] - cue[1], ball[0] - cue[0]) + random.uniform(-0.03, 0.03)
    stroke = Stroke(phi, float(random.uniform(0.9, 4.5)), *map(float, random.uniform(-0.3, 0.3, 2)))
    stroke = with_least_elevation(stroke, spec, problem.layout)
    motion = simulate(problem.layout, stroke, problem.bed, problem.physics)
    times = np.arange(1 / RATE, min(SEEN_S, motion.duration), 1 / RATE)
    seen = []
    for name in ("cue", "1"):
        for time, place in zip(times, motion.places(name, times), strict=True):
            x, y = place + random.normal(0, NOISE_M, 2)
            seen.append(Sighting(float(time), name, float(x), float(y)))
    return Case(stroke, explain(problem, seen, NOISE_M))


def summary(cases: list[Case]) -> str:
    """The shares that matter."""
    count = len(cases)
    speed = sum(one.speed_off <= 0.03 for one in cases) / count
    aim = sum(one.aim_off_deg <= 0.3 for one in cases) / count
    side = sum(one.side_inside for one in cases) / count
    return f"{count} shots: speed within 3 % {speed:.0%}, aim within 0.3° {aim:.0%}, side inside {side:.0%}"


if __name__ == "__main__":
    print(summary([case(number) for number in range(int(sys.argv[1]))]))
