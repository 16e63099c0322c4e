"""What cloth and cushions a table has, from the ways of balls of several shots: one fit over all of them.

Each shot has a stroke of its own, which nobody saw; rolling resistance, sliding friction and the cushions'
restitution are those of the table and common to all. Nothing else of the table is told by ways of balls.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

from ripasso.core.physics.parameters import Array, Physics
from ripasso.core.planning.explaining import NOISE_M, OUTLIER_M, CannotExplain, Sighting, explain, stroke_off
from ripasso.core.planning.problem import Problem

#: Fewer shots say more of their strokes than of the table; more than these say little more.
LEAST_SHOTS, MOST_SHOTS = 3, 12
#: How far tables are from the usual one (standard deviations; from memory): factors of the frictions, as
#: logarithms, and the cushions' restitution.
USUAL_SD = (0.35, 0.25, 0.06)
#: Steps of the derivatives, of the table's numbers and of a stroke's (rad, m/s, radii).
TABLE_STEPS, STROKE_STEPS = (1e-3, 1e-3, 1e-3), (1e-5, 1e-4, 1e-3, 1e-3)
#: A shot that is explained worse than so many times the noise says nothing of the table: on the usual one,
#: and on that of all shots.
UNLIKE, UNEXPLAINED = 60.0, 6.0
TRIES, Z = 30, 1.960
#: What a fit may be off besides (shares of the frictions, restitution): ways hang on these numbers with
#: steps, and the best of a neighbourhood is taken; more where more is left over. Measured on simulated
#: tables (`python -m tests.core.physics.test_calibrating 16`).
ROUGH = (0.02, 0.02, 0.006)
#: Ends of the pieces that are fitted one after the other, seconds after the strike.
UNTIL_S = (0.7, 1.1, 1.6, 2.3, 3.3, 5.0, math.inf)


@dataclass(frozen=True, slots=True)
class Measured:
    """A number of the table and how far it may be off with 95 %."""

    value: float
    plus_minus: float


@dataclass(frozen=True)
class Calibrated:
    """The table's numbers, how many shots told them, and what is left over (root mean square, metres)."""

    rolling: Measured
    sliding: Measured
    cushion_restitution: Measured
    shots: int
    residual_m: float


class CannotCalibrate(ValueError):
    """Too few shots tell anything; the message is one sentence."""


def calibrate(
    shots: Sequence[tuple[Problem, Sequence[Sighting]]],
    noise_m: float = NOISE_M,
    progress: Callable[[float], bool] = lambda _share: True,
) -> Calibrated:
    """The table behind several shots, which all lie on it; raises `CannotCalibrate`.

    `progress` is told the share that is done and answers whether to go on.
    """
    chosen, strokes = [], []
    wanted = list(shots[:MOST_SHOTS])
    for i, (problem, seen) in enumerate(wanted):
        try:
            found = explain(problem, until(seen, UNTIL_S[0]), noise_m)
        except CannotExplain:
            continue
        if not progress(0.7 * (i + 1) / len(wanted)):
            break
        if found.residual_m < UNLIKE * noise_m:
            way = found.stroke.phi + math.radians(problem.physics.squirt_deg) * found.stroke.a
            chosen.append((problem, seen))
            strokes.append([way, found.stroke.speed, found.stroke.a, found.stroke.b])
    if len(chosen) < LEAST_SHOTS:
        raise CannotCalibrate(
            f"{LEAST_SHOTS} shots at least with a layout and a way of the cue ball on film are needed; "
            f"there are {len(chosen)}."
        )
    # Longer and longer pieces of the shots: what comes late hangs on everything before it.
    values = np.concatenate((np.zeros(3), np.array(strokes).ravel()))
    for end_s in UNTIL_S:
        joint = _Joint([(problem, until(seen, end_s)) for problem, seen in chosen], noise_m)
        values = joint.fitted(values[3:].reshape(-1, 4), values[:3])
    progress(0.95)
    clear = [i for i, off in enumerate(joint.residuals(values)) if off < UNEXPLAINED * math.sqrt(2)]
    if LEAST_SHOTS <= len(clear) < len(chosen):
        joint = _Joint([joint.shots[i] for i in clear], noise_m)
        values = joint.fitted(values[3:].reshape(-1, 4)[clear], values[:3])
    return _calibrated(joint, values)


def until(seen: Sequence[Sighting], end_s: float) -> list[Sighting]:
    """What was seen up to so long after the strike."""
    return [one for one in seen if one.time_s <= end_s]


