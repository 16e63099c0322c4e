"""The bed of a table as the simulator meets it: nose lines, jaws, and where balls fall.

Every contact of a ball's centre is with a line or a circle that lies a ball's radius before the rubber.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from ripasso.core.table import POCKETS, TableSpec
from ripasso.core.table.presets import INCH

Array = npt.NDArray[np.float64]

#: Angle between the nose line and the facing behind it, degrees: the World Pool Association's equipment
#: specification, corner 142, side 104 (from memory).
CORNER_CUT_DEG, SIDE_CUT_DEG = 142.0, 104.0
#: How far behind the middle of the mouth a ball falls: shelf of the same specification, corner 1 to 2.25 in,
#: side 0 to 0.375 in (from memory).
CORNER_SHELF_M, SIDE_SHELF_M = 1.625 * INCH, 0.1875 * INCH
#: Radius of round jaws, and how far behind the nose line a ball falls, as shares of the mouth (snooker's
#: templates are not public: common practice, no source).
ROUND_JAW, ROUND_FALL_CORNER, ROUND_FALL_SIDE = 0.75, 0.45, 0.30
#: Facings are as long as this, in mouths: to where no ball gets any more.
FACING_MOUTHS = 0.9
#: Around a mouth, in mouths: outside no jaw can be touched and no ball can fall.
NEAR_MOUTHS = 1.6

#: A wall without ends, metres each way.
ENDLESS = 1e9

#: Columns of lines: a point, the direction, from where to where it counts along it, the normal to the
#: playing side, and the pocket it belongs to (-1: a cushion).
LINE_COLUMNS = 9
#: Columns of circles: centre, radius, pocket.
CIRCLE_COLUMNS = 4
#: Columns of falls: a point of the line, the direction out of the table, the half length.
FALL_COLUMNS = 5


@dataclass(frozen=True)
class Bed:
    """Arrays of lines, circles, falling lines and falling circles, boxes around pockets, and names.

    `contact_m` is how far a ball's centre is from what it touches. `lines_of` names the cushion of each
    line; `pockets` those of falls (or of falling circles).
    """

    lines: Array
    circles: Array
    falls: Array
    holes: Array
    boxes: Array
    contact_m: float
    lines_of: tuple[str, ...]
    circles_of: tuple[str, ...]
    pockets: tuple[str, ...]


def unbounded_bed() -> Bed:
    """A cloth without an end."""
    return _bed([], [], [], [], 0.0, (), (), ())


def walled_bed(
    length: float, width: float, contact_m: float, holes: Sequence[Sequence[float]], names: Sequence[str]
) -> Bed:
    """Four walls without gaps, and circles (x, y, radius) that take a ball whose centre enters them."""
    lines = [
        (*_rail(start, end)[:4], -ENDLESS, ENDLESS, *_rail(start, end)[6:])
        for start, end in _sides(length, width)
    ]
    return _bed(lines, [], [], holes, contact_m, ("right", "foot", "left", "head"), (), tuple(names))


def bed_of(spec: TableSpec) -> Bed:
    """A table of the program, with gaps, jaws and falls."""
    lines: list[tuple[float, ...]] = []
    circles: list[tuple[float, ...]] = []
    falls: list[tuple[float, ...]] = []
    boxes: list[tuple[float, ...]] = []
    lines_of: list[str] = []
    circles_of: list[str] = []
    jaws = {pocket: _jaws(spec, pocket) for pocket in POCKETS}
    for name, start, end in _cushions(spec, jaws):
        lines.append(_rail(start, end))
        lines_of.append(name)
    for number, pocket in enumerate(POCKETS):
        pair = jaws[pocket]
        for jaw in pair:
            if jaw.radius:
                circles.append((*jaw.centre, jaw.radius, float(number)))
            else:
                lines.append(_rail(*jaw.facing, number, side=pair[0].middle_with(pair[1])))
                lines_of.append(f"{pocket} jaw")
                circles.append((*jaw.nose, 0.0, float(number)))
            circles_of.append(f"{pocket} jaw")
        falls.append(_fall(spec, pocket, pair))
        mouth = _mouth(spec, pocket)
        x, y = pair[0].middle_with(pair[1])
        reach = NEAR_MOUTHS * mouth
        boxes.append((x - reach, y - reach, x + reach, y + reach))
    made = _bed(lines, circles, falls, [], spec.ball_radius, tuple(lines_of), tuple(circles_of), POCKETS)
    return replace(made, boxes=np.array(boxes))


@dataclass(frozen=True)
class _Jaw:
    """One jaw: where the nose line ends, and what is behind it: a facing, or a round of a radius."""

    nose: tuple[float, float]
    facing: tuple[tuple[float, float], tuple[float, float]]
    centre: tuple[float, float]
    radius: float

    def middle_with(self, other: _Jaw) -> tuple[float, float]:
        """The middle between both noses."""
        return ((self.nose[0] + other.nose[0]) / 2, (self.nose[1] + other.nose[1]) / 2)


def _mouth(spec: TableSpec, pocket: str) -> float:
    return spec.side_mouth if pocket.startswith("side") else spec.corner_mouth


def _rails(spec: TableSpec, pocket: str) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """For each jaw the direction along its rail, away from the pocket, and out of the table."""
    end, side = pocket.split("_")
    out_y = (0.0, 1.0 if side == "left" else -1.0)
    if end == "side":
        return [((-1.0, 0.0), out_y), ((1.0, 0.0), out_y)]
    out_x = (1.0 if end == "foot" else -1.0, 0.0)
    return [((-out_x[0], 0.0), out_y), ((0.0, -out_y[1]), out_x)]


def _corner(spec: TableSpec, pocket: str) -> tuple[float, float]:
    end, side = pocket.split("_")
    x = {"head": 0.0, "side": spec.length / 2, "foot": spec.length}[end]
    return (x, spec.width if side == "left" else 0.0)


def _jaws(spec: TableSpec, pocket: str) -> tuple[_Jaw, _Jaw]:
    is_side = pocket.startswith("side")
    mouth = _mouth(spec, pocket)
    radius = ROUND_JAW * mouth if spec.snooker else 0.0
    if not spec.snooker:
        reach = mouth / 2 if is_side else mouth / math.sqrt(2)
    elif is_side:
        # Where a ball falls the rounds are a mouth apart.
        turned = math.acos(1 - ROUND_FALL_SIDE * mouth / radius)
        reach = mouth / 2 + radius * math.sin(turned)
    else:
        # The two rounds come a mouth near to each other on the way to the hole.
        reach = (mouth + (2 - math.sqrt(2)) * radius) / math.sqrt(2)
    cut = math.radians(SIDE_CUT_DEG if is_side else CORNER_CUT_DEG)
    at = _corner(spec, pocket)
    made = []
    for along, out in _rails(spec, pocket):
        nose = (at[0] + reach * along[0], at[1] + reach * along[1])
        way = (
            math.cos(cut) * along[0] + math.sin(cut) * out[0],
            math.cos(cut) * along[1] + math.sin(cut) * out[1],
        )
        far = FACING_MOUTHS * mouth
        facing = (nose, (nose[0] + far * way[0], nose[1] + far * way[1]))
        centre = (nose[0] + radius * out[0], nose[1] + radius * out[1])
        made.append(_Jaw(nose, facing, centre, radius))
    return made[0], made[1]


def _fall(spec: TableSpec, pocket: str, pair: tuple[_Jaw, _Jaw]) -> tuple[float, ...]:
    is_side, mouth = pocket.startswith("side"), _mouth(spec, pocket)
    x, y = pair[0].middle_with(pair[1])
    outs = [out for _, out in _rails(spec, pocket)]
    away = (outs[0][0] + outs[1][0], outs[0][1] + outs[1][1])
    size = math.hypot(*away)
    away = (away[0] / size, away[1] / size)
    if spec.snooker:
        shelf = (ROUND_FALL_SIDE if is_side else ROUND_FALL_CORNER) * mouth
    else:
        shelf = SIDE_SHELF_M if is_side else CORNER_SHELF_M
    if spec.snooker and not is_side:
        # Measured from where the rounds are nearest to each other.
        corner = _corner(spec, pocket)
        shelf += math.hypot(corner[0] - x, corner[1] - y) - mouth / 2
    half = math.dist(pair[0].nose, pair[1].nose) / 2
    return (x + shelf * away[0], y + shelf * away[1], away[0], away[1], half)


def _cushions(
    spec: TableSpec, jaws: dict[str, tuple[_Jaw, _Jaw]]
) -> list[tuple[str, tuple[float, float], tuple[float, float]]]:
    """The six nose lines between jaws, each with the name of its cushion."""
    found = []
    for name, y in (("right", 0.0), ("left", spec.width)):
        xs = _noses(jaws, name, axis=0, level=y)
        found += [(name, (xs[0], y), (xs[1], y)), (name, (xs[2], y), (xs[3], y))]
    for name, x in (("head", 0.0), ("foot", spec.length)):
        ys = _noses(jaws, name, axis=1, level=x)
        found.append((name, (x, ys[0]), (x, ys[1])))
    # The table lies on the left of each line.
    return [
        (name, start, end) if name in ("right", "foot") else (name, end, start) for name, start, end in found
    ]


def _noses(jaws: dict[str, tuple[_Jaw, _Jaw]], side: str, *, axis: int, level: float) -> list[float]:
    """Where the nose line of one side is broken by jaws, in order along it."""
    noses = [jaw.nose for pocket, pair in jaws.items() if side in pocket.split("_") for jaw in pair]
    return sorted(nose[axis] for nose in noses if abs(nose[1 - axis] - level) < 1e-12)


def _sides(length: float, width: float) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """The four walls, each with the table on its left."""
    corners = [(0.0, 0.0), (length, 0.0), (length, width), (0.0, width)]
    return [(corners[i], corners[(i + 1) % 4]) for i in range(4)]


def _rail(
    start: tuple[float, float],
    end: tuple[float, float],
    pocket: int | None = None,
    side: tuple[float, float] | None = None,
) -> tuple[float, ...]:
    """A line with its normal to the left, or to the side of a point."""
    length = math.dist(start, end)
    along = ((end[0] - start[0]) / length, (end[1] - start[1]) / length)
    normal = (-along[1], along[0])
    if side is not None and (side[0] - start[0]) * normal[0] + (side[1] - start[1]) * normal[1] < 0:
        normal = (-normal[0], -normal[1])
    return (*start, *along, 0.0, length, *normal, -1.0 if pocket is None else float(pocket))


def _bed(
    lines: Sequence[Sequence[float]],
    circles: Sequence[Sequence[float]],
    falls: Sequence[Sequence[float]],
    holes: Sequence[Sequence[float]],
    contact_m: float,
    lines_of: tuple[str, ...],
    circles_of: tuple[str, ...],
    pockets: tuple[str, ...],
) -> Bed:
    return Bed(
        np.array(lines, dtype=np.float64).reshape(-1, LINE_COLUMNS),
        np.array(circles, dtype=np.float64).reshape(-1, CIRCLE_COLUMNS),
        np.array(falls, dtype=np.float64).reshape(-1, FALL_COLUMNS),
        np.array(holes, dtype=np.float64).reshape(-1, 3),
        np.zeros((0, 4)),
        contact_m,
        lines_of,
        circles_of,
        pockets,
    )
