"""Whether a way that was followed can be a ball's: what rolling and cushions allow, with room for the film.

Simple bounds, no simulation: a way that breaks one of them was another ball's for a while, or a hand's.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import pairwise
from typing import Literal

import numpy as np
import numpy.typing as npt

from ripasso.core.table import TableSpec, cushion_gaps
from ripasso.core.table.places import Place
from ripasso.film.reading.motion.pockets import NEAR_POCKET_M, pocket_near

#: What speaks against a way: too fast, faster without a reason, turned without one, ended elsewhere.
Doubt = Literal["fast", "speeds up", "turns", "ends elsewhere"]
Way = Sequence[tuple[float, float, float]]
Array = npt.NDArray[np.float64]

#: No ball is faster than a hard break, m/s (from memory: breaks of good players reach 11 to 12).
FASTEST = 13.0
#: Spin speeds a ball up by sliding friction at most, m/s2: 0.2 of g and as much again for a fast cloth.
SLIDING = 4.0
#: What a place on film may be off, metres, and speeds with it; the least time that a speed is told over.
OFF_M, LEAST_S = 0.012, 0.06
#: A turn sharper than this has a reason: a ball, a cushion, a pocket's jaws. Spin bends a way, gently.
SHARP_DEG = 55.0
#: A leg shorter than this has no direction.
LEG_M = 0.06
#: What happens between two frames of a slow film is seen at neither, seconds.
FRAME_S = 0.04
#: How near a reason lies, in ball radii beside the two balls' own, and a cushion beside one.
NEAR_RADII, CUSHION_RADII = 2.5, 2.0
#: How far from its last place on the way a ball may lie without having had time to go there, metres.
END_M = 0.08


def doubts(
    way: Way, end: Place | None, rest_s: float, others: Iterable[Sequence[Place]], spec: TableSpec
) -> list[tuple[float, Doubt]]:
    """What speaks against a way of points (s, m, m), each with its time.

    `end` is where the ball lies when all is at rest at `rest_s` (None: potted), `others` are the places of
    each other ball one after the other, metres: one for a ball that lay still.
    """
    reasons = [np.array(places, dtype=np.float64) for places in others]
    found = [*_by_speed(way, reasons, spec), *_by_turns(way, reasons, spec)]
    if end is not None and way:
        last_s, *last = way[-1]
        speed = _speed(way[-2], way[-1]) if len(way) > 1 else 0.0
        if math.dist(last, end) > END_M + speed * max(0.0, rest_s - last_s):
            found.append((last_s, "ends elsewhere"))
    return sorted(found)


def doubtful(
    ways: Mapping[int, Way],
    before: Mapping[int, Place],
    after: Mapping[int, Place],
    rest_s: float,
    spec: TableSpec,
) -> dict[int, list[tuple[float, Doubt]]]:
    """The doubts about each way of a shot, by the key of its ball; without those that have none."""
    found = {}
    for key, way in ways.items():
        others = [[place] for other, place in before.items() if other != key]
        others += [[(x, y) for _, x, y in points] for other, points in ways.items() if other != key]
        told = doubts(way, after.get(key), rest_s, others, spec)
        if told:
            found[key] = told
    return found


def _by_speed(way: Way, reasons: Sequence[Array], spec: TableSpec) -> Iterator[tuple[float, Doubt]]:
    before: tuple[float, float] | None = None
    for one, two in pairwise(way):
        took = two[0] - one[0]
        if took < LEAST_S:
            continue
        speed, middle_s = _speed(one, two), 0.5 * (one[0] + two[0])
        least = max(0.0, speed - 2 * OFF_M / took)
        if least > FASTEST:
            yield one[0], "fast"
        elif before is not None:
            could = before[0] + SLIDING * (middle_s - before[1])
            if least > could + OFF_M / LEAST_S and not _has_reason(one[1:], reasons, spec, speed):
                yield one[0], "speeds up"
        before = (speed + 2 * OFF_M / took, middle_s)


def _by_turns(way: Way, reasons: Sequence[Array], spec: TableSpec) -> Iterator[tuple[float, Doubt]]:
    for one, two, three in zip(way, way[1:], way[2:], strict=False):
        if math.dist(one[1:], two[1:]) < LEG_M or math.dist(two[1:], three[1:]) < LEG_M:
            continue
        came = math.atan2(two[2] - one[2], two[1] - one[1])
        goes = math.atan2(three[2] - two[2], three[1] - two[1])
        turn = abs(math.degrees(math.remainder(goes - came, 2 * math.pi)))
        speed = max(_speed(one, two), _speed(two, three))
        if turn > SHARP_DEG and not _has_reason(two[1:], reasons, spec, speed):
            yield two[0], "turns"


def _has_reason(place: Place, reasons: Sequence[Array], spec: TableSpec, speed: float) -> bool:
    """Whether another ball, a cushion or a pocket is near, as near as frames tell at a speed (m/s)."""
    radius, between = spec.ball_radius, FRAME_S * speed
    if any(gap < (1 + CUSHION_RADII) * radius + between for gap in cushion_gaps(spec, place).values()):
        return True
    if pocket_near(spec, place)[1] < NEAR_POCKET_M + between:
        return True
    return any(_away(place, other) < (2 + NEAR_RADII) * radius + between for other in reasons)


def _away(place: Place, way: Array) -> float:
    """How far a place is off a way of straight pieces, places (n, 2), metres."""
    if len(way) == 1:
        return math.dist(place, way[0])
    begin, piece = way[:-1], np.diff(way, axis=0)
    length = np.maximum((piece**2).sum(axis=1), 1e-12)
    share = np.clip(((place - begin) * piece).sum(axis=1) / length, 0.0, 1.0)
    return float(np.hypot(*(begin + share[:, None] * piece - place).T).min())


def _speed(one: tuple[float, float, float], two: tuple[float, float, float]) -> float:
    return math.dist(one[1:], two[1:]) / max(two[0] - one[0], 1e-3)
