"""A ball that a person placed, looked for at the same place in other calm pictures of the film.

The reading may never have seen a ball: it lies before a cushion of its colour, or was taken for a mark of
the cloth. Once somebody has said where it lies, its own picture there says whether it lies there still.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.snap import outline_of
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.reader import FilmReader

Bytes = npt.NDArray[np.uint8]

#: Cloth seen around the ball, and how far a trembling camera may have moved it, in radii of the ball.
MARGIN, REACH = 0.5, 1.5
#: A picture this like the ball's own in shape, and this near in colour (of 255), is the ball.
SAME, SAME_COLOUR = 0.7, 28.0
#: With as little in it as cloth has and in the colour of the cloth it is bare; else something is before it.
BARE_CONTRAST = 0.45
#: Smaller than this nothing can be told from the cloth, pixels.
SMALLEST_PX = 3.0


class Lies(Enum):
    """What a picture says of a place where a ball lay."""

    THERE = "there"
    UNSEEN = "unseen"
    GONE = "gone"


@dataclass(frozen=True)
class Looked:
    """A picture of the film, by its time, and the camera as it was then; None where no view holds.

    `view` is the view that the camera belongs to: pictures of another view say nothing of each other.
    """

    time_s: float
    camera: Camera | None
    view: object = None


def still_there(
    index: FilmIndex, place: tuple[float, float], radius_m: float, seen: Looked, later: Sequence[Looked]
) -> list[Lies]:
    """What each later picture says of a ball that lies at `place` (metres) in the picture `seen`.

    Pictures of another camera say nothing. Raises `FilmError` where the film cannot be decoded.
    """
    if seen.camera is None:
        return [Lies.UNSEEN] * len(later)
    outline = outline_of(seen.camera, place, radius_m)
    reader = FilmReader(index)
    try:
        own = _cut(_picture(reader, index, seen.time_s), outline, MARGIN)
        if own is None:
            return [Lies.UNSEEN] * len(later)
        found = []
        for look in later:
            wide = None
            if look.camera is not None and look.view is seen.view:
                there = outline_of(look.camera, place, radius_m)
                wide = _cut(_picture(reader, index, look.time_s), there, MARGIN + REACH)
            found.append(Lies.UNSEEN if wide is None else _compared(own, wide))
        return found
    finally:
        reader.close()


def _picture(reader: FilmReader, index: FilmIndex, time_s: float) -> Bytes:
    pixels: Bytes = reader.frame(index.number_at(time_s)).pixels("bgra")
    return pixels


def _cut(picture: Bytes, outline: npt.NDArray[np.float64], margin: float) -> Bytes | None:
    """The part of a picture around an outline, `margin` radii more on each side; None at its border."""
    low, high = outline.min(axis=0), outline.max(axis=0)
    radius = float((high - low).min()) / 2
    if not np.isfinite(radius) or radius < SMALLEST_PX:
        return None
    left, top = np.floor(low - margin * radius).astype(int)
    right, bottom = np.ceil(high + margin * radius).astype(int)
    height, width = picture.shape[:2]
    if left < 0 or top < 0 or right >= width or bottom >= height:
        return None
    return np.ascontiguousarray(picture[top : bottom + 1, left : right + 1, :3])


def _compared(own: Bytes, wide: Bytes) -> Lies:
    """What the surroundings of a place say of the ball that `own` shows with some cloth around it."""
    likeness = cv2.matchTemplate(wide, own, cv2.TM_CCOEFF_NORMED)
    rows, columns = own.shape[:2]
    top, left = np.unravel_index(int(likeness.argmax()), likeness.shape)
    if likeness[top, left] >= SAME:
        is_same = _apart(_middle(own), _middle(wide[top : top + rows, left : left + columns])) < SAME_COLOUR
        return Lies.THERE if is_same else Lies.GONE
    top, left = (wide.shape[0] - rows) // 2, (wide.shape[1] - columns) // 2
    here = wide[top : top + rows, left : left + columns]
    is_bare = _contrast(here) < BARE_CONTRAST * _contrast(own)
    return Lies.GONE if is_bare and _apart(_border(own), _border(here)) < SAME_COLOUR else Lies.UNSEEN


def _middle(part: Bytes) -> Bytes:
    """The inner half of a picture in both directions: the ball alone."""
    rows, columns = part.shape[:2]
    return part[rows // 4 : -(rows // 4), columns // 4 : -(columns // 4)]


def _border(part: Bytes) -> Bytes:
    return np.concatenate((part[0], part[-1], part[:, 0], part[:, -1]))


def _apart(first: Bytes, second: Bytes) -> float:
    """How far the mean colours of two pictures are apart, of 255."""
    means = [one.reshape(-1, 3).mean(axis=0) for one in (first, second)]
    return float(np.linalg.norm(means[0] - means[1]))


def _contrast(part: Bytes) -> float:
    return float(part.reshape(-1, 3).astype(np.float64).std(axis=0).sum())
