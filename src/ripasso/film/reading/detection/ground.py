"""The table without balls and people, as the camera sees it, and what differs from it.

Cloth in a shadow is cloth still: light may fall to `SHADOW` of the cloth's own, and the colours with it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.table import POCKETS, TableSpec, pocket_centre
from ripasso.core.table.known_points import nose_height
from ripasso.core.table.layouts import snooker_spots
from ripasso.film.calibration.camera import Camera
from ripasso.film.reading.detection.picture import BLACK, GREY, Bytes, Floats

#: The least and the most light of cloth that is cloth still, in shares of its usual light.
SHADOW = (0.85, 1.2)
#: What differs from the cloth by more than this is something else (of 255, colours twice light).
OTHER = 14.0
#: How fast the cloth's look follows the lamp: the share of a frame that enters it each second.
FOLLOWS = 0.02
#: How far about a pocket's centre its hole and its jaws may be seen, in mouths.
POCKET_SHARE = 0.75
#: How far from the surface people are looked for, who reach over the rails.
RAIL_M = 0.2
LINE_M = 0.009  # how far from its middle a line on the cloth may be seen
STRIP_M = 0.006  # the width of the strips along and across the table
EVEN = (0.9, 1.1)  # how much the light on a still cloth is off its smooth course
#: What is off the cloth's smooth light by more than this is no cloth; of a strip so much must be cloth.
FOREIGN, LEAST_TOLD = 48.0, 0.2
#: A graphic fills its box to such a share and is larger than so many balls where it reaches over the edge of
#: the surface, or than a pack can be; of any form it is larger than all balls of a game.
BOX_FILLED, BOX_DISCS, LARGEST_PACK, LARGEST_OF_ALL = 0.9, 6.0, 26.0, 45.0
ORDER = 3  # of the polynomial that the cloth's light follows over the table


@dataclass(frozen=True)
class Area:
    """Where the table lies in small pictures: the surface, a rim a ball wide, both with the rails,
    the pockets, where a near cushion stands before the cloth, the arc of a D.

    `places` are those of balls whose centres are seen at the pixels.
    """

    surface: npt.NDArray[np.bool_]
    rim: npt.NDArray[np.bool_]
    reach: npt.NDArray[np.bool_]
    pockets: npt.NDArray[np.bool_]
    hidden: npt.NDArray[np.bool_]
    arc: npt.NDArray[np.bool_]
    places: npt.NDArray[np.float64]


def area_of(camera: Camera, spec: TableSpec, shape: tuple[int, int]) -> Area:
    """The parts of the table for small pictures of a shape (height, width)."""
    v, u = np.mgrid[0 : shape[0], 0 : shape[1]]
    pixels = np.stack((u, v), axis=-1).reshape(-1, 2)
    places = camera.places(pixels, spec.ball_radius)
    x, y = places.reshape(*shape, 2).transpose(2, 0, 1)
    with np.errstate(invalid="ignore"):
        inside = [
            (x > -out) & (x < spec.length + out) & (y > -out) & (y < spec.width + out)
            for out in (0.0, 2 * spec.ball_radius, RAIL_M)
        ]
    mouths = np.zeros(shape, dtype=bool)
    for pocket in POCKETS:
        (px, py), mouth = pocket_centre(spec, pocket), _mouth(spec, pocket)
        with np.errstate(invalid="ignore"):
            mouths |= np.hypot(x - px, y - py) < POCKET_SHARE * mouth
    on_cloth, at_nose = (
        _within(camera.places(pixels, height).reshape(*shape, 2), spec) for height in (0.0, nose_height(spec))
    )
    hidden = on_cloth & ~at_nose & ~mouths
    cloth = camera.places(pixels, 0.0).reshape(*shape, 2)
    return Area(
        inside[0],
        inside[1] & ~inside[0],
        inside[2],
        mouths,
        hidden,
        _arc(cloth, spec),
        places.reshape(*shape, 2),
    )


def _arc(cloth: npt.NDArray[np.float64], spec: TableSpec) -> npt.NDArray[np.bool_]:
    """The arc of the D of a snooker table, for places on the cloth (height, width, 2)."""
    if not spec.snooker:
        return np.zeros(cloth.shape[:2], dtype=bool)
    spots = snooker_spots(spec)
    (x, y), radius = spots["brown"], abs(spots["green"][1] - spots["brown"][1])
    with np.errstate(invalid="ignore"):
        away = np.abs(np.hypot(cloth[..., 0] - x, cloth[..., 1] - y) - radius)
        return np.asarray((away < LINE_M) & (cloth[..., 0] < x))


def _within(places: npt.NDArray[np.float64], spec: TableSpec) -> npt.NDArray[np.bool_]:
    x, y = places[..., 0], places[..., 1]
    with np.errstate(invalid="ignore"):
        return np.asarray((x > 0) & (x < spec.length) & (y > 0) & (y < spec.width))


def _mouth(spec: TableSpec, pocket: str) -> float:
    return spec.side_mouth if pocket.startswith("side") else spec.corner_mouth


class Ground:
    """The still picture behind balls and people: cloth where the table is, the median elsewhere."""

    def __init__(self, samples: Sequence[Bytes], area: Area, spec: TableSpec) -> None:
        """`samples` are small pictures (n, height, width, 3) from all over the stretch; raises no errors."""
        self.area = area
        still = np.median(np.stack(samples), axis=0).astype(np.float32)
        strange, smooth = _strange(still, area, spec)
        graphics = graphics_in(strange, area, spec)
        self.picture = _without_balls(still, strange & ~graphics, smooth, area)
        self._set_boxes(graphics)

    def _set_boxes(self, graphics: npt.NDArray[np.bool_]) -> None:
        rows, columns = np.nonzero(self.area.reach)
        self.box = (
            slice(int(rows.min()), int(rows.max()) + 1),
            slice(int(columns.min()), int(columns.max()) + 1),
        )
        #: What of the box lies under a graphic that stays: nobody sees what is there.
        self.graphics = graphics[self.box]
        #: Where something is looked for, in the box, and where only people can be.
        self.reach = self.area.reach[self.box] & ~self.graphics
        self.hidden = self.area.hidden[self.box]
        self._round()
        self.beyond = self.reach & ~self.area.surface[self.box] & ~self.area.rim[self.box]

    def other(self, picture: Bytes) -> Bytes:
        """A mask (of the box) of what is not cloth, 0 or 255."""
        seen = picture[self.box]
        off = cv2.absdiff(seen, self._rounded)
        # Most of a table is cloth: only what differs at all is looked at closely.
        alike = cv2.inRange(off, (0.0, 0.0, 0.0), (OTHER / 2, OTHER / 4, OTHER / 4))
        places = np.flatnonzero((alike == 0) & self.reach)
        found = np.zeros(alike.size, dtype=np.uint8)
        cloth = np.ascontiguousarray(self.picture[self.box]).reshape(-1, 3)
        apart = difference(seen.reshape(-1, 3)[places], cloth[places])
        found[places] = np.where(apart > OTHER, 255, 0)
        return found.reshape(alike.shape)

    def difference(self, picture: Bytes) -> Floats:
        """How far each pixel of the box is from the cloth there; shadows do not count."""
        return difference(picture[self.box], self.picture[self.box])

    def follow(self, picture: Bytes, other: Bytes, share: float) -> None:
        """Let the cloth's look follow the lamp, where cloth is seen."""
        here = np.ascontiguousarray(self.picture[self.box])
        cloth = (other == 0).astype(np.uint8)
        cv2.accumulateWeighted(np.ascontiguousarray(picture[self.box]), here, share, cloth)
        self.picture[self.box] = here
        self._round()

    def _round(self) -> None:
        self._rounded = np.ascontiguousarray(np.clip(self.picture[self.box] + 0.5, 0, 255).astype(np.uint8))


