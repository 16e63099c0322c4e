"""What is filmed of a stroke: where the balls are at each picture, and the facts, by the program's simulator.

All lengths in metres, times in seconds.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ripasso.core.physics.bed import bed_of
from ripasso.core.physics.motion import simulate
from ripasso.core.physics.parameters import physics_of
from ripasso.core.physics.strokes import Stroke
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.demo.seen import contacts_of

#: The tip's height (radii) at which the cue ball rolls from the start; in the middle it slides.
ROLLING_TIP = 0.4


@dataclass(frozen=True)
class Motion:
    """What a stroke did: positions at the times asked for, and the facts."""

    times: list[float]
    places: list[dict[str, Place]]
    potted: list[tuple[str, str, float]]
    first_contact: str | None
    cushion_after_contact: bool
    balls_to_cushion: set[str]
    rest_s: float
    after: dict[str, Place]


def play(spec: TableSpec, layout: Mapping[str, Place], stroke: Stroke, frame_s: float) -> Motion:
    """The motion from `layout` until all balls rest, sampled every `frame_s` from the strike on."""
    played = simulate(layout, stroke, bed_of(spec), physics_of(spec))
    times = np.arange(0.0, played.duration + frame_s, frame_s)
    fallen = {event.balls[0]: event.time for event in played.events if event.kind == "pocket"}
    ways = {ball: played.places(ball, times) for ball in played.balls}
    places = [
        {
            ball: (float(ways[ball][i, 0]), float(ways[ball][i, 1]))
            for ball in played.balls
            if time < fallen.get(ball, np.inf)
        }
        for i, time in enumerate(times)
    ]
    seen = contacts_of(played)
    return Motion(
        times=[float(time) for time in times],
        places=places,
        potted=[(ball, played.pockets[ball], time) for ball, time in fallen.items()],
        first_contact=seen.first,
        cushion_after_contact=seen.cushion_after,
        balls_to_cushion=set(seen.driven),
        rest_s=played.duration,
        after=played.rest(),
    )
