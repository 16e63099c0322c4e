"""The constants of balls, cloth, cushions and cue, and the sets of them that the program knows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace

import numpy as np
import numpy.typing as npt

from ripasso.core.table import TableSpec

Array = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Physics:
    """Names as in handbooks; every ball is alike. The defaults are those of pool on a usual cloth.

    Sources, from memory: W. C. Marlow, "The Physics of Pocket Billiards" (1995), for the frictions; I. Han,
    "Dynamics in carom and three cushion billiards", J. Mech. Sci. Tech. 19(4) (2005), for cushion
    restitution, friction and the height of the nose; D. G. Alciatore, technical proof TP A.14, for the
    friction between balls; the World Pool Association's equipment specification for mass and size.
    """

    #: Radius (m) and mass (kg) of a ball; gravity (m/s2).
    radius: float = 0.028575
    mass: float = 0.170097
    gravity: float = 9.81
    #: Friction of a sliding ball on the cloth, resistance of a rolling one, of one that spins upright.
    sliding: float = 0.20
    rolling: float = 0.010
    spinning: float = 0.0117
    #: Restitution of two balls, and their friction k0 + k1 exp(-k2 slip), slip in m/s.
    ball_restitution: float = 0.95
    ball_friction: tuple[float, float, float] = (9.951e-3, 0.108, 1.088)
    #: Restitution and friction of a cushion, the height of its nose over a ball's diameter.
    cushion_restitution: float = 0.85
    cushion_friction: float = 0.20
    nose_share: float = 0.635
    #: Mass of the cue (kg), restitution of its tip, squirt (degrees for an offset of a radius).
    cue_mass: float = 0.540
    tip_restitution: float = 0.75
    squirt_deg: float = 0.0

    def as_array(self) -> Array:
        """The constants in the order in which the compiled code takes them (see `flight.py`)."""
        k0, k1, k2 = self.ball_friction
        return np.array(
            [
                *(self.radius, self.mass, self.gravity, self.sliding, self.rolling),
                5 * self.spinning * self.gravity / (2 * self.radius),
                *(self.ball_restitution, k0, k1, k2),
                *(self.cushion_restitution, self.cushion_friction, 2 * self.nose_share - 1),
            ]
        )


#: Names of the constants in the reference cases.
CASE_NAMES: Mapping[str, str] = {
    **{"R": "radius", "m": "mass", "g": "gravity", "mu_s": "sliding", "mu_r": "rolling"},
    **{"mu_sp": "spinning", "e_b": "ball_restitution", "mu_b": "ball_friction"},
    **{"e_c": "cushion_restitution", "mu_c": "cushion_friction", "h_ratio": "nose_share"},
    **{"M": "cue_mass", "e_tip": "tip_restitution", "squirt_deg_per_R": "squirt_deg"},
}

#: Rolling resistance of cloths (common practice, no source: a slow one stops a ball a third sooner).
CLOTHS: Mapping[str, float] = {"slow": 0.0135, "medium": 0.010, "fast": 0.0075}
#: Restitution of cushions (common practice, no source).
CUSHIONS: Mapping[str, float] = {"dull": 0.78, "medium": 0.85, "lively": 0.90}
#: Squirt of a usual shaft, degrees for a tip offset of a radius (common practice, no source).
USUAL_SQUIRT_DEG = 2.0

POOL = Physics(squirt_deg=USUAL_SQUIRT_DEG)
#: Snooker: a ball of 52.5 mm and about 141 g, a napped cloth of fine wool, a lighter cue with a small tip
#: (from memory; cushions of steel-backed rails as for pool).
SNOOKER = Physics(
    radius=0.02625,
    mass=0.1406,
    sliding=0.21,
    rolling=0.0085,
    spinning=0.0135,
    ball_restitution=0.93,
    cushion_friction=0.16,
    cue_mass=0.500,
    squirt_deg=1.5,
)


def physics_of(spec: TableSpec, cloth: str = "medium", cushions: str = "medium") -> Physics:
    """The constants for a table of the program; a cloth or cushion that is not known is the medium one."""
    usual = SNOOKER if spec.snooker else POOL
    rolling = usual.rolling * CLOTHS.get(cloth, CLOTHS["medium"]) / CLOTHS["medium"]
    restitution = CUSHIONS.get(cushions, CUSHIONS["medium"])
    # A ball of the same stuff: its mass grows with its size.
    mass = usual.mass * (spec.ball_radius / usual.radius) ** 3
    return replace(
        usual, radius=spec.ball_radius, mass=mass, rolling=rolling, cushion_restitution=restitution
    )


def physics_of_case(params: Mapping[str, object]) -> Physics:
    """The constants of a reference case; raises `ValueError` with one sentence for what is no number."""
    known = {field.name for field in fields(Physics)}
    values: dict[str, object] = {}
    for name, value in params.items():
        own = CASE_NAMES.get(name, name)
        if own not in known:
            raise ValueError(f"“{name}” is no constant of the simulator.")
        if own == "ball_friction":
            values[own] = tuple(float(part) for part in value)  # type: ignore[attr-defined]
        elif isinstance(value, int | float) and not isinstance(value, bool) and np.isfinite(value):
            values[own] = float(value)
        else:
            raise ValueError(f"“{name}” should be a number.")
    return Physics(**values)  # type: ignore[arg-type]
