"""A camera that moves on its stand: turned and zoomed beside the frame that its view was taken from.

A view states its camera as it was at one frame, and its motion as rows (s, right, down, ahead, zoom): the
turn about the camera's three axes (radians, as a rotation vector) and the logarithm of the zoom. Between two
rows all of it changes evenly; before the first and behind the last nothing does.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import replace
from typing import Protocol

import numpy as np
import numpy.typing as npt

from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.views import camera_of

Array = npt.NDArray[np.float64]
Row = tuple[float, float, float, float, float]

#: A motion that moves the picture by less than this is none, pixels; so exactly are its rows kept.
STILL_PX = 0.3
#: The rows of one view at most; where it takes more they are kept less exactly.
MOST_ROWS = 20_000
#: Rows are written with so many decimals: milliseconds, and a hundredth of a pixel.
TIME_DECIMALS, TURN_DECIMALS = 3, 5


class StatedView(Protocol):
    """A view as a session file states it."""

    @property
    def camera(self) -> object:
        """The camera at one frame, as `Camera.as_data` writes it."""

    @property
    def motion(self) -> Sequence[Row] | None:
        """What the camera does from there on; None for one that stands still."""


def camera_at(view: StatedView | None, time_s: float) -> Camera | None:
    """The camera of a view at a time of the film; None without a view, or where its camera cannot be read."""
    camera = camera_of(view.camera) if view is not None else None
    if view is None or camera is None or not view.motion:
        return camera
    return moved(camera, motion_at(view.motion, time_s))


def moved(camera: Camera, motion: Array) -> Camera:
    """A camera after a motion (4,): it turns about itself, so where it stands does not change."""
    turn = _turn(motion[:3])
    return replace(
        camera,
        focal_px=camera.focal_px * float(np.exp(motion[3])),
        rotation=turn @ camera.rotation,
        translation=turn @ camera.translation,
    )


def motion_at(rows: Sequence[Row], time_s: float) -> Array:
    """The motion (4,) at a time; `rows` are in the order of time, at least one."""
    after = bisect_right(rows, time_s, key=lambda row: row[0])
    if after == 0 or after == len(rows):
        return np.array(rows[max(0, after - 1)][1:], dtype=np.float64)
    one, other = np.array(rows[after - 1], dtype=np.float64), np.array(rows[after], dtype=np.float64)
    share = (time_s - one[0]) / max(1e-9, other[0] - one[0])  # a file may hold them in any order
    return np.asarray(one[1:] + share * (other[1:] - one[1:]))


def rebased(rows: Sequence[Row], time_s: float) -> list[Row]:
    """The same motion beside the camera at another time: there it is none."""
    import cv2  # heavy; loaded where a view is set

    back = motion_at(rows, time_s)
    undone = _turn(-back[:3])
    found: list[Row] = []
    for at, *motion in rows:
        turn = _turn(np.array(motion[:3], dtype=np.float64)) @ undone
        right, down, ahead = (float(value) for value in cv2.Rodrigues(turn)[0].ravel())
        found.append(_row(at, np.array([right, down, ahead, motion[3] - back[3]])))
    return found


def _turn(vector: Array) -> Array:
    """The matrix (3, 3) of a rotation vector, radians."""
    import cv2  # heavy; loaded where a moving camera is seen

    return np.asarray(cv2.Rodrigues(np.asarray(vector, dtype=np.float64))[0])


def kept_rows(times: npt.ArrayLike, motions: npt.ArrayLike, focal_px: float) -> list[Row]:
    """As few rows as say a motion (n, 4) at some times to within `STILL_PX`; none for one that stands still.

    `focal_px` tells what a turn does to the picture.
    """
    all_times = np.asarray(times, dtype=np.float64)
    all_motions = np.asarray(motions, dtype=np.float64).reshape(-1, 4)
    within = STILL_PX / focal_px
    if not len(all_times) or float(np.abs(all_motions).max()) < within:
        return []
    kept = _corners(all_times, all_motions, within)
    while len(kept) > MOST_ROWS:
        within *= 2
        kept = _corners(all_times, all_motions, within)
    return [_row(float(all_times[i]), all_motions[i]) for i in kept]


def _row(time_s: float, motion: Array) -> Row:
    right, down, ahead, zoom = (round(float(value), TURN_DECIMALS) + 0.0 for value in motion)
    return round(time_s, TIME_DECIMALS), right, down, ahead, zoom


def _corners(times: Array, motions: Array, within: float) -> list[int]:
    """The places between which straight lines are nowhere farther off than `within` (Douglas and Peucker)."""
    kept, waiting = {0, len(times) - 1}, [(0, len(times) - 1)]
    while waiting:
        first, last = waiting.pop()
        if last - first < 2:
            continue
        share = (times[first + 1 : last] - times[first]) / max(1e-9, times[last] - times[first])
        line = motions[first] + share[:, None] * (motions[last] - motions[first])
        off = np.abs(motions[first + 1 : last] - line).max(axis=1)
        worst = int(np.argmax(off))
        if off[worst] > within:
            middle = first + 1 + worst
            kept.add(middle)
            waiting += [(first, middle), (middle, last)]
    return sorted(kept)
