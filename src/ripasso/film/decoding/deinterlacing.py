"""Films of two fields a frame, each of another moment: the first one is shown, its rows between filled in."""

from __future__ import annotations

from typing import Any

import av
import numpy as np
import numpy.typing as npt

Bytes = npt.NDArray[np.uint8]


def progressive(raw: Any) -> Any:
    """The decoded frame, or one of its first field alone where the film says that it has two."""
    if not raw.interlaced_frame or raw.width % 2 or raw.height % 2:
        return raw
    planes, height = raw.to_ndarray(format="yuv420p"), raw.height
    light, colours = planes[:height], planes[height:]
    blue, red = np.split(colours.reshape(-1), 2)
    filled = [
        _filled(plane.reshape(rows, -1)).reshape(-1, light.shape[1])
        for plane, rows in ((light, height), (blue, height // 2), (red, height // 2))
    ]
    made = av.VideoFrame.from_ndarray(np.ascontiguousarray(np.vstack(filled)), format="yuv420p")
    made.colorspace, made.color_range = raw.colorspace, raw.color_range
    return made


def _filled(plane: Bytes) -> Bytes:
    """Every second row (the first stays) is the middle of those above and below."""
    made = plane.copy()
    first = plane[::2].astype(np.uint16)
    below = np.concatenate((first[1:], first[-1:]))
    between = (first + below + 1) // 2
    made[1::2] = between[: len(made[1::2])].astype(np.uint8)
    return made
