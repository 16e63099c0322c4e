"""The way of a ball as few places in time."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

#: A place in time: seconds, metres, metres.
TimedPlace = tuple[float, float, float]


def few_places(points: Sequence[TimedPlace], within_m: float) -> list[TimedPlace]:
    """Some of the places, so that none of those left out is farther than `within_m` (metres) from the way
    between those kept, at its time."""
    if len(points) < 3:
        return list(points)
    times, places = np.array([p[0] for p in points]), np.array([p[1:] for p in points])
    kept = {0, len(points) - 1}
    waiting = [(0, len(points) - 1)]
    while waiting:
        a, b = waiting.pop()
        if b - a < 2:
            continue
        share = (times[a + 1 : b] - times[a]) / (times[b] - times[a])
        line = places[a] + share[:, None] * (places[b] - places[a])
        off = np.hypot(*(places[a + 1 : b] - line).T)
        worst = int(np.argmax(off))
        if off[worst] > within_m:
            kept.add(a + 1 + worst)
            waiting += [(a, a + 1 + worst), (a + 1 + worst, b)]
    return [points[i] for i in sorted(kept)]
