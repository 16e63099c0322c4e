"""Frames as reading looks at them: about 640 pixels wide, light and two colours, as the film keeps them.

Most films are looked at in half size: a film keeps its colours so already, and only the light has to be made
smaller.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.frame import Frame

Bytes = npt.NDArray[np.uint8]
Floats = npt.NDArray[np.float32]

#: The least and the most light of a film, and no colour (BT.601, studio range).
BLACK, WHITE, GREY = 16.0, 235.0, 128.0
#: The share of most films' size at which every frame is looked at.
HALF = 0.5
#: Films that are narrower than the first are looked at in full, wider than the second in a quarter (pixels).
NARROW, WIDE = 900, 2600


def share_of(size: tuple[int, int]) -> float:
    """The share of its size (width, height) at which a film is looked at."""
    longer = max(size)
    if longer < NARROW:
        return 1.0
    return HALF if longer < WIDE else HALF / 2


def small(frame: Frame, share: float = HALF) -> Bytes:
    """A decoded frame at a share of its size (height, width, 3): light, blue and red difference (bytes)."""
    raw, (width, height) = frame.raw, frame.lying(frame.size)
    if raw.format.name not in ("yuv420p", "yuvj420p") or (raw.width, raw.height) != (width, height):
        raw = raw.reformat(width=width, height=height, format="yuv420p")
    light, blue, red = (_plane(raw.planes[i]) for i in range(3))
    size = (round(width * share), round(height * share)) if share != HALF else (blue.shape[1], blue.shape[0])
    merged = cv2.merge(tuple(_resized(plane, size) for plane in (light, blue, red)))
    return frame.upright(np.asarray(merged)) if frame.turns else np.asarray(merged)


def _resized(plane: Bytes, size: tuple[int, int]) -> Bytes:
    if (plane.shape[1], plane.shape[0]) == size:
        return plane
    way = cv2.INTER_AREA if plane.shape[1] > size[0] else cv2.INTER_LINEAR
    return np.asarray(cv2.resize(plane, size, interpolation=way), dtype=np.uint8)


def _plane(plane: Any) -> Bytes:
    rows = np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size)
    return np.asarray(rows[: plane.height, : plane.width])


def large(frame: Frame) -> Bytes:
    """A decoded frame at full size as (height, width, 3), red, green and blue."""
    return frame.pixels("rgb24")


def median(values: npt.NDArray[Any]) -> float:
    """The median of values (n,), as numpy's; four times as fast for the few hundred of a ball."""
    half, is_odd = divmod(len(values), 2)
    if is_odd:
        return float(np.partition(values, half)[half])
    parted = np.partition(values, (half - 1, half))
    return (float(parted[half - 1]) + float(parted[half])) / 2


def medians(values: npt.NDArray[Any]) -> tuple[float, ...]:
    """The medians of the columns of values (n, m)."""
    return tuple(median(column) for column in np.ascontiguousarray(values.T))
