"""The plan of a rack as a chain: ball after ball in their order, and areas where the cue ball stops."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ripasso.core.geometry.zones import Zone
from ripasso.core.table import TableSpec, pocket_centre
from ripasso.drawing.layers import zone_primitives
from ripasso.drawing.primitives import Circle, Line, Point, Primitive, Text

NUMBER_M = 0.075


def chain(
    spec: TableSpec,
    balls: Mapping[str, Point],
    order: Sequence[tuple[str, str | None, Zone | None]],
    *,
    backwards: bool = False,
) -> tuple[tuple[Primitive, ...], tuple[Primitive, ...]]:
    """What lies under the balls and over them; `order` has ball, pocket, zone of each.

    Balls that do not lie there are passed. Backwards the last ball is number 1: so a plan is found.
    """
    under: list[Primitive] = []
    over: list[Primitive] = []
    known = [(ball, pocket, zone) for ball, pocket, zone in order if ball in balls]
    for place, (ball, pocket, zone) in enumerate(known):
        if zone is not None:
            under += zone_primitives(spec, zone)
        if pocket is not None:
            under.append(Line((balls[ball], pocket_centre(spec, pocket)), "mark.line", dashed=False))
        if place + 1 < len(known):
            under.append(Line((balls[ball], balls[known[place + 1][0]]), "mark.plan", "bold", dashed=True))
        number = len(known) - place if backwards else place + 1
        x, y = balls[ball]
        at = (x, y + 2.2 * spec.ball_radius if y < spec.width / 2 else y - 2.2 * spec.ball_radius)
        over.append(Text(at, str(number), "table.words", NUMBER_M))
    return tuple(under), tuple(over)


def landings(spec: TableSpec, rests: Sequence[tuple[int, Point]]) -> tuple[Primitive, ...]:
    """Where the cue ball came to rest, beside the zones: a ring with the number of its shot."""
    drawn: list[Primitive] = []
    for number, (x, y) in rests:
        drawn.append(Circle((x, y), spec.ball_radius, None, "table.words"))
        away = 2.4 * spec.ball_radius
        at = (x, y + away if y < spec.width / 2 else y - away)
        drawn.append(Text(at, f"shot {number}", "table.words", 0.7 * NUMBER_M))
    return tuple(drawn)
