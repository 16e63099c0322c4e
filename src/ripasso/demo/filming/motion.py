"""A simple motion of balls for the demo film: sliding, rolling, cushions, pockets, small fixed steps.

It serves the picture, not the judgement: what-if questions need the exact model, not this one.
All lengths in metres, times in seconds, velocities in m/s; arrays have one row a ball, columns x and y.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from ripasso.core.table import TableSpec, pocket_centres
from ripasso.core.table.places import Place

STEP_S = 0.0005
GRAVITY = 9.81
MU_SLIDE = 0.20  # ball on cloth, common practice
MU_ROLL = 0.010
BALL_RESTITUTION = 0.95
CUSHION_RESTITUTION = 0.78
LONGEST_S = 14.0

Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class StrokeScript:
    """How the cue ball is struck: direction, speed, and its roll (1 natural, 0 stun, below 0 draw)."""

    aim_deg: float
    speed: float
    roll: float = 0.6


@dataclass
class Motion:
    """What a stroke did: positions at the times asked for, and the facts."""

    times: list[float] = field(default_factory=list)
    places: list[dict[str, Place]] = field(default_factory=list)
    potted: list[tuple[str, str, float]] = field(default_factory=list)
    first_contact: str | None = None
    cushion_after_contact: bool = False
    balls_to_cushion: set[str] = field(default_factory=set)
    rest_s: float = 0.0
    after: dict[str, Place] = field(default_factory=dict)


class _Balls:
    """The moving state: position, velocity, and the velocity at which each ball would roll."""

    def __init__(self, layout: Mapping[str, Place]) -> None:
        self.names = list(layout)
        self.place = np.array([layout[name] for name in self.names], dtype=np.float64)
        self.speed = np.zeros_like(self.place)
        self.roll = np.zeros_like(self.place)
        self.live = np.ones(len(self.names), dtype=bool)


def play(spec: TableSpec, layout: Mapping[str, Place], stroke: StrokeScript, frame_s: float) -> Motion:
    """The motion from `layout` until all balls rest, sampled every `frame_s` from the strike on."""
    balls = _Balls(layout)
    cue = balls.names.index("cue")
    aim = math.radians(stroke.aim_deg)
    balls.speed[cue] = stroke.speed * np.array([math.cos(aim), math.sin(aim)])
    balls.roll[cue] = stroke.roll * balls.speed[cue]
    motion = Motion()
    pockets = pocket_centres(spec)
    step, next_sample = 0, 0.0
    while True:
        now = step * STEP_S
        if now >= next_sample - 1e-9:
            motion.times.append(now)
            motion.places.append(_places(balls))
            next_sample += frame_s
        moving = bool(np.any(np.abs(balls.speed[balls.live]) > 0))
        if not moving or now > LONGEST_S:
            motion.rest_s, motion.after = now, _places(balls)
            return motion
        _roll_on(balls)
        _meet_balls(spec, balls, motion, cue)
        _meet_pockets(spec, balls, motion, pockets, now)
        _meet_cushions(spec, balls, motion)
        step += 1


def _places(balls: _Balls) -> dict[str, Place]:
    return {
        name: (float(balls.place[i, 0]), float(balls.place[i, 1]))
        for i, name in enumerate(balls.names)
        if balls.live[i]
    }


def _roll_on(balls: _Balls) -> None:
    """One step of sliding or rolling for every ball."""
    slip = balls.speed - balls.roll
    size = np.hypot(slip[:, 0], slip[:, 1])
    change = MU_SLIDE * GRAVITY * STEP_S
    sliding = size > 3.5 * change
    unit = slip / np.where(size > 0, size, 1.0)[:, None]
    balls.speed = np.where(sliding[:, None], balls.speed - change * unit, balls.speed)
    balls.roll = np.where(sliding[:, None], balls.roll + 2.5 * change * unit, balls.speed)
    pace = np.hypot(balls.speed[:, 0], balls.speed[:, 1])
    slower = np.maximum(0.0, pace - MU_ROLL * GRAVITY * STEP_S)
    factor = np.where(sliding, 1.0, slower / np.where(pace > 0, pace, 1.0))
    balls.speed *= factor[:, None]
    balls.roll = np.where(sliding[:, None], balls.roll, balls.speed)
    balls.place = balls.place + balls.speed * STEP_S


def _meet_balls(spec: TableSpec, balls: _Balls, motion: Motion, cue: int) -> None:
    gap = balls.place[:, None, :] - balls.place[None, :, :]
    near = np.einsum("ijk,ijk->ij", gap, gap) < (2 * spec.ball_radius) ** 2
    near &= balls.live[:, None] & balls.live[None, :]
    for i, j in zip(*np.nonzero(np.triu(near, 1)), strict=True):
        line = balls.place[j] - balls.place[i]
        distance = float(np.hypot(*line)) or 1e-9
        normal = line / distance
        # Set the pair apart, so that an overlap of one step does not grow.
        overlap = 2 * spec.ball_radius - distance
        balls.place[i] -= normal * overlap / 2
        balls.place[j] += normal * overlap / 2
        closing = float(np.dot(balls.speed[i] - balls.speed[j], normal))
        if closing <= 0:
            continue
        impulse = (1 + BALL_RESTITUTION) / 2 * closing * normal
        balls.speed[i] -= impulse
        balls.speed[j] += impulse
        if cue in (i, j) and motion.first_contact is None:
            motion.first_contact = balls.names[j if i == cue else i]


def _meet_pockets(
    spec: TableSpec, balls: _Balls, motion: Motion, pockets: Mapping[str, Place], now: float
) -> None:
    x, y = balls.place[:, 0], balls.place[:, 1]
    beyond = (x < 0) | (x > spec.length) | (y < 0) | (y > spec.width)
    for i in np.flatnonzero(balls.live & beyond):
        pocket = min(pockets, key=lambda name: math.dist(pockets[name], balls.place[i]))
        balls.live[i] = False
        balls.speed[i] = balls.roll[i] = 0.0
        balls.place[i] = (-10.0 - i, -10.0)
        motion.potted.append((balls.names[i], pocket, now))


def _meet_cushions(spec: TableSpec, balls: _Balls, motion: Motion) -> None:
    radius, corner = spec.ball_radius, spec.corner_mouth / math.sqrt(2)
    x, y = balls.place[:, 0].copy(), balls.place[:, 1].copy()
    open_x = np.minimum(x, spec.length - x) < corner
    open_x |= np.abs(x - spec.length / 2) < spec.side_mouth / 2
    open_y = np.minimum(y, spec.width - y) < corner
    for axis, limit, inside, open_here in (
        (0, spec.length, x, open_y),
        (1, spec.width, y, open_x),
    ):
        for low in (True, False):
            deep = inside < radius if low else inside > limit - radius
            outward = balls.speed[:, axis] < 0 if low else balls.speed[:, axis] > 0
            for i in np.flatnonzero(balls.live & deep & outward & ~open_here):
                balls.place[i, axis] = radius if low else limit - radius
                balls.speed[i, axis] *= -CUSHION_RESTITUTION
                balls.roll[i] = balls.speed[i] * 0.6
                if balls.names[i] != "cue":
                    motion.balls_to_cushion.add(balls.names[i])
                motion.cushion_after_contact |= motion.first_contact is not None