def difference(seen: Bytes | Floats, ground: Floats, shadow: tuple[float, float] = SHADOW) -> Floats:
    """How far colours (..., 3) are from the cloth's; light within `shadow` is no difference."""
    own, there = seen.astype(np.float32), ground
    light, usual = own[..., 0] - BLACK, np.maximum(there[..., 0] - BLACK, 1.0)
    lit = np.clip(light / usual, *shadow)
    off = light - lit * usual
    blue = own[..., 1] - GREY - lit * (there[..., 1] - GREY)
    red = own[..., 2] - GREY - lit * (there[..., 2] - GREY)
    return np.asarray(np.sqrt(off * off + 4 * (blue * blue + red * red)))


def _strange(still: Floats, area: Area, spec: TableSpec) -> tuple[npt.NDArray[np.bool_], Floats]:
    """Where a still picture shows something as wide as a ball on the cloth, and the cloth as it is lit."""
    smooth = still.copy()
    smooth[area.surface] = _cloth_alone(still[area.surface], area.places[area.surface], spec)
    _draw_arc(smooth, still, area)
    strange = np.zeros(still.shape[:2], dtype=np.uint8)
    strange[area.surface] = difference(still[area.surface], smooth[area.surface], EVEN) > OTHER
    # Thin things are lines on the cloth; what is as wide as a ball is a ball.
    whole = cv2.morphologyEx(strange, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    wide = cv2.morphologyEx(whole, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5)))
    return np.asarray(wide > 0), smooth


