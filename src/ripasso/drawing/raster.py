"""A drawing put on a picture of pixels, without a window: for films, where every frame goes out as pixels."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
import numpy.typing as npt
from PIL import Image, ImageDraw, ImageFont

from ripasso.drawing.primitives import Circle, Drawing, Line, Point, Polygon, Primitive, Text
from ripasso.drawing.seats import ViewingSide, extent, seen_from
from ripasso.style.fonts import font_path

#: A picture (height, width, 3): blue, green, red.
Pixels = npt.NDArray[np.uint8]
Colour = Callable[[str], str]
Softness = Callable[[str], float]

#: Widths of lines as shares of the width that a drawing fills, and the thinnest in pixels.
WIDTHS = {"hair": 0.0009, "thin": 0.0014, "bold": 0.0022}
THINNEST_PX = 1.0
#: The drawing library takes places in parts of a pixel: so many bits of them.
SHIFT = 4
RIM, SMALLEST_PX = 0.14, 11
#: Strokes and gaps of a dashed line, in widths of it.
DASH, GAP = 5.0, 4.0
#: Words on plain ground need no rim.
UNRIMMED = ("ball.number", "ink", "quiet", "film_ink")


@dataclass(frozen=True)
class Box:
    """Where something lies in a picture, pixels."""

    left: int
    top: int
    width: int
    height: int

    def fitted(self, across: float, up: float) -> Box:
        """The largest box of these proportions in the middle of this one."""
        scale = min(self.width / across, self.height / up)
        width, height = max(1, round(across * scale)), max(1, round(up * scale))
        left, top = self.left + (self.width - width) // 2, self.top + (self.height - height) // 2
        return Box(left, top, width, height)

    @property
    def rows(self) -> slice:
        """Its rows in a picture."""
        return slice(self.top, self.top + self.height)

    @property
    def columns(self) -> slice:
        """Its columns in a picture."""
        return slice(self.left, self.left + self.width)


def put_drawing(
    picture: Pixels,
    drawing: Drawing,
    box: Box,
    colour: Colour,
    softness: Softness,
    seat: ViewingSide = "side",
) -> None:
    """Put a drawing into a box of a picture, as large as fits, as it is seen from a seat."""
    across, up = extent(drawing, seat)
    fitted = box.fitted(across, up)
    scale = fitted.width / across

    def place(point: Point) -> Point:
        right, above = seen_from(drawing, seat, point)
        return (fitted.left + right * scale, fitted.top + (up - above) * scale)

    pen = _Pen(picture, place, scale, fitted.width, colour, softness)
    for primitive in drawing.primitives:
        pen.put(primitive)


class _Pen:
    def __init__(
        self,
        picture: Pixels,
        place: Callable[[Point], Point],
        scale: float,
        width_px: float,
        colour: Colour,
        softness: Softness,
    ) -> None:
        self._picture, self._place, self._scale, self._width = picture, place, scale, width_px
        self._colour, self._softness = colour, softness

    def put(self, primitive: Primitive) -> None:
        """One primitive."""
        if isinstance(primitive, Line):
            self._line(self._points(primitive.points), primitive.role, primitive.weight, primitive.dashed)
        elif isinstance(primitive, Polygon):
            self._area(self._points(primitive.points), primitive.fill, primitive.soft)
            if primitive.edge is not None:
                closed = (*primitive.points, primitive.points[0])
                self._line(self._points(closed), primitive.edge, "hair", False)
        elif isinstance(primitive, Circle):
            self._circle(primitive)
        else:
            self._text(primitive)

    def _points(self, points: Iterable[Point]) -> npt.NDArray[np.float64]:
        return np.array([self._place(point) for point in points], dtype=np.float64).reshape(-1, 2)

    def _line(self, points: npt.NDArray[np.float64], role: str, weight: str, dashed: bool) -> None:
        width = max(THINNEST_PX, WIDTHS[weight] * self._width)
        parts = _dashes(points, DASH * width, GAP * width) if dashed else [points]
        fixed = [_fixed(part) for part in parts]
        cv2.polylines(self._picture, fixed, False, _bgr(self._colour(role)), round(width), cv2.LINE_AA, SHIFT)

    def _area(self, points: npt.NDArray[np.float64], role: str, soft: bool) -> None:
        colour = _bgr(self._colour(role))
        if not soft:
            cv2.fillPoly(self._picture, [_fixed(points)], colour, cv2.LINE_AA, SHIFT)
            return
        covered = self._picture.copy()
        cv2.fillPoly(covered, [_fixed(points)], colour, cv2.LINE_AA, SHIFT)
        share = self._softness(role)
        cv2.addWeighted(covered, share, self._picture, 1 - share, 0, dst=self._picture)

    def _circle(self, circle: Circle) -> None:
        turns = np.linspace(0.0, 2 * np.pi, 49)
        middle, radius = np.array(self._place(circle.centre)), circle.radius * self._scale
        points = middle + radius * np.column_stack((np.cos(turns), np.sin(turns)))
        if circle.fill is not None:
            self._area(points, circle.fill, circle.soft)
        if circle.edge is not None:
            self._line(points, circle.edge, circle.weight, circle.dashed)

    def _text(self, text: Text) -> None:
        x, y = self._place(text.at)
        is_number = text.role == "ball.number"
        size = max(6 if is_number else SMALLEST_PX, round(text.height * self._scale))
        rim = None if text.role in UNRIMMED else self._colour("mark.rim")
        width, height = text_size(text.text, size)
        put_text(
            self._picture, text.text, (x - width / 2, y - height / 2), size, self._colour(text.role), rim=rim
        )


def put_text(
    picture: Pixels,
    text: str,
    at: Point,
    size_px: int,
    colour: str,
    *,
    rim: str | None = None,
    bold: bool = True,
) -> None:
    """Put a line of words with its upper left corner at a place; what lies outside is left out."""
    if not text.strip():
        return
    if rim is not None:
        edge = max(1, round(RIM * size_px))
        _blend(picture, _glyphs(text, size_px, bold, edge), (at[0] - edge, at[1] - edge), rim)
    _blend(picture, _glyphs(text, size_px, bold, 0), at, colour)


def text_size(text: str, size_px: int, *, bold: bool = True) -> tuple[int, int]:
    """Width and height of a line of words, pixels."""
    left, _top, right, _bottom = _font(size_px, bold).getbbox(text)
    return int(right - min(0, left)), line_px(size_px)


def line_px(size_px: int) -> int:
    """How high a line of letters of a size is."""
    return round(1.25 * size_px)


@lru_cache(maxsize=32)
def _font(size_px: int, bold: bool) -> ImageFont.FreeTypeFont:
    name = "Inter-SemiBold.otf" if bold else "Inter-Regular.otf"
    return ImageFont.truetype(str(font_path(name)), size_px)


@lru_cache(maxsize=256)
def _glyphs(text: str, size_px: int, bold: bool, rim_px: int) -> npt.NDArray[np.float32]:
    """How much each pixel is covered by a line of words (height, width), 0 to 1."""
    width, height = text_size(text, size_px, bold=bold)
    image = Image.new("L", (width + 2 * rim_px + 2, height + 2 * rim_px))
    middle = (rim_px, rim_px + height / 2)
    ImageDraw.Draw(image).text(
        middle, text, fill=255, font=_font(size_px, bold), anchor="lm", stroke_width=rim_px
    )
    return np.asarray(image, dtype=np.float32) / np.float32(255)


def _blend(picture: Pixels, cover: npt.NDArray[np.float32], at: Point, colour: str) -> None:
    left, top = round(at[0]), round(at[1])
    height, width = picture.shape[:2]
    rows = slice(max(0, top), min(height, top + cover.shape[0]))
    columns = slice(max(0, left), min(width, left + cover.shape[1]))
    if rows.start >= rows.stop or columns.start >= columns.stop:
        return
    share = cover[rows.start - top : rows.stop - top, columns.start - left : columns.stop - left, None]
    under = picture[rows, columns].astype(np.float32)
    mixed = under + share * (np.array(_bgr(colour), dtype=np.float32) - under)
    picture[rows, columns] = np.clip(np.rint(mixed), 0, 255).astype(np.uint8)


def _dashes(points: npt.NDArray[np.float64], dash: float, gap: float) -> list[npt.NDArray[np.float64]]:
    """A way cut into strokes and gaps, lengths in pixels."""
    steps = np.linalg.norm(np.diff(points, axis=0), axis=1)
    along = np.concatenate(([0.0], np.cumsum(steps)))
    parts = []
    for start in np.arange(0.0, float(along[-1]), dash + gap):
        end = min(start + dash, float(along[-1]))
        between = along[(along > start) & (along < end)]
        at = np.concatenate(([start], between, [end]))
        parts.append(np.column_stack([np.interp(at, along, points[:, i]) for i in (0, 1)]))
    return parts


def _fixed(points: npt.NDArray[np.float64]) -> npt.NDArray[np.int32]:
    bounded = np.clip(np.nan_to_num(points), -30_000, 30_000)
    return np.rint(bounded * (1 << SHIFT)).astype(np.int32)


def _bgr(colour: str) -> tuple[int, int, int]:
    return int(colour[5:7], 16), int(colour[3:5], 16), int(colour[1:3], 16)
