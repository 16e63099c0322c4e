"""A sheet of shots: a small table for each, with its number, what came of it and where the tip was."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ripasso.drawing.primitives import Circle, Drawing, Line, Point, Polygon, Primitive, Text

#: Between tables, and the band below each for its words, in shares of a table's width.
GAP, BAND = 0.08, 0.20
#: Of the drawn cue ball and its tip, in shares of the band; a tip is given in radii of the ball.
BALL, TIP = 0.30, 0.09
HEADLINE, LINE = 0.075, 0.066


@dataclass(frozen=True)
class SheetCell:
    """One shot: its table as drawn, two lines of words, the tip (right and up, in ball radii)."""

    table: Drawing
    title: str
    words: str
    tip: tuple[float, float] | None = None


def sheet_drawing(cells: Sequence[SheetCell], columns: int, title: str) -> Drawing:
    """All cells in rows of so many, the first at the top left, under a title."""
    if not cells:
        return Drawing((), 0.0, 0.0, 1.0, 1.0, title)
    wide = max(cell.table.width for cell in cells)
    high = max(cell.table.height for cell in cells)
    step = (wide * (1 + GAP), high + wide * (BAND + GAP))
    rows = -(-len(cells) // columns)
    head = wide * (BAND if title else GAP)
    width, height = columns * step[0] + wide * GAP, rows * step[1] + head
    primitives: list[Primitive] = [_ground(width, height)]
    if title:
        primitives.append(Text((width / 2, height - 0.55 * head), title, "ink", HEADLINE * wide * 1.3))
    for place, cell in enumerate(cells):
        left = wide * GAP + (place % columns) * step[0]
        top = height - head - (place // columns) * step[1]
        primitives += _cell(cell, left, top, wide, high)
    words = "; ".join(f"{cell.title}: {cell.words}" for cell in cells)
    return Drawing(tuple(primitives), 0.0, 0.0, width, height, f"{title}. {words}")


def _ground(width: float, height: float) -> Polygon:
    return Polygon(((0.0, 0.0), (width, 0.0), (width, height), (0.0, height)), "raised", None)


def _cell(cell: SheetCell, left: float, top: float, wide: float, high: float) -> list[Primitive]:
    table, band = cell.table, wide * BAND
    by = (left - table.left, top - high - table.bottom)
    drawn = [_moved(primitive, by) for primitive in table.primitives]
    middle = left + wide / 2
    drawn += [
        Text((middle, top - high - 0.32 * band), cell.title, "ink", HEADLINE * wide * 0.8),
        Text((middle, top - high - 0.74 * band), cell.words, "quiet", LINE * wide * 0.8),
    ]
    if cell.tip is not None:
        drawn += _tip(cell.tip, (left + 0.45 * band, top - high - 0.5 * band), band)
    return drawn


def _tip(tip: tuple[float, float], centre: Point, band: float) -> list[Primitive]:
    """A cue ball as the player sees it, and where the tip met it."""
    radius = BALL * band
    at = (centre[0] + tip[0] * radius, centre[1] + tip[1] * radius)
    return [
        Circle(centre, radius, "ball.cue", "ink", "hair"),
        Line(((centre[0] - radius, centre[1]), (centre[0] + radius, centre[1])), "line", "hair"),
        Line(((centre[0], centre[1] - radius), (centre[0], centre[1] + radius)), "line", "hair"),
        Circle(at, TIP * band, "accent", None, "hair"),
    ]


def _moved(primitive: Primitive, by: Point) -> Primitive:
    def place(point: Point) -> Point:
        return (point[0] + by[0], point[1] + by[1])

    if isinstance(primitive, Text):
        return replace(primitive, at=place(primitive.at))
    if isinstance(primitive, Circle):
        return replace(primitive, centre=place(primitive.centre))
    return replace(primitive, points=tuple(map(place, primitive.points)))
