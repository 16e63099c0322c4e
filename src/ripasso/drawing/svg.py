"""A drawing as an SVG picture; roles become the colours they are given."""

from __future__ import annotations

from collections.abc import Callable
from xml.etree import ElementTree

from ripasso.drawing.primitives import Circle, Drawing, Line, Point, Polygon, Primitive, Text
from ripasso.drawing.seats import ViewingSide, extent, seen_from

#: Line widths and the text's middle, as shares of the picture's width and the letters' height.
WIDTHS = {"hair": 0.0012, "thin": 0.0018, "bold": 0.003}
MIDDLE = 0.36
FONT = "Inter, sans-serif"
#: Words on plain ground need no rim.
UNRIMMED = ("ball.number", "ink", "quiet")

Colour = Callable[[str], str]
Softness = Callable[[str], float]


def svg_text(
    drawing: Drawing,
    colour: Colour,
    softness: Softness,
    *,
    width_px: int = 1280,
    seat: ViewingSide = "side",
    tables_across: int = 1,
    rimmed: bool = True,
) -> str:
    """The SVG document of a drawing, as it is seen from a seat; lines are thinner where tables are small.

    Words on the table have a rim, unless whoever shows it draws a rim over its letters.
    """
    across, up = extent(drawing, seat)
    scale = width_px / across

    def place(point: Point) -> Point:
        right, above = seen_from(drawing, seat, point)
        return (right * scale, (up - above) * scale)

    height_px = up * scale
    root = ElementTree.Element(
        "svg",
        xmlns="http://www.w3.org/2000/svg",
        width=f"{width_px}",
        height=f"{height_px:.2f}",
        viewBox=f"0 0 {width_px} {height_px:.2f}",
    )
    ElementTree.SubElement(root, "title").text = printable(drawing.words)
    writer = _Writer(root, place, scale, width_px / tables_across, colour, softness, rimmed)
    for primitive in drawing.primitives:
        writer.write(primitive)
    return ElementTree.tostring(root, encoding="unicode")


def printable(text: str) -> str:
    """A text without the control characters that no XML may hold (XML 1.0, production 2)."""
    return "".join(sign for sign in text if sign >= " " or sign in "\t\n")


class _Writer:
    def __init__(
        self,
        root: ElementTree.Element,
        place: Callable[[Point], Point],
        scale: float,
        width_px: float,
        colour: Colour,
        softness: Softness,
        rimmed: bool,
    ) -> None:
        self._rimmed = rimmed
        self._root, self._place, self._scale, self._width = root, place, scale, width_px
        self._colour, self._softness = colour, softness

    def write(self, primitive: Primitive) -> None:
        """One primitive as one element."""
        if isinstance(primitive, Line):
            stroke = self._stroke(primitive.role, primitive.weight, primitive.dashed)
            self._add("polyline", {"points": self._points(primitive.points), "fill": "none", **stroke})
        elif isinstance(primitive, Polygon):
            style = {**self._fill(primitive.fill, primitive.soft), **self._stroke(primitive.edge, "hair")}
            self._add("polygon", {"points": self._points(primitive.points), **style})
        elif isinstance(primitive, Circle):
            x, y = self._place(primitive.centre)
            where = {"cx": f"{x:.3f}", "cy": f"{y:.3f}", "r": f"{primitive.radius * self._scale:.3f}"}
            stroke = self._stroke(primitive.edge, primitive.weight, primitive.dashed)
            self._add("circle", {**where, **self._fill(primitive.fill, primitive.soft), **stroke})
        else:
            self._text(primitive)

    def _add(self, name: str, attributes: dict[str, str]) -> ElementTree.Element:
        return ElementTree.SubElement(self._root, name, attributes)

    def _text(self, text: Text) -> None:
        x, y = self._place(text.at)
        size = text.height * self._scale
        attributes = {
            "x": f"{x:.3f}",
            "y": f"{y + MIDDLE * size:.3f}",
            "font-family": FONT,
            "font-size": f"{size:.3f}",
            "font-weight": "600",
            "text-anchor": "middle",
            "fill": self._colour(text.role),
        }
        if self._rimmed and text.role not in UNRIMMED:
            attributes |= {"stroke": self._colour("mark.rim"), "stroke-width": f"{0.2 * size:.2f}"}
            attributes |= {"paint-order": "stroke", "stroke-linejoin": "round"}
        made = self._add("text", attributes)
        made.text = printable(text.text)

    def _points(self, points: tuple[Point, ...]) -> str:
        return " ".join(f"{x:.3f},{y:.3f}" for x, y in map(self._place, points))

    def _stroke(self, role: str | None, weight: str, dashed: bool = False) -> dict[str, str]:
        if role is None:
            return {}
        width = WIDTHS[weight] * self._width
        style = {"stroke": self._colour(role), "stroke-width": f"{width:.3f}"}
        return {**style, "stroke-dasharray": f"{4 * width:.2f} {3 * width:.2f}"} if dashed else style

    def _fill(self, role: str | None, soft: bool) -> dict[str, str]:
        if role is None:
            return {"fill": "none"}
        style = {"fill": self._colour(role)}
        return {**style, "fill-opacity": f"{self._softness(role):.2f}"} if soft else style
