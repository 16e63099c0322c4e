"""A player in the simulated camera's picture: a few limbs, who walks about the table, bends and strikes.

Only what matters to somebody who watches the balls: a body that comes between them and the camera.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.table import TableSpec
from ripasso.demo.filming.lens import Camera, Floats

Point = tuple[float, float, float]

SKIN, TROUSERS, HAIR, MAPLE, FERRULE = (
    (206, 160, 132),
    (38, 42, 56),
    (52, 38, 30),
    (196, 158, 108),
    (232, 230, 222),
)
#: How far from the nose line a player stands, metres; how tall, to shoulder and hip; how far he reaches.
STANDS_M, SHOULDER_M, HIP_M, REACH_M = 0.42, 1.42, 0.95, 0.75
PIECE_M = 0.12  # limbs are drawn in pieces of this length, so that balls stand before some and behind others


@dataclass(frozen=True)
class Limb:
    """A rod with round ends, from point to point (metres), with a radius and a colour."""

    start: Point
    end: Point
    radius: float
    colour: tuple[int, int, int]

    @property
    def middle(self) -> Floats:
        """The point halfway."""
        return np.asarray((np.array(self.start) + np.array(self.end)) / 2)

    def draw(self, picture: npt.NDArray[np.float32], camera: Camera, light: float) -> None:
        """Paint it into a picture, darker below, where the lamp does not reach."""
        ends = np.array([self.start, self.end])
        depths = ends @ camera.rotation[2] + camera.translation[2]
        if (depths < 0.2).any():
            return
        (u0, v0), (u1, v1) = camera.project(ends)
        if not np.isfinite((u0, v0, u1, v1)).all() or max(abs(u0), abs(v0), abs(u1), abs(v1)) > 8000:
            return
        width = max(1, round(2 * self.radius * camera.focal_px / float(depths.mean())))
        shade = light * (0.5 + 0.5 * min(1.0, max(0.0, float(self.middle[2]) / 1.2)))
        colour = tuple(float(value * min(1.0, shade)) for value in self.colour)
        start, end = (
            (round(float(u0) * 16), round(float(v0) * 16)),
            (round(float(u1) * 16), round(float(v1) * 16)),
        )
        # Floats take no soft lines: the edge is as hard as a pixel, which the film's compression softens.
        cv2.line(picture, start, end, colour, width, cv2.LINE_8, 4)

    def pieces(self) -> Iterator[Limb]:
        """The same in short pieces."""
        a, b = np.array(self.start), np.array(self.end)
        count = max(1, math.ceil(float(np.linalg.norm(b - a)) / PIECE_M))
        for i in range(count):
            p, q = a + (b - a) * i / count, a + (b - a) * (i + 1) / count
            yield Limb(_point(p), _point(q), self.radius, self.colour)


def _point(values: Floats) -> Point:
    return float(values[0]), float(values[1]), float(values[2])


def stand_for(spec: TableSpec, cue: tuple[float, float], aim: float) -> tuple[float, float]:
    """Where a player stands to strike the cue ball: straight behind it, outside the table."""
    x, y = cue
    back = np.array([-math.cos(aim), -math.sin(aim)])
    for way in np.arange(0.4, 4.0, 0.02):
        px, py = x + back[0] * way, y + back[1] * way
        if not (-STANDS_M < px < spec.length + STANDS_M and -STANDS_M < py < spec.width + STANDS_M):
            return float(px), float(py)
    return float(x), float(-STANDS_M)


def around_table(
    spec: TableSpec, start: tuple[float, float], end: tuple[float, float], share: float
) -> tuple[float, float]:
    """A place on the way about the table, the shorter way round, at a share of it."""
    middle = (spec.length / 2, spec.width / 2)
    first, last = (math.atan2(p[1] - middle[1], p[0] - middle[0]) for p in (start, end))
    turn = (last - first + math.pi) % (2 * math.pi) - math.pi
    angle = first + turn * share
    half = (spec.length / 2 + STANDS_M + 0.1, spec.width / 2 + STANDS_M + 0.1)
    reach = min(half[0] / max(1e-6, abs(math.cos(angle))), half[1] / max(1e-6, abs(math.sin(angle))))
    on_way = (middle[0] + reach * math.cos(angle), middle[1] + reach * math.sin(angle))
    # Near its ends the way leads to the very places.
    near = min(1.0, 4 * min(share, 1 - share))
    goal = start if share < 0.5 else end
    return goal[0] + (on_way[0] - goal[0]) * near, goal[1] + (on_way[1] - goal[1]) * near


def upright(place: tuple[float, float], shirt: tuple[int, int, int]) -> list[Limb]:
    """A player who stands or walks."""
    x, y = place
    limbs = [
        Limb((x - 0.08, y, 0.0 - 0.75), (x - 0.05, y, HIP_M - 0.75), 0.08, TROUSERS),
        Limb((x + 0.08, y, 0.0 - 0.75), (x + 0.05, y, HIP_M - 0.75), 0.08, TROUSERS),
        Limb((x, y, HIP_M - 0.75), (x, y, SHOULDER_M - 0.75), 0.17, shirt),
        Limb((x, y, SHOULDER_M - 0.5), (x, y, SHOULDER_M - 0.45), 0.11, HAIR),
    ]
    return [piece for limb in limbs for piece in limb.pieces()]


def bent(
    spec: TableSpec, cue: tuple[float, float], aim: float, drawn_back_m: float, shirt: tuple[int, int, int]
) -> list[Limb]:
    """A player in his stance, the cue's tip this far behind the cue ball's middle."""
    radius = spec.ball_radius
    ahead = np.array([math.cos(aim), math.sin(aim)])
    stand = np.array(stand_for(spec, cue, aim))
    ball = np.array(cue)
    tip = np.array([*(ball - ahead * drawn_back_m), radius * 1.05])
    butt = np.array([*(ball - ahead * (drawn_back_m + 1.4)), radius + 0.17])
    bridge = np.array([*(ball - ahead * 0.24), 0.05])
    far = float(np.hypot(*(stand - ball)))
    chest = ball - ahead * min(far, 0.24 + REACH_M)
    shoulder = np.array([*chest, 0.42])
    hips = np.array([*stand, HIP_M - 0.75])
    grip = tip + (butt - tip) * 0.82
    limbs = [
        Limb((float(stand[0]), float(stand[1]), -0.75), _point(hips), 0.11, TROUSERS),
        Limb(_point(hips), _point(shoulder), 0.16, shirt),
        Limb(_point(shoulder), _point(bridge), 0.045, shirt),
        Limb(_point(bridge), _point(bridge + np.array([*(ahead * 0.05), 0])), 0.035, SKIN),
        Limb(_point(shoulder), _point(grip), 0.05, shirt),
        Limb(
            _point(np.add(shoulder, (0, 0, 0.12))),
            _point(shoulder + np.array([*(ahead * 0.06), 0.14])),
            0.1,
            HAIR,
        ),
        Limb(_point(butt), _point(tip + (butt - tip) * 0.015), 0.009, MAPLE),
        Limb(_point(tip + (butt - tip) * 0.015), _point(tip), 0.007, FERRULE),
    ]
    return [piece for limb in limbs for piece in limb.pieces()]


def reaching(
    spec: TableSpec, stand: tuple[float, float], to: tuple[float, float], shirt: tuple[int, int, int]
) -> list[Limb]:
    """A player who puts a ball down by hand."""
    a, b = np.array(stand), np.array(to)
    way = (b - a) / max(1e-6, float(np.hypot(*(b - a))))
    chest = b - way * min(float(np.hypot(*(b - a))), 0.6)
    shoulder = np.array([*chest, 0.5])
    hand = np.array([*(b - way * 0.02), 0.07])
    limbs = [
        Limb((stand[0], stand[1], -0.75), (stand[0], stand[1], HIP_M - 0.75), 0.11, TROUSERS),
        Limb((stand[0], stand[1], HIP_M - 0.75), _point(shoulder), 0.16, shirt),
        Limb(_point(shoulder), _point(hand), 0.045, shirt),
        Limb(_point(hand), _point(hand + np.array([*(way * 0.05), -0.01])), 0.045, SKIN),
    ]
    return [piece for limb in limbs for piece in limb.pieces()]
