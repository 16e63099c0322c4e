"""What an impact was like, told from the states before it: direction, approach, slip, friction, sticking.

The laws are those of `impacts.py`, written out plainly: the compiled code keeps nothing of them.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from ripasso.core.physics.parameters import Array, Physics

#: Directions into the straight cushions.
INTO: Mapping[str, tuple[float, float]] = {
    "head": (-1.0, 0.0),
    "foot": (1.0, 0.0),
    "right": (0.0, -1.0),
    "left": (0.0, 1.0),
}


def of_two_balls(one: Array, two: Array, physics: Physics) -> dict[str, float | bool]:
    """The line of centres (degrees), approach and slip (m/s), friction, and whether the contact sticks.

    States are (x, y, vx, vy, wx, wy, wz) before the impact.
    """
    nx, ny = two[0] - one[0], two[1] - one[1]
    away = math.hypot(nx, ny)
    nx, ny = nx / away, ny / away
    speed, spin = one[2:4] - two[2:4], one[4:] + two[4:]
    approach = speed[0] * nx + speed[1] * ny
    slip = math.hypot(
        -speed[0] * ny + speed[1] * nx + physics.radius * spin[2],
        physics.radius * (spin[0] * ny - spin[1] * nx),
    )
    k0, k1, k2 = physics.ball_friction
    friction = k0 + k1 * math.exp(-k2 * slip)
    normal = physics.mass * 0.5 * (1 + physics.ball_restitution) * approach
    return {
        "normal_deg": math.degrees(math.atan2(ny, nx)),
        "approach": float(approach),
        "slip_speed": float(slip),
        "mu": float(friction),
        "stick": bool(physics.mass * slip / 7 <= friction * normal),
    }


def of_cushion(state: Array, cushion: str, physics: Physics) -> dict[str, float | bool]:
    """The slip at the nose (m/s) and whether the contact sticks; nothing for what is no straight cushion."""
    if cushion not in INTO:
        return {}
    nx, ny = INTO[cushion]
    tx, ty = -ny, nx
    sine = 2 * physics.nose_share - 1
    cosine = math.sqrt(1 - sine * sine)
    into, along = state[2] * nx + state[3] * ny, state[2] * tx + state[3] * ty
    turn_into, turn_along = state[4] * nx + state[5] * ny, state[4] * tx + state[5] * ty
    slip = math.hypot(
        into * sine + physics.radius * turn_along,
        along + physics.radius * (state[6] * cosine - turn_into * sine),
    )
    normal = (1 + physics.cushion_restitution) * physics.mass * into * cosine
    sticks = 2 / 7 * physics.mass * slip <= physics.cushion_friction * normal
    return {"slip_speed": float(slip), "stick": bool(sticks)}
