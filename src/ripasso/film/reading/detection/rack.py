"""A rack that is set up: balls that hide one another, known by the shape they stand in together."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from ripasso.core.table import TableSpec
from ripasso.core.table.layouts import starting_layout
from ripasso.core.table.places import Place
from ripasso.film.reading.detection.discs import Discs, Seen, drawn, likeness_of
from ripasso.film.reading.detection.picture import Bytes

#: How far off its spot a rack may stand, and in which steps that is looked for, ball radii.
OFF_RADII, STEP_RADII = 0.8, 0.1
#: How alike the outline of a rack and what is seen must be (area of both by that of either, shadows aside).
ALIKE = 0.88
#: A rack stands on its spot: what a ball's radius off it counts, as likeness.
OFF_COUNTS = 0.2
#: How clear a ball of a rack is: its place is known by the others.
CLEARNESS = 0.5
#: Balls stand in the rack when they touch another of it: farther apart than this (radii) they stand alone.
TOUCH_RADII = 2.2


def rack_places(game: str, spec: TableSpec) -> list[Place]:
    """Where the balls of a game stand together before the break; empty for a game that is not known."""
    layout = starting_layout(game, spec)
    layout.pop("cue", None)
    return [
        place
        for ball, place in layout.items()
        if any(
            ball != other and np.hypot(*np.subtract(place, there)) < TOUCH_RADII * spec.ball_radius
            for other, there in layout.items()
        )
    ]


def find_rack(other: Bytes, discs: Discs, origin: tuple[int, int], places: Sequence[Place]) -> list[Seen]:
    """The balls of a rack at about its places, if one is set up; `other` is what is not cloth, in the box.

    The whole rack is moved over what is seen until both are most alike. Empty when nothing like it stands
    there.
    """
    if not places:
        return []
    expected = drawn(other.shape, discs, origin, places)
    blob = _blob(other, expected)
    if blob is None:
        return []
    rows, columns = np.nonzero(blob | expected)
    margin = 8
    top, left = max(0, int(rows.min()) - margin), max(0, int(columns.min()) - margin)
    cut = blob[top : int(rows.max()) + margin, left : int(columns.max()) + margin]
    corner = (origin[0] + left, origin[1] + top)
    best, likeness = (0.0, 0.0), 0.0
    steps = np.arange(-OFF_RADII, OFF_RADII + STEP_RADII / 2, STEP_RADII) * discs.radius_m
    for dx in steps:
        for dy in steps:
            moved = [(x + dx, y + dy) for x, y in places]
            alike = likeness_of(cut, discs, corner, moved)
            alike -= OFF_COUNTS * float(dx * dx + dy * dy) / discs.radius_m**2
            if alike > likeness:
                best, likeness = (float(dx), float(dy)), alike
    if likeness < ALIKE:
        return []
    return [Seen((x + best[0], y + best[1]), CLEARNESS) for x, y in places]


def _blob(other: Bytes, expected: Bytes) -> Bytes | None:
    """The piece of what is seen that lies most under an expected one."""
    _, labels = cv2.connectedComponents(other, connectivity=8)
    under = np.bincount(np.asarray(labels)[expected > 0], minlength=1)
    under[0] = 0
    if not under.any():  # nothing is seen there, or the place is out of the picture
        return None
    return np.asarray((labels == int(np.argmax(under))).astype(np.uint8) * 255)