def graphics_in(strange: npt.NDArray[np.bool_], area: Area, spec: TableSpec) -> npt.NDArray[np.bool_]:
    """What of the strange things (height, width) on a cloth that never changed is a graphic of the broadcast.

    It fills an upright box, or is larger than any pack; a rack fills a triangle.
    """
    # The surface holds so many balls: by that a ball's size in the picture is told.
    disc = np.pi * spec.ball_radius**2 / (spec.length * spec.width) * float(area.surface.sum())
    radius = float(np.sqrt(disc / np.pi))
    # Balls that lie beside a graphic are no part of it: nothing that is as wide as two of them in it is.
    two = np.ones((max(3, round(2 * radius)), max(3, round(6 * radius))), np.uint8)
    boxes = cv2.morphologyEx(strange.astype(np.uint8), cv2.MORPH_OPEN, two)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(boxes)
    found = np.zeros(strange.shape, dtype=bool)
    inner = cv2.erode(area.surface.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    for i in range(1, count):
        _, _, width, height, pixels = (int(value) for value in stats[i])
        is_over_edge = bool(((labels == i) & ~inner).any())
        is_box = pixels > BOX_FILLED * width * height
        least = LARGEST_OF_ALL
        if is_box:
            least = BOX_DISCS if is_over_edge else LARGEST_PACK
        if pixels > least * disc:
            found |= labels == i
    return np.asarray(cv2.dilate(found.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0)


def _without_balls(still: Floats, strange: npt.NDArray[np.bool_], smooth: Floats, area: Area) -> Floats:
    """The picture with balls that never moved replaced by cloth as it is lit; lines and spots stay."""
    about = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (9, 9))
    wide = np.asarray(cv2.dilate(strange.astype(np.uint8), about))
    cloth = (wide > 0) & area.surface & ~area.pockets
    still[cloth] = smooth[cloth]
    return still


def _draw_arc(smooth: Floats, still: Floats, area: Area) -> None:
    """Put the arc of the D on the smooth cloth, as it is seen where no ball lies on it."""
    if area.arc.any():
        smooth[area.arc] += np.median(still[area.arc] - smooth[area.arc], axis=0)


def _cloth_alone(values: Floats, places: npt.NDArray[np.float64], spec: TableSpec) -> Floats:
    """The cloth's look (n, 3) at places (n, 2): a smooth light, and what runs along or across the table.

    Faces of cushions, their shadows and the string line lie square to the table: they are the usual
    difference from the smooth light at one length, or one width.
    """
    x, y = (places / (spec.length, spec.width) * 2 - 1).T
    terms = np.stack([x**i * y**j for i in range(ORDER + 1) for j in range(ORDER + 1 - i)], axis=1)
    good = np.ones(len(values), dtype=bool)
    fitted = values
    for _ in range(6):
        few = np.flatnonzero(good)[:: max(1, int(good.sum()) // 8000)]
        fitted = (terms @ np.linalg.lstsq(terms[few], values[few].astype(np.float64), rcond=None)[0]).astype(
            np.float32
        )
        off = np.abs(values - fitted).max(axis=1)
        good = off < max(6.0, 3 * float(np.median(off)))
    # What lies over the cloth says nothing of it: a graphic may cover half of a strip.
    is_cloth = np.abs(values - fitted).max(axis=1) < FOREIGN
    for axis in (0, 1):
        bins = np.floor(places[:, axis] / STRIP_M).astype(int)
        order = np.argsort(bins, kind="stable")
        starts = np.flatnonzero(np.diff(bins[order], prepend=bins[order][0] - 1))
        for strip in np.split(order, starts[1:]):
            told = strip[is_cloth[strip]]
            if len(told) < LEAST_TOLD * len(strip):
                told = strip
            fitted[strip] += np.median(values[told] - fitted[told], axis=0)
    return fitted
