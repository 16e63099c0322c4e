"""From where a table is looked at: its four sides. A seat turns the drawing, never mirrors it.

`side` is the right-hand cushion of a player at the head end (head at the left of the picture), `end` the
head end, then round the table: `far_side` and `far_end`.
"""

from __future__ import annotations

from typing import Literal

from ripasso.drawing.primitives import Drawing, Point

ViewingSide = Literal["side", "end", "far_side", "far_end"]
VIEWING_SIDES: tuple[ViewingSide, ...] = ("side", "end", "far_side", "far_end")
#: Seats from which the table's length goes up the picture.
UPRIGHT = ("end", "far_end")


def extent(drawing: Drawing, seat: ViewingSide) -> tuple[float, float]:
    """Metres across and up."""
    return (drawing.height, drawing.width) if seat in UPRIGHT else (drawing.width, drawing.height)


def seen_from(drawing: Drawing, seat: ViewingSide, place: Point) -> Point:
    """How far a place is from the left and from the bottom of the picture, metres."""
    x, y = place
    if seat == "end":
        return (drawing.top - y, x - drawing.left)
    if seat == "far_side":
        return (drawing.right - x, drawing.top - y)
    if seat == "far_end":
        return (y - drawing.bottom, drawing.right - x)
    return (x - drawing.left, y - drawing.bottom)


def place_seen(drawing: Drawing, seat: ViewingSide, seen: Point) -> Point:
    """The place that is seen so far from the left and from the bottom."""
    across, up = seen
    if seat == "end":
        return (drawing.left + up, drawing.top - across)
    if seat == "far_side":
        return (drawing.right - across, drawing.top - up)
    if seat == "far_end":
        return (drawing.right - up, drawing.bottom + across)
    return (drawing.left + across, drawing.bottom + up)


def viewing_side_of(eye: Point, length: float, width: float) -> ViewingSide:
    """The seat nearest to where a camera stands, by its place over or beside the table."""
    # How far beyond each cushion it stands; a camera over the bed sits where it is least inside.
    beyond: dict[ViewingSide, float] = {
        "side": -eye[1],
        "end": -eye[0],
        "far_side": eye[1] - width,
        "far_end": eye[0] - length,
    }
    return max(VIEWING_SIDES, key=lambda seat: beyond[seat])
