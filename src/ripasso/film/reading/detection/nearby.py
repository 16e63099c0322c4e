"""Where a ball lies now that lay at a place before: the outline that a look from there leads to."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from ripasso.core.table.places import Place
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.snap import Snap, snap_to_ball
from ripasso.film.reading.detection.picture import Bytes, Floats

#: A look from where the last one led is repeated at most so often, until it moves less than this (radii).
SETTLING, SETTLED = 3, 0.1
#: A ball that looks as it did was pushed when its outline is so clear, and so far (radii) from others.
CLEARLY, FREE = 0.65, 2.4


def settled(picture: Bytes | Floats, camera: Camera, place: Place, radius_m: float) -> Snap | None:
    """The outline that looks lead to: the best one from afar may be the edge of another ball.

    `picture` is a large one (height, width, 3), `camera` its own.
    """
    # One copy in floats serves every look.
    image = np.asarray(picture, dtype=np.float32)
    snap = snap_to_ball(image, camera, place, radius_m)
    for _ in range(SETTLING):
        if snap is None:
            return None
        before, snap = snap, snap_to_ball(image, camera, snap.place, radius_m)
        if snap is not None and math.dist(snap.place, before.place) < SETTLED * radius_m:
            break
    return snap


def pushed(
    picture: Bytes | Floats,
    camera: Camera,
    places: Mapping[int, Place],
    others: Sequence[Place],
    radius_m: float,
) -> dict[int, Place]:
    """Where balls lie now that were pushed by less than a small picture shows; only those that were.

    `places` are of those that may have been, by their keys; `others` where else balls lie.
    """
    image = np.asarray(picture, dtype=np.float32)
    found = {}
    for key, place in places.items():
        snap = settled(image, camera, place, radius_m)
        if snap is None or snap.strength < CLEARLY:
            continue
        beside = [*others, *(other for number, other in places.items() if number != key)]
        if min((math.dist(snap.place, other) for other in beside), default=1.0) > FREE * radius_m:
            found[key] = snap.place
    return found
