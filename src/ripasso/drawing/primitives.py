"""What a drawing is made of. Frozen, so that two drawings can be compared.

Lengths are metres in the table frame (y up); a role is a name of the theme, such as "cloth" or "ball.4";
a line's weight is a name too, so that a painter may choose what is right for its paper.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Weight = Literal["hair", "thin", "bold"]
#: A point in the drawing's own units: metres in the table frame, or pixels once it went through a camera.
Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Line:
    """An open line through points."""

    points: tuple[Point, ...]
    role: str
    weight: Weight = "thin"
    dashed: bool = False


@dataclass(frozen=True, slots=True)
class Polygon:
    """A filled area, with an outline when `edge` names a role; a soft one lets through what is under it."""

    points: tuple[Point, ...]
    fill: str
    edge: str | None = None
    soft: bool = False


@dataclass(frozen=True, slots=True)
class Circle:
    """A disc (or a ring, when `fill` is None)."""

    centre: Point
    radius: float
    fill: str | None
    edge: str | None = None
    weight: Weight = "thin"
    soft: bool = False
    dashed: bool = False


@dataclass(frozen=True, slots=True)
class Text:
    """Words centred on a place; `height` in metres."""

    at: Point
    text: str
    role: str
    height: float


Primitive = Line | Polygon | Circle | Text


@dataclass(frozen=True, slots=True)
class Drawing:
    """Primitives in painting order, the part of the plane they need, and what they show in words."""

    primitives: tuple[Primitive, ...]
    left: float
    bottom: float
    right: float
    top: float
    words: str

    @property
    def width(self) -> float:
        """Metres across."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Metres up."""
        return self.top - self.bottom
