"""Compiles the simulator ahead of its first use: `python -m ripasso.core.planning.warming [idle]`.

In a process of its own, as the compiler would hold up a window for many seconds; `idle`: nobody waits.
"""

from __future__ import annotations

import contextlib
import math
import os
import sys
from dataclasses import replace

from ripasso.core.physics.aiming import aim_at
from ripasso.core.physics.bed import bed_of
from ripasso.core.physics.compiling import mark_ready
from ripasso.core.physics.motion import simulate
from ripasso.core.physics.parameters import physics_of
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.repeating import repeat, starts_of
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.backward.deciding import decisions
from ripasso.core.planning.backward.setting import setting_of
from ripasso.core.planning.backward.solving import rack_of, solve
from ripasso.core.planning.problem import Problem
from ripasso.core.table import table_spec


def warm_up() -> None:
    """Run every compiled function once."""
    spec = table_spec(None)
    physics, bed = physics_of(spec), bed_of(spec)
    layout = {"cue": (0.6, 0.4), "1": (1.5, 0.7)}
    stroke = aim_at(Stroke(0.0, 2.0), layout["cue"], layout["1"], (spec.length, spec.width), physics)
    stroke = stroke or Stroke(math.atan2(0.3, 0.9), 2.0)
    simulate(layout, stroke, bed, physics)
    repeat(layout, starts_of([stroke], physics), bed, physics, threads=1)
    problem = Problem("nine_ball", spec, layout, ("1",))
    setting = setting_of(problem, spreads_of_level("club", snooker=False), coarse=True)
    rack = rack_of(problem, replace(setting, strokes=setting.strokes[:2]))
    solve(rack)
    decisions(rack, rack.order.start, layout["cue"])
    mark_ready()


if __name__ == "__main__":
    if "idle" in sys.argv:
        with contextlib.suppress(OSError):
            os.nice(10)
    # The cache folder can go while this runs, as where a first run is ended: then nothing is kept.
    with contextlib.suppress(FileNotFoundError):
        warm_up()
