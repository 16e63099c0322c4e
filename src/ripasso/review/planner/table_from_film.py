"""Cloth and cushions of a session's table, told from the ways of balls on film; loads the simulator."""

from __future__ import annotations

import math
from collections.abc import Callable

from ripasso.core.physics.parameters import CLOTHS, CUSHIONS, physics_of
from ripasso.core.planning.calibrating import Calibrated, calibrate
from ripasso.core.planning.explaining import Sighting
from ripasso.core.planning.problem import Problem
from ripasso.core.table import TableSpec, table_spec
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.table.layouts import recorded, seen_ways

Case = tuple[Problem, list[Sighting]]


def calibration_cases(snapshot: Snapshot) -> list[Case]:
    """The shots of a session that tell of its table: a layout, and the way of the cue ball."""
    spec, game = table_spec(snapshot.head.table), snapshot.head.game or "nine_ball"
    cases = []
    for rack in snapshot.racks:
        for row in rack.shots:
            layout, seen = recorded(row, "before"), seen_ways(row.record)
            if layout is not None and any(ball == "cue" for _, ball, _, _ in seen):
                known = [Sighting(*one) for one in seen if one[1] in layout]
                cases.append((Problem(game, spec, layout, ()), known))
    return cases


def told_table(
    cases: list[Case], spec: TableSpec, progress: Callable[[float], bool] = lambda _share: True
) -> tuple[str, str, str]:
    """The words of cloth and cushions, and the numbers behind them in a sentence.

    Raises `CannotCalibrate` with one sentence where too few shots tell anything.
    """
    found = calibrate(cases, progress=progress)
    slowness = CLOTHS["medium"] * found.rolling.value / physics_of(spec).rolling
    cloth = min(CLOTHS, key=lambda name: abs(math.log(CLOTHS[name] / slowness)))
    cushions = min(CUSHIONS, key=lambda name: abs(CUSHIONS[name] - found.cushion_restitution.value))
    return cloth, cushions, told_words(found)


def told_words(found: Calibrated) -> str:
    """What was told of a table, each number with its 95 %."""
    parts = [
        f"rolling resistance {found.rolling.value:.4f} ± {found.rolling.plus_minus:.4f}",
        f"sliding friction {found.sliding.value:.2f} ± {found.sliding.plus_minus:.2f}",
        f"rebound {found.cushion_restitution.value:.2f} ± {found.cushion_restitution.plus_minus:.2f}",
    ]
    left = f"places are {1000 * found.residual_m:.0f} mm off what it does"
    return f"{'; '.join(parts)}. From {found.shots} shots; {left}."
