"""A drawing of the table as a camera sees it: lines laid through the view, in pixels of the picture."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from ripasso.drawing.primitives import Circle, Drawing, Line, Point, Polygon, Primitive, Text

Array = npt.NDArray[np.float64]
#: Straight lines on the table are broken into pieces of this length (metres): a lens may bend them.
PIECE_M = 0.08
CIRCLE_POINTS = 40

#: From points (n, 3) of the table to pixels (n, 2), NaN where the camera does not see.
Project = Callable[[Array], Array]


def through_view(
    primitives: Iterable[Primitive], project: Project, size: tuple[int, int], height: float, words: str = ""
) -> Drawing:
    """Primitives at a height over the cloth as seen; v grows upwards, so that a painter can take them."""

    def seen(points: Iterable[Point]) -> tuple[Point, ...]:
        flat = np.array(list(points), dtype=np.float64).reshape(-1, 2)
        pixels = project(np.column_stack((flat, np.full(len(flat), height))))
        return tuple((float(u), float(-v)) for u, v in pixels if math.isfinite(u) and math.isfinite(v))

    drawn: list[Primitive] = []
    for primitive in primitives:
        drawn += _seen(primitive, seen)
    return Drawing(tuple(drawn), 0.0, -float(size[1]), float(size[0]), 0.0, words)


def _seen(primitive: Primitive, seen: Callable[[Iterable[Point]], tuple[Point, ...]]) -> list[Primitive]:
    if isinstance(primitive, Line):
        points = seen(_broken(primitive.points))
        return [Line(points, primitive.role, primitive.weight, primitive.dashed)] if len(points) > 1 else []
    if isinstance(primitive, Polygon):
        points = seen(_broken((*primitive.points, primitive.points[0])))
        return [Polygon(points, primitive.fill, primitive.edge, primitive.soft)] if len(points) > 2 else []
    if isinstance(primitive, Circle):
        return _circle(primitive, seen)
    at = seen([primitive.at])
    beside = seen([(primitive.at[0] + primitive.height, primitive.at[1])])
    above = seen([(primitive.at[0], primitive.at[1] + primitive.height)])
    if not (at and beside and above):
        return []
    # Words stand upright in the picture; farther ones are smaller, as everything is.
    height = max(math.dist(at[0], beside[0]), math.dist(at[0], above[0]))
    return [Text(at[0], primitive.text, primitive.role, height)]


def _circle(circle: Circle, seen: Callable[[Iterable[Point]], tuple[Point, ...]]) -> list[Primitive]:
    turns = [2 * math.pi * i / CIRCLE_POINTS for i in range(CIRCLE_POINTS + 1)]
    x, y = circle.centre
    points = seen([(x + circle.radius * math.cos(t), y + circle.radius * math.sin(t)) for t in turns])
    if len(points) < 3:
        return []
    drawn: list[Primitive] = []
    if circle.fill is not None:
        drawn.append(Polygon(points, circle.fill, soft=circle.soft))
    if circle.edge is not None:
        drawn.append(Line(points, circle.edge, circle.weight, circle.dashed))
    return drawn


def _broken(points: tuple[Point, ...]) -> list[Point]:
    """The same way in short pieces."""
    broken = [points[0]]
    for start, end in pairwise(points):
        pieces = max(1, math.ceil(math.dist(start, end) / PIECE_M))
        broken += [
            (start[0] + (end[0] - start[0]) * i / pieces, start[1] + (end[1] - start[1]) * i / pieces)
            for i in range(1, pieces + 1)
        ]
    return broken
