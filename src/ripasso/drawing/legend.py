"""What the marks on a table mean: of those that are drawn now, each once, with a sample of it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ripasso.drawing.primitives import Circle, Drawing, Line, Polygon, Primitive

#: A sample is so wide and high, in its own units.
SAMPLE = (3.0, 1.0)
#: What a mark means, by the kind of its primitive, its role (of a ring that of its edge) and whether it is
#: dashed. Words are keys of the vocabulary.
MEANINGS: dict[tuple[type[Primitive], str, bool], str] = {
    (Line, "mark.line", False): "legend_pot",
    (Circle, "mark.line", True): "legend_ghost",
    (Line, "mark.blocked", False): "legend_blocked",
    (Circle, "mark.blocked", True): "legend_blocked_ghost",
    (Polygon, "area.window", False): "legend_window",
    (Line, "mark.natural", True): "legend_stun",
    (Line, "mark.natural", False): "legend_roll",
    (Polygon, "area.side", False): "legend_side",
    (Polygon, "area.wanted", False): "legend_wanted",
    (Line, "mark.next", False): "legend_next",
    (Line, "mark.next", True): "legend_behind_next",
    (Polygon, "area.zone", False): "legend_zone",
    (Circle, "area.zone", False): "legend_zone",
    (Line, "mark.plan", True): "legend_route",
    (Line, "mark.plan", False): "legend_aim",
    (Polygon, "area.option", False): "legend_option_zone",
    (Circle, "area.option", False): "legend_option_zone",
    (Line, "mark.option", True): "legend_option",
    (Line, "mark.played", False): "legend_path",
    (Circle, "mark.played", False): "legend_rest",
    (Line, "mark.error", False): "legend_error",
    (Line, "mark.error", True): "legend_error_parts",
    (Line, "mark.pen", False): "legend_pen",
    (Polygon, "mark.pen", False): "legend_pen",
    (Circle, "table.meant", True): "legend_proposed",
    (Circle, "table.on", False): "legend_on",
    (Circle, "table.meant", False): "legend_called",
}


@dataclass(frozen=True, slots=True)
class Mark:
    """A mark that is drawn: what it means (a word of the vocabulary), and a sample of it."""

    word: str
    sample: Drawing


def legend(primitives: Iterable[Primitive]) -> list[Mark]:
    """What the marks among the primitives of a table mean, in the order of `MEANINGS`, each meaning once.

    Words on the table speak for themselves.
    """
    shapes = (p for p in primitives if isinstance(p, Line | Polygon | Circle))
    drawn = {_kind(shape): shape for shape in shapes}
    marks: dict[str, Mark] = {}
    for kind, meaning in MEANINGS.items():
        if kind in drawn and meaning not in marks:
            marks[meaning] = Mark(meaning, _sample(drawn[kind]))
    return list(marks.values())


def _kind(primitive: Line | Polygon | Circle) -> tuple[type[Primitive], str, bool]:
    if isinstance(primitive, Line):
        return Line, primitive.role, primitive.dashed
    if isinstance(primitive, Circle):
        return Circle, primitive.fill or primitive.edge or "", primitive.dashed
    return Polygon, primitive.fill, False


def _sample(primitive: Line | Polygon | Circle) -> Drawing:
    """A piece of cloth with the mark on it."""
    width, height = SAMPLE
    cloth = Polygon(((0, 0), (width, 0), (width, height), (0, height)), "table.cloth")
    middle = height / 2
    shown: Primitive
    if isinstance(primitive, Line):
        ends = ((0.2, middle), (width - 0.2, middle))
        shown = Line(ends, primitive.role, primitive.weight, primitive.dashed)
    elif isinstance(primitive, Circle):
        radius = 0.36 * height
        shown = Circle(
            (width / 2, middle),
            radius,
            primitive.fill,
            primitive.edge,
            primitive.weight,
            primitive.soft,
            primitive.dashed,
        )
    else:
        corners = ((0.5, 0.15), (width - 0.5, 0.15), (width - 0.5, height - 0.15), (0.5, height - 0.15))
        shown = Polygon(corners, primitive.fill, primitive.edge, primitive.soft)
    return Drawing((cloth, shown), 0, 0, width, height, "")
