"""What lies as it lay, and what moved a little: by itself, in a pack, or by less than is seen to move."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.calibration.views import scaled
from ripasso.film.reading.detection.discs import Seen
from ripasso.film.reading.detection.nearby import pushed
from ripasso.film.reading.detection.picture import Bytes
from ripasso.film.reading.detection.rack import find_rack
from ripasso.film.reading.detection.resting import find_resting
from ripasso.film.reading.detection.scene import State, Thing, View
from ripasso.film.reading.identity.matching import packs_of
from ripasso.film.reading.identity.out_of_sight import ran_unseen
from ripasso.film.reading.motion.tracks import Track
from ripasso.film.reading.viewpoints import Viewpoint

#: Balls stand together when their centres are this near, in radii; so many of them are a pack.
PACK_GAP_RADII, PACK = 2.6, 4


def staying(resting: Sequence[Thing], far: Sequence[Track], *, was_struck: bool) -> list[Thing]:
    """What lies as it lay, or is behind somebody and is none of those that ran `far`."""
    here = [t for t in resting if t.state is State.SAME or t.behind_person]
    ran = {track.origin for track in far}
    if was_struck:
        ran |= ran_unseen(resting, here, far)
    return [t for t in here if not (t.behind_person and t.key in ran)]


def stirred(
    resting: Sequence[Thing], stay: Sequence[Thing], radius_m: float
) -> tuple[list[Place], list[Place]]:
    """Where something is covered: a ball may lie close by. Those by themselves, and those in packs."""
    packed = _packed(resting, radius_m)
    alone: list[Place] = []
    in_packs: list[Place] = []
    for thing in resting:
        if thing.place and thing.state is State.COVERED and thing not in stay:
            (in_packs if thing.key in packed else alone).append(thing.place)
    return alone, in_packs


def pushed_in_packs(
    resting: Sequence[Thing], stay: Sequence[Thing], full: Bytes, viewpoint: Viewpoint
) -> dict[int, Place]:
    """Where balls of packs lie now that look as they did, but were pushed by those that moved beside them."""
    radius = viewpoint.discs.radius_m
    packed = _packed(resting, radius)
    left = [t.place for t in resting if t.place and t not in stay and t.key in packed]
    lying = {thing.key: thing.place for thing in stay if thing.place}
    beside = {
        key: place
        for key, place in lying.items()
        if any(math.dist(place, other) < PACK_GAP_RADII * radius for other in left)
    }
    if not beside:
        return {}
    others = [place for key, place in lying.items() if key not in beside]
    return pushed(full, scaled(viewpoint.discs.camera, 1 / viewpoint.discs.share), beside, others, radius)


def balls_at_rest(
    full: Bytes,
    view: View,
    viewpoint: Viewpoint,
    spec: TableSpec,
    known: Sequence[Place],
    moved: tuple[Sequence[Place], Sequence[Place]],
    rack: Sequence[Place],
    is_first: bool,
) -> list[Seen]:
    """The balls at rest apart from `known` ones; a rack that is set up is known by its shape.

    `moved` is where balls lay that were stirred, by themselves and in packs.
    """
    ground, discs = viewpoint.ground, viewpoint.discs
    origin = (ground.box[1].start, ground.box[0].start)
    racked = find_rack(view.other, discs, origin, rack)
    known = [*known, *(seen.place for seen in racked)]
    return racked + find_resting(full, view.other, ground, discs, spec, known, *moved, is_first=is_first)


def _packed(resting: Sequence[Thing], radius_m: float) -> set[int]:
    """The keys of what lies in packs."""
    packs = packs_of(resting, PACK_GAP_RADII * radius_m)
    return {thing.key for pack in packs if len(pack) >= PACK for thing in pack}
