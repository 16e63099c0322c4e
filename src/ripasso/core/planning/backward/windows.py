"""Into which directions and how fast a ball must run to fall: the window of a pocket, by the simulator.

Jaws, rattles and balls that do not get there are in it, as each is played out.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ripasso.core.geometry.mouths import mouths_of
from ripasso.core.physics.motion import arrays
from ripasso.core.physics.parameters import Array
from ripasso.core.planning.backward.flights import least_speed, windows
from ripasso.core.planning.backward.setting import Setting
from ripasso.core.table.places import Place

#: Speeds (m/s) at which a window is asked for, between them it is interpolated; directions across it.
SPEEDS = np.array([0.15, 0.3, 0.5, 0.75, 1.1, 1.6, 2.3, 3.3, 4.8])
DIRECTIONS = 91
#: So many ranges of directions are kept: beside the plain one those off a jaw or along a rail.
RANGES = 4
#: Directions are tried so far beyond what the noses leave open, as a share of it.
BEYOND = 4.5
#: So many times as far where a range goes on to the end of that.
WIDER = (1, 2, 4)


@dataclass(frozen=True)
class Window:
    """From a ball's place: direction (rad) and distance (m) of a pocket, and the window at each of `SPEEDS`.

    `edges` (speeds, `RANGES`, 2) are angles from the direction, right before left, the widest range first;
    equal where there is none. Slower than `least` (m/s) the ball does not get there.
    """

    base: float
    far: float
    edges: Array
    least: float


def window_of(setting: Setting, ball: Place, pocket: int) -> Window | None:
    """The window of a pocket for a ball; None where it cannot fall at any speed."""
    mouths = mouths_of(setting.spec)
    place = np.array(ball)
    away = mouths.middle[pocket] - place
    far = float(np.hypot(*away))
    if far < 1e-6:
        return None
    right, left = (np.arctan2(*(side[pocket] - place)[::-1]) for side in (mouths.right, mouths.left))
    span = float(np.angle(np.exp(1j * (left - right))))
    clear = float(np.arcsin(min(1.0, setting.spec.ball_radius / far)))
    half = 0.5 * span - clear
    if half <= 0 or span <= 0:
        return None
    base = float(right + 0.5 * span)
    edges = np.zeros((len(SPEEDS), RANGES, 2))
    bed = setting.bed
    table = (setting.constants, arrays(bed), bed.contact_m, pocket)
    for times in WIDER:
        reach = times * ((1 + BEYOND) * half + 0.01)
        angles = np.linspace(-reach, reach, 1 + times * (DIRECTIONS - 1))
        edges[:] = 0.0
        windows(place, base, angles, SPEEDS, *table, edges)
        # Along a rail a ball still falls that meets the rail far before the pocket.
        if float(np.abs(edges).max()) < reach - (angles[1] - angles[0]):
            break
    fell = edges[:, 0, 1] > edges[:, 0, 0]
    if not fell.any():
        return None
    # Below the least speed nothing falls; what the window would be there is that of the next one.
    slowest = int(np.argmax(fell))
    edges[:slowest] = edges[slowest]
    below = float(SPEEDS[slowest - 1]) if slowest else 0.0
    least = least_speed(place, base + float(edges[slowest, 0].mean()), below, float(SPEEDS[slowest]), *table)
    return Window(base, far, edges, float(least))