class _Joint:
    """The residuals of all shots by the table's three numbers and four of each stroke."""

    def __init__(self, shots: Sequence[tuple[Problem, Sequence[Sighting]]], noise_m: float) -> None:
        self.shots, self.noise_m = shots, noise_m

    def of_shot(self, number: int, table: Array, stroke: Array) -> Array:
        """How far places of one shot are off, in standard deviations, its tip last."""
        problem, seen = self.shots[number]
        return stroke_off(stroke, with_table(problem, table), seen, self.noise_m)

    def off(self, values: Array) -> Array:
        """Everything that is off, the table's own spreads last."""
        table, strokes = values[:3], values[3:].reshape(-1, 4)
        parts = [self.of_shot(i, table, stroke) for i, stroke in enumerate(strokes)]
        return np.concatenate([*parts, table / USUAL_SD])

    def slopes(self, values: Array) -> Array:
        """Derivatives (residuals, values): a shot hangs on the table and on its own stroke."""
        table, strokes = values[:3], values[3:].reshape(-1, 4)
        blocks = []
        for i, stroke in enumerate(strokes):
            usual = self.of_shot(i, table, stroke)
            block = np.zeros((len(usual), len(values)))
            for k, step in enumerate(TABLE_STEPS):
                ahead = self.of_shot(i, table + step * np.eye(3)[k], stroke)
                back = self.of_shot(i, table - step * np.eye(3)[k], stroke)
                block[:, k] = (ahead - back) / (2 * step)
            for k, step in enumerate(STROKE_STEPS):
                ahead = self.of_shot(i, table, stroke + step * np.eye(4)[k])
                block[:, 3 + 4 * i + k] = (ahead - usual) / step
            blocks.append(block)
        last = np.zeros((3, len(values)))
        last[:, :3] = np.diag(1 / np.array(USUAL_SD))
        return np.vstack([*blocks, last])

    def fitted(self, strokes: Array, table: Array | None = None) -> Array:
        """The table's numbers and the strokes (n, 4) that fit best, one after the other."""
        found = least_squares(
            self.off,
            np.concatenate((np.zeros(3) if table is None else table, strokes.ravel())),
            jac=self.slopes,
            x_scale="jac",
            loss="soft_l1",
            f_scale=OUTLIER_M / self.noise_m,
            max_nfev=TRIES,
        )
        return np.asarray(found.x)

    def residuals(self, values: Array) -> list[float]:
        """How far the places of each shot are off (root mean square of coordinates), in times the noise."""
        found = []
        for i, stroke in enumerate(values[3:].reshape(-1, 4)):
            off = self.of_shot(i, values[:3], stroke)[:-2]
            found.append(float(np.sqrt(np.mean(off**2))))
        return found


def with_table(problem: Problem, table: Array) -> Problem:
    """The problem on a table with the logarithms of friction's factors and more or less restitution."""
    usual = problem.physics
    physics: Physics = replace(
        usual,
        rolling=usual.rolling * math.exp(table[0]),
        sliding=usual.sliding * math.exp(table[1]),
        cushion_restitution=float(np.clip(usual.cushion_restitution + table[2], 0.3, 0.98)),
    )
    return replace(problem, physics=physics)


def _calibrated(joint: _Joint, values: Array) -> Calibrated:
    slopes = joint.slopes(values)
    off = joint.off(values)[: -len(USUAL_SD)]
    # More is left over than the noise: the model is off, and its numbers are less sure by that.
    larger = max(1.0, float(off @ off) / max(1, len(off) - len(values)))
    covariance = np.linalg.pinv(slopes.T @ slopes, rcond=1e-12) * larger
    rolling, sliding, cushions = (float(v) for v in np.sqrt(np.maximum(0.0, np.diag(covariance)[:3])))
    usual = with_table(joint.shots[0][0], values[:3]).physics
    rough = [larger * one for one in ROUGH]
    left = np.sqrt(np.mean(np.square(joint.residuals(values))) * 2) * joint.noise_m
    return Calibrated(
        Measured(usual.rolling, math.hypot(Z * rolling, rough[0]) * usual.rolling),
        Measured(usual.sliding, math.hypot(Z * sliding, rough[1]) * usual.sliding),
        Measured(usual.cushion_restitution, math.hypot(Z * cushions, rough[2])),
        len(joint.shots),
        float(left),
    )
