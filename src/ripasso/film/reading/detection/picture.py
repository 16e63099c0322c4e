"""Frames as reading looks at them: half the film's size, light and two colours, as the film keeps them.

A film keeps its colours at half size already, so only the light has to be made smaller.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.frame import Frame

Bytes = npt.NDArray[np.uint8]
Floats = npt.NDArray[np.float32]

#: The share of the film's size at which every frame is looked at.
HALF = 0.5


def small(frame: Frame) -> Bytes:
    """A decoded frame as (height / 2, width / 2, 3): light, blue and red difference, 0 to 255."""
    raw, (width, height) = frame.raw, frame.lying(frame.size)
    if raw.format.name not in ("yuv420p", "yuvj420p") or (raw.width, raw.height) != (width, height):
        raw = raw.reformat(width=width, height=height, format="yuv420p")
    light, blue, red = (_plane(raw.planes[i]) for i in range(3))
    size = (blue.shape[1], blue.shape[0])
    merged = cv2.merge((cv2.resize(light, size, interpolation=cv2.INTER_AREA), blue, red))
    return frame.upright(np.asarray(merged)) if frame.turns else np.asarray(merged)


def _plane(plane: Any) -> Bytes:
    rows = np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size)
    return np.asarray(rows[: plane.height, : plane.width])


def large(frame: Frame) -> Bytes:
    """A decoded frame at full size as (height, width, 3), red, green and blue."""
    return frame.pixels("rgb24")
