"""Shots of a session that were played from the same layout: a decision met twice, a rack set up again.

A shot counts here when its choice was weighed. Work grows with the weighed shots, which a rack keeps.
"""

from __future__ import annotations

import math

from ripasso.review.document.snapshot import RackRow, ShotRow, Snapshot
from ripasso.review.table.layouts import Layout, recorded

#: A ball that was put back lies within this of where it lay (m).
PUT_BACK_M = 0.03


def is_same(one: Layout, other: Layout) -> bool:
    """Whether the same balls lie at the same places, as exactly as balls are put back."""
    return one.keys() == other.keys() and all(
        math.dist(place, other[ball]) <= PUT_BACK_M for ball, place in one.items()
    )


def met_before(snapshot: Snapshot, shot: ShotRow) -> tuple[RackRow, ShotRow] | None:
    """The last shot before this one that was played from the same layout, with its rack.

    None where there is none, or where one of the two was not weighed.
    """
    rack = snapshot.rack(shot.rack)
    layout = recorded(shot, "before")
    if rack is None or layout is None or shot not in rack.weighed:
        return None
    place = snapshot.rack_index(rack.key)
    for earlier in reversed(snapshot.racks[: place + 1]):
        for row in reversed(earlier.weighed):
            if earlier is rack and row.record.number >= shot.record.number:
                continue
            before = recorded(row, "before")
            if before is not None and is_same(before, layout):
                return earlier, row
    return None


def set_up_before(snapshot: Snapshot, rack: RackRow) -> RackRow | None:
    """The last rack before this one that began with the same layout; None where none did."""
    begun = _begins(rack)
    layout = recorded(begun, "before") if begun is not None else None
    if layout is None:
        return None
    for earlier in reversed(snapshot.racks[: snapshot.rack_index(rack.key)]):
        begun = _begins(earlier)
        before = recorded(begun, "before") if begun is not None else None
        if before is not None and is_same(before, layout):
            return earlier
    return None


def _begins(rack: RackRow) -> ShotRow | None:
    """The shot with which a layout was begun: a rack that is broken lies like every other one."""
    first = rack.shots[0] if rack.shots else None
    return first if first in rack.weighed else None
