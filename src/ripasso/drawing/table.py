"""The table diagram: bed, cushions with their jaws, pockets, sights, spots, balls with their numbers."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from ripasso.core.table import POCKETS, TableSpec, foot_spot, pocket_centre
from ripasso.core.table.pockets import nose_points
from ripasso.drawing.primitives import Circle, Drawing, Line, Point, Polygon, Primitive, Text

CUSHION_M = 0.05
RAIL_M = 0.075
STRIPED_FROM, LAST_NUMBER = 9, 15
#: A letter for those who cannot tell the colours: the black is K, the brown N, as B is the blue.
LETTERS = {"yellow": "Y", "green": "G", "brown": "N", "blue": "B", "pink": "P", "black": "K"}
#: Balls that are told by a colour alone.
COLOURS = ("cue", "red", *LETTERS)


@dataclass(frozen=True)
class TableScene:
    """What to draw: the table, balls by name, the balls that are on, and the pocket that is meant."""

    spec: TableSpec
    balls: Mapping[str, Point] = field(default_factory=dict)
    balls_on: tuple[str, ...] = ()
    pocket: str | None = None
    rest: Point | None = None
    note: str = ""
    ball_scale: float = 1.0
    #: Layers of a shot, under the balls and over them, and what they say in words.
    under: tuple[Primitive, ...] = ()
    over: tuple[Primitive, ...] = ()
    words: str = ""
    #: The ball that is being placed.
    held: str | None = None
    #: Balls whose places were read from the film and not accepted.
    proposed: frozenset[str] = frozenset()

    @property
    def drawn_radius(self) -> float:
        """The radius of a drawn ball: larger than true where that is asked for and no two would overlap."""
        places = list(self.balls.values())
        nearest = min(
            (math.dist(a, b) for i, a in enumerate(places) for b in places[i + 1 :]),
            default=math.inf,
        )
        radius = self.spec.ball_radius
        return max(radius, min(radius * self.ball_scale, nearest / 2))


def table_drawing(scene: TableScene) -> Drawing:
    """The diagram of a scene, head end at the left."""
    spec, edge = scene.spec, CUSHION_M + RAIL_M
    primitives: list[Primitive] = [
        _box(-edge, -edge, spec.length + edge, spec.width + edge, "table.rail"),
        _box(-CUSHION_M, -CUSHION_M, spec.length + CUSHION_M, spec.width + CUSHION_M, "table.cloth"),
        *_cushions(spec),
        *_marks(spec),
        *_pockets(spec, scene.pocket),
    ]
    primitives += _as_drawn(scene, scene.under)
    if scene.rest is not None:
        primitives += _rest(scene, scene.rest)
    radius = scene.drawn_radius
    for name, place in scene.balls.items():
        primitives += _ball(radius, name, place, name in scene.balls_on)
        if name in scene.proposed:
            primitives.append(Circle(place, radius * 1.45, None, "table.meant", "thin", dashed=True))
        if name == scene.held:
            primitives.append(Circle(place, radius * 1.9, None, "table.meant", "bold"))
    primitives += _as_drawn(scene, scene.over)
    if scene.note:
        at = (spec.length / 2, spec.width / 2)
        primitives.append(Text(at, scene.note, "table.words", spec.width * 0.055))
    return Drawing(tuple(primitives), -edge, -edge, spec.length + edge, spec.width + edge, _words(scene))


def _as_drawn(scene: TableScene, layers: tuple[Primitive, ...]) -> list[Primitive]:
    """Layers with rings of a ball's size as large as the balls are drawn."""
    true, drawn = scene.spec.ball_radius, scene.drawn_radius

    def fitted(primitive: Primitive) -> Primitive:
        if isinstance(primitive, Circle) and abs(primitive.radius - true) < 1e-9:
            return replace(primitive, radius=drawn)
        return primitive

    return [fitted(primitive) for primitive in layers]


def _box(x0: float, y0: float, x1: float, y1: float, fill: str) -> Polygon:
    return Polygon(((x0, y0), (x1, y0), (x1, y1), (x0, y1)), fill)


def _cushions(spec: TableSpec) -> list[Primitive]:
    """Six cushions, each from jaw to jaw; behind the nose they draw back towards the pocket."""
    noses = {pocket: nose_points(spec, pocket) for pocket in POCKETS}
    back, slant, square = CUSHION_M, CUSHION_M * 0.9, CUSHION_M * 0.35
    cushions: list[Primitive] = []
    for side, y, out in (("right", 0.0, -1.0), ("left", spec.width, 1.0)):
        outer = y + out * back
        head, foot = noses[f"head_{side}"][0][0], noses[f"foot_{side}"][0][0]
        middle_head, middle_foot = noses[f"side_{side}"][0][0], noses[f"side_{side}"][1][0]
        for x0, x1, cut0, cut1 in (
            (head, middle_head, slant, square),
            (middle_foot, foot, square, slant),
        ):
            corners = ((x0, y), (x1, y), (x1 + cut1, outer), (x0 - cut0, outer))
            cushions.append(Polygon(corners, "table.cushion", "table.nose"))
    for end, x, out in (("head", 0.0, -1.0), ("foot", spec.length, 1.0)):
        low, high = noses[f"{end}_right"][1][1], noses[f"{end}_left"][1][1]
        outer = x + out * back
        corners = ((x, low), (x, high), (outer, high + slant), (outer, low - slant))
        cushions.append(Polygon(corners, "table.cushion", "table.nose"))
    return cushions


