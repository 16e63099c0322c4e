"""Balls that are not seen where they are: behind somebody, or behind other balls."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ripasso.core.table.places import Place
from ripasso.film.reading.detection.scene import State, Thing
from ripasso.film.reading.identity.matching import mover_of
from ripasso.film.reading.motion.tracks import Track
from ripasso.film.reading.motion.trajectories import ways

#: A ball that ran this far from behind somebody was struck there, metres.
RAN_M = 0.5


def ran_unseen(resting: Sequence[Thing], here: Sequence[Thing], far: Sequence[Track]) -> set[int]:
    """Who left from behind somebody: a ball of such colours runs, and nobody else's way it is.

    `here` seem to lie as they lay, `far` are tracks that went some way.
    """
    free = [track for track in far if track.origin is None]
    movers = [mover_of(t, None) for t in resting if t not in here or t.behind_person]
    hidden = {t.key for t in here if t.behind_person}
    return {key for key, way in ways(movers, free).items() if key in hidden and way.span_m > RAN_M}


def without_hidden(
    gone: Sequence[Thing], found: Sequence[Place], running: Sequence[Track], radius_m: float
) -> list[Thing]:
    """Balls that are gone, without those others hide: no way leads off, no other ball lies there."""
    left = ways([mover_of(t, None) for t in gone], running)
    return [
        t
        for t in gone
        if t.state is not State.COVERED
        or t.key in left
        or any(_apart(place, t.place) < radius_m for place in found)
    ]


def _apart(one: Place, other: Place | None) -> float:
    return float(np.hypot(*np.subtract(one, other))) if other is not None else 0.0
