"""A rack's plan over the table: the shaded map, the way of the plan, flags on balls that are in trouble."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ripasso.drawing.primitives import Circle, Line, Point, Polygon, Primitive, Text

#: Numbers beside rests, and flags beside balls (metres).
NUMBER_M, FLAG_M = 0.045, 0.05


@dataclass(frozen=True, slots=True)
class DrawnStep:
    """One ball of a plan: where the cue ball lies, the ball, its pocket, and where the cue ball stops."""

    cue: Point
    ball: Point
    pocket: Point
    rest: Point | None


def shades(areas: Iterable[tuple[float, Sequence[tuple[Point, ...]]]]) -> list[Primitive]:
    """Levels of a map, one over the other: the better a place, the lighter it is."""
    return [Polygon(line, "mark.next", soft=True) for _, lines in areas for line in lines if len(line) > 2]


def plan_ways(steps: Sequence[DrawnStep], chosen: int, radius: float) -> list[Primitive]:
    """The whole plan as hair lines with the rests numbered; the chosen step stands out."""
    drawn: list[Primitive] = []
    for number, step in enumerate(steps):
        is_chosen = number == chosen
        role, weight = ("mark.played", "bold") if is_chosen else ("mark.plan", "hair")
        drawn.append(Line((step.cue, step.ball), role, weight, dashed=True))  # type: ignore[arg-type]
        drawn.append(Line((step.ball, step.pocket), role, weight))  # type: ignore[arg-type]
        if step.rest is not None:
            drawn.append(Circle(step.rest, 1.4 * radius, None, role, "thin", dashed=True))
            drawn.append(Text(step.rest, str(number + 2), "table.words", NUMBER_M))
    return drawn


def flags(balls: Iterable[tuple[Point, str]], radius: float) -> list[Primitive]:
    """A ring about each ball that needs a plan, and a word beside it."""
    drawn: list[Primitive] = []
    for place, text in balls:
        drawn.append(Circle(place, 1.6 * radius, None, "mark.blocked", "bold"))
        drawn.append(Text((place[0], place[1] + 2.6 * radius), text, "mark.blocked", FLAG_M))
    return drawn