def _marks(spec: TableSpec) -> list[Primitive]:
    """Head string, foot spot and sights; the baulk line and the D on a snooker table."""
    marks: list[Primitive] = []
    if spec.snooker:
        # Official rules of snooker, section 1: baulk line 29 in from the face, D of 11 1/2 in radius.
        baulk, radius = 0.737 * spec.length / 3.569, 0.292 * spec.width / 1.778
        turn = [math.pi / 2 + math.pi * i / 32 for i in range(33)]
        arc = tuple((baulk + radius * math.cos(t), spec.width / 2 + radius * math.sin(t)) for t in turn)
        marks.append(Line(arc, "table.mark", "hair"))
        string = baulk
    else:
        string = spec.length / 4
        marks.append(Circle(foot_spot(spec), 0.008, "table.mark"))
    marks.append(Line(((string, 0.0), (string, spec.width)), "table.mark", "hair"))
    offset = CUSHION_M + RAIL_M / 2
    for i in (1, 2, 3, 5, 6, 7):
        rails = (-offset, spec.width + offset)
        marks += [Circle((i * spec.length / 8, y), 0.009, "table.sight") for y in rails]
    for i in (1, 2, 3):
        ends = (-offset, spec.length + offset)
        marks += [Circle((x, i * spec.width / 4), 0.009, "table.sight") for x in ends]
    return marks


def _pockets(spec: TableSpec, meant: str | None) -> list[Primitive]:
    drawn: list[Primitive] = []
    for pocket in POCKETS:
        mouth = spec.side_mouth if pocket.startswith("side") else spec.corner_mouth
        centre = pocket_centre(spec, pocket)
        drawn.append(Circle(centre, mouth * 0.52, "table.pocket"))
        if pocket == meant:
            drawn.append(Circle(centre, mouth * 0.6, None, "table.meant", "bold"))
    return drawn


def _rest(scene: TableScene, rest: Point) -> list[Primitive]:
    """Where the cue ball came to rest: a ring and the straight line to it."""
    start = scene.balls.get("cue")
    drawn: list[Primitive] = [Circle(rest, scene.drawn_radius, None, "table.rest", "bold")]
    if start is not None:
        drawn.insert(0, Line((start, rest), "table.rest", "hair", dashed=True))
    return drawn


def _ball(radius: float, name: str, place: Point, is_on: bool) -> list[Primitive]:
    drawn: list[Primitive] = []
    if is_on:
        drawn.append(Circle(place, radius * 1.45, None, "table.on", "thin"))
    paint, striped = paint_of(name)
    drawn.append(Circle(place, radius, "ball.ivory" if striped else paint, "ball.edge", "hair"))
    if striped:
        drawn.append(_stripe(place, radius, paint))
    words = sign_of(name)
    return drawn + _sign(place, radius, words) if words else drawn


def paint_of(name: str) -> tuple[str, bool]:
    """The role of a ball's colour, and whether it is a stripe; a ball that nobody knows is grey."""
    number = int(name) if name.isascii() and name.isdigit() and len(name) < 3 else 0
    if 0 < number <= LAST_NUMBER:
        striped = number >= STRIPED_FROM
        return f"ball.{number - 8 if striped else number}", striped
    colour = "red" if name.startswith("red") else name
    return (f"ball.{colour}" if colour in COLOURS else "ball.unknown"), False


def sign_of(name: str) -> str:
    """What stands on a ball: its number, its letter, the beginning of a name that nobody knows."""
    paint, _ = paint_of(name)
    if name.isdigit() or paint == "ball.unknown":
        return name[:3]
    return LETTERS.get(name, "")


def _sign(place: Point, radius: float, words: str) -> list[Primitive]:
    """The number or the letter of a ball, in a light disc."""
    height = radius * (1.15 if len(words) == 1 else 0.9)
    return [Circle(place, radius * 0.64, "ball.ivory"), Text(place, words, "ball.number", height)]


def _stripe(place: Point, radius: float, colour: str) -> Polygon:
    """The band of a striped ball: the disc between two level lines."""
    half = math.asin(0.6)
    right = [half - 2 * half * i / 8 for i in range(9)]
    left = [math.pi + half - 2 * half * i / 8 for i in range(9)]
    points = tuple((place[0] + radius * math.cos(t), place[1] + radius * math.sin(t)) for t in right + left)
    return Polygon(points, colour)


def _words(scene: TableScene) -> str:
    if scene.note:
        return scene.note
    balls = [name for name in scene.balls if name != "cue"]
    listed = ", ".join(balls) if balls else "none"
    on = f" On: {', '.join(scene.balls_on)}." if scene.balls_on else ""
    return " ".join(part for part in (f"Balls on the table: {listed}.{on}", scene.words) if part)
