"""What a rack is worked out on: table, constants, the player, strokes that are tried, the net of places."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from itertools import product

import numpy as np

from ripasso.core.physics.bed import Bed
from ripasso.core.physics.parameters import Array, Physics
from ripasso.core.physics.players import Spreads
from ripasso.core.physics.strokes import (
    CUE_LENGTH_M,
    CUE_RADIUS_M,
    CUSHION_M,
    RAIL_DEPTH_M,
    STEEPEST,
    TIP_RADIUS_M,
    Stroke,
)
from ripasso.core.planning.problem import Problem
from ripasso.core.table import TableSpec
from ripasso.core.table.known_points import RAIL_TOP_M, nose_height

#: Strokes of the maps: paces (m/s) and places of the tip (radii, right and up).
PACES = (0.6, 0.85, 1.2, 1.7, 2.4, 3.4)
TIPS = (
    (0.0, -0.36),
    (0.0, -0.18),
    (0.0, 0.0),
    (0.0, 0.3),
    (-0.3, -0.1),
    (0.3, -0.1),
    (-0.3, 0.25),
    (0.3, 0.25),
)
FEW_PACES = (0.7, 1.1, 1.7, 2.7)
FEW_TIPS = ((0.0, -0.34), (0.0, 0.0), (0.0, 0.3), (-0.3, 0.1), (0.3, 0.1))
#: Metres between places at most: while a first answer is looked for, and in the end.
COARSE_M, FINE_M = 0.2, 0.1


@dataclass(frozen=True)
class Net:
    """Places of a cue ball: `xs` (n,) and `ys` (m,) from rail to rail; place i * m + j is (xs[i], ys[j])."""

    xs: Array
    ys: Array

    @cached_property
    def places(self) -> Array:
        """All of them, (n * m, 2)."""
        return np.array(list(product(self.xs, self.ys)))


def net_of(spec: TableSpec, step_m: float) -> Net:
    """A net at most so wide, from frozen on one rail to frozen on the other."""
    radius = spec.ball_radius
    counts = [2 + int((size - 2 * radius) / step_m) for size in (spec.length, spec.width)]
    return Net(
        np.linspace(radius, spec.length - radius, counts[0]),
        np.linspace(radius, spec.width - radius, counts[1]),
    )


@dataclass(frozen=True)
class Setting:
    """Table and player of a rack; `strokes` (s, 3) are speed, tip across and up of what is tried."""

    spec: TableSpec
    bed: Bed
    physics: Physics
    spreads: Spreads
    strokes: Array
    net: Net

    @cached_property
    def constants(self) -> Array:
        """Those of `Physics.as_array`, squirt (rad for a radius), the cue's share, length and width."""
        own = self.physics
        return np.append(
            own.as_array(),
            [math.radians(own.squirt_deg), 1 + own.mass / own.cue_mass, self.spec.length, self.spec.width],
        )

    @cached_property
    def errors(self) -> Array:
        """Standard deviations: aim (rad), speed (share), tip across and up (radii)."""
        spreads, millimetre = self.spreads, 1e-3 / self.physics.radius
        return np.array(
            [
                spreads.aim_mrad / 1000,
                spreads.speed,
                spreads.tip_across_mm * millimetre,
                spreads.tip_up_mm * millimetre,
            ]
        )

    @cached_property
    def shape(self) -> Array:
        """Bed and rails as `flights.rail_elevation` takes them."""
        spec = self.spec
        heights = (
            (0.0, nose_height(spec) + TIP_RADIUS_M),
            (CUSHION_M, RAIL_TOP_M + TIP_RADIUS_M),
            (RAIL_DEPTH_M, RAIL_TOP_M + CUE_RADIUS_M),
        )
        rails = [value for pair in heights for value in pair]
        return np.array([spec.length, spec.width, *rails, CUE_LENGTH_M, STEEPEST, CUE_RADIUS_M])

    def stroke(self, number: int, phi: float, elevation: float) -> Stroke:
        """One of the strokes, aimed."""
        speed, a, b = (float(value) for value in self.strokes[number])
        return Stroke(phi, speed, a, b, elevation)


def setting_of(problem: Problem, spreads: Spreads, *, coarse: bool = False) -> Setting:
    """The setting of a problem: few strokes on a wide net for a first answer, or all of them."""
    paces, tips = (FEW_PACES, FEW_TIPS) if coarse else (PACES, TIPS)
    strokes = np.array([(pace, *tip) for pace, tip in product(paces, tips)])
    net = net_of(problem.spec, COARSE_M if coarse else FINE_M)
    return Setting(problem.spec, problem.bed, problem.physics, spreads, strokes, net)
