"""What the cue does to the ball: a stroke, the ball's start from it, and the elevation that rails force."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ripasso.core.physics.parameters import Array, Physics
from ripasso.core.table import TableSpec
from ripasso.core.table.known_points import RAIL_TOP_M, nose_height
from ripasso.core.table.places import Place

#: Beyond this offset (radii) a tip slips off: a miscue, which is not simulated (common practice, no source).
MISCUE = 0.5
#: Half the thickness of a cue at its tip and where it passes rails and balls, and how much of it does, metres
#: (from memory).
TIP_RADIUS_M, CUE_RADIUS_M, CUE_LENGTH_M = 0.006, 0.009, 1.30
#: From the nose line to where the rail is highest, and to its outer edge, metres (common practice).
CUSHION_M, RAIL_DEPTH_M = 0.05, 0.15
STEEPEST = math.radians(80.0)

Pace = Literal["dead", "soft", "medium", "firm", "power"]
#: Paces by the cue ball's speed, m/s: each up to its bound (common practice, no source).
PACES: tuple[tuple[float, Pace], ...] = ((0.8, "dead"), (1.6, "soft"), (2.8, "medium"), (4.5, "firm"))


def pace_of(speed: float) -> Pace:
    """The pace of a stroke by the cue ball's speed (m/s)."""
    return next((pace for bound, pace in PACES if speed <= bound), "power")


@dataclass(frozen=True, slots=True)
class Stroke:
    """A stroke on the cue ball: azimuth of the aim (rad), the ball's speed (m/s), tip offsets, elevation.

    `a` (right positive) and `b` (up positive) are offsets in radii in the plane across the cue's axis.
    """

    phi: float
    speed: float
    a: float = 0.0
    b: float = 0.0
    elevation: float = 0.0

    @property
    def slips(self) -> bool:
        """The tip is so far out that it would slip off."""
        return math.hypot(self.a, self.b) > MISCUE + 1e-9

    def struck(self, physics: Physics) -> Array:
        """(vx, vy, wx, wy, wz) of the ball right after the stroke; squirt turns the way, not the spin."""
        sine, cosine = math.sin(self.elevation), math.cos(self.elevation)
        impulse = self.speed / max(cosine, 1e-9)  # per mass: speed is what is left along the bed
        forward = (math.cos(self.phi), math.sin(self.phi))
        left = (-math.sin(self.phi), math.cos(self.phi))
        turn = 2.5 * impulse / physics.radius
        squirt = math.radians(physics.squirt_deg) * self.a
        way = self.phi + squirt
        return np.array(
            [
                self.speed * math.cos(way),
                self.speed * math.sin(way),
                turn * (self.a * sine * forward[0] + self.b * left[0]),
                turn * (self.a * sine * forward[1] + self.b * left[1]),
                turn * self.a * cosine,
            ]
        )


def ball_speed(cue_speed: float, a: float, b: float, elevation: float, physics: Physics) -> float:
    """The speed (m/s) that a cue gives to the ball along the bed; offsets in radii."""
    share = 1 + physics.mass / physics.cue_mass + 2.5 * (a * a + b * b)
    return (1 + physics.tip_restitution) * cue_speed / share * math.cos(elevation)


def least_elevation(
    spec: TableSpec, balls: Mapping[str, Place], cue: Place, phi: float, b: float = 0.0
) -> float:
    """The smallest elevation (rad) at which the cue clears the rail and the balls behind the cue ball.

    `balls` are the others. The axis of the cue passes the ball's centre by `b` radii: so far behind it the
    axis is higher by that distance times the tangent of its elevation.
    """
    radius = spec.ball_radius
    back = (-math.cos(phi), -math.sin(phi))
    nose = min(_way(cue[0], back[0], spec.length), _way(cue[1], back[1], spec.width))
    # What must be passed: how far behind the ball's centre, and how high the axis must be there.
    obstacles = [
        (nose, nose_height(spec) + TIP_RADIUS_M),
        (nose + CUSHION_M, RAIL_TOP_M + TIP_RADIUS_M),
        (nose + RAIL_DEPTH_M, RAIL_TOP_M + CUE_RADIUS_M),
    ]
    for place in balls.values():
        dx, dy = place[0] - cue[0], place[1] - cue[1]
        along, across = dx * back[0] + dy * back[1], abs(dx * back[1] - dy * back[0])
        if along > 0 and across < radius + CUE_RADIUS_M:
            over = math.sqrt((radius + CUE_RADIUS_M) ** 2 - across**2)
            obstacles.append((along, radius + over))
    raised = [
        math.atan2(height - radius * (1 + b), away) for away, height in obstacles if away < CUE_LENGTH_M
    ]
    return min(max(0.0, max(raised, default=0.0)), STEEPEST)


def _way(at: float, direction: float, size: float) -> float:
    """How far it is along a direction (its part across two walls at 0 and `size`) to the wall before it."""
    if abs(direction) < 1e-9:
        return math.inf
    wall = size if direction > 0 else 0.0
    return (wall - at) / direction


def with_least_elevation(stroke: Stroke, spec: TableSpec, layout: Mapping[str, Place]) -> Stroke:
    """The stroke with the elevation that rail and balls force, where its own is smaller."""
    others = {ball: place for ball, place in layout.items() if ball != "cue"}
    forced = least_elevation(spec, others, layout["cue"], stroke.phi, stroke.b)
    return stroke if stroke.elevation >= forced else replace(stroke, elevation=forced)
