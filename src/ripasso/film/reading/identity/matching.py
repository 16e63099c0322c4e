"""Which ball a found ball is: one that lay there, one from elsewhere, one that was off the table."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.reading.detection.colours import Look
from ripasso.film.reading.detection.discs import Seen
from ripasso.film.reading.detection.scene import Thing
from ripasso.film.reading.identity import names
from ripasso.film.reading.motion.pockets import IN_POCKET_M, pocket_near
from ripasso.film.reading.motion.shots import Left
from ripasso.film.reading.motion.tracks import Track
from ripasso.film.reading.motion.trajectories import Mover, ways

#: What it costs to say that a found ball is a new one, one that people stand before, one that was off the
#: table. Unlike colours cost their square in spreads of a shade.
NEW, BEHIND, WAS_OFF = 7.0, 5.0, 2.5
#: One alike that lies near to where somebody hides it is rather that one.
BEHIND_NEAR = 1.5
#: What it is worth that a way leads there, and that the ball lies where it lay.
LED, STAYED = 2.0, 4.0
#: A ball so unlike another one is not that one, though the way of that one led there: another lay beside it.
UNLIKE = 14.0
#: A way leads to a place that is this near to its end, metres.
LEADS_M = 0.09
#: So near to where a ball lay another one that looks unlike it is rather that ball, turned as it was pushed,
#: than one from nowhere: metres, and what it costs beside its old place and so far off.
PUSHED_M, PUSHED = 0.25, (2.0, 6.0)


def matched(
    found: Sequence[Seen],
    looks: Sequence[Look | None],
    pool: Sequence[Thing],
    led: Mapping[int, Place],
    spec: TableSpec,
) -> dict[int, Thing]:
    """Which thing of a pool each found ball is, by its number among the found; others are new.

    `led` is where the ways of things lead, by their keys: what was seen to fall lies nowhere.
    """
    from scipy.optimize import linear_sum_assignment  # heavy; loaded where a film is read

    if not found or not pool:
        return {}
    costs = np.full((len(found), len(pool) + len(found)), NEW)
    for i, (seen, look) in enumerate(zip(found, looks, strict=True)):
        for j, thing in enumerate(pool):
            costs[i, j] = _cost(seen, look, thing, led.get(thing.key), spec)
    rows, columns = linear_sum_assignment(costs)
    pairs = zip(rows.tolist(), columns.tolist(), strict=True)
    return {row: pool[column] for row, column in pairs if column < len(pool) and costs[row, column] < NEW}


def _cost(seen: Seen, look: Look | None, thing: Thing, led: Place | None, spec: TableSpec) -> float:
    if thing.behind_person and (look is None or not thing.looks):
        return NEW  # neither is seen: nothing says that they are one
    unlike = names.alikeness(thing, look) if look is not None else 2.0
    cost = min(NEW, unlike)
    if thing.place is None:
        return cost + WAS_OFF
    if led is not None and pocket_near(spec, led)[1] < IN_POCKET_M < math.dist(led, seen.place):
        return NEW
    away = math.dist(seen.place, thing.place)
    if away < PUSHED_M and not thing.behind_person:
        cost = min(cost, float(np.interp(away, (0.0, PUSHED_M), PUSHED)))
    if away < spec.ball_radius and not thing.behind_person and unlike < STAYED:
        return cost - STAYED
    if led is not None and math.dist(led, seen.place) < LEADS_M and unlike < UNLIKE:
        return cost - LED
    if not thing.behind_person:
        return cost
    return cost + (BEHIND_NEAR if away < PUSHED_M and unlike < STAYED else BEHIND)


def mover_of(thing: Thing, end: Place | None) -> Mover:
    """What is known of a ball that is not where it lay; `end` is where it lies now."""
    assert thing.place is not None and thing.patch is not None
    light, blue, red = np.median(thing.patch, axis=0)
    colour = (float(light), 2 * float(blue), 2 * float(red))
    return Mover(thing.key, colour, thing.place, thing.same_s, end, thing.was_hidden)


def lefts_of(
    movers: Sequence[Mover],
    tracks: Sequence[Track],
    since: Mapping[int, float | None],
    time_s: float,
    spec: TableSpec,
) -> list[Left]:
    """The ways of the balls that moved; `since` is when each was first seen to be gone, `time_s` is now."""
    found = ways(movers, tracks, spec)
    lefts = []
    for mover in movers:
        track = found.get(mover.key)
        gone_s = since.get(mover.key) or time_s
        if track is not None and track.first.time_s >= mover.same_s:
            gone_s = min(gone_s, track.first.time_s)
        gone_s = max(gone_s, mover.same_s)
        lefts.append(Left(mover.key, mover.place, mover.same_s, gone_s, track, mover.end))
    return lefts


def packs_of(things: Sequence[Thing], gap_m: float) -> list[list[Thing]]:
    """Things that stand together: each nearer than a gap to another of its pack."""
    left, packs = list(things), []
    while left:
        pack = [left.pop()]
        for one in pack:
            near = [
                t
                for t in left
                if t.place and one.place and np.hypot(*np.subtract(t.place, one.place)) < gap_m
            ]
            left = [t for t in left if t not in near]
            pack += near
        packs.append(pack)
    return packs
