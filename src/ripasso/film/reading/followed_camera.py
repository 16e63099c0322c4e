"""A stretch of a film that one camera shows, and what that camera does meanwhile."""

from __future__ import annotations

from array import array
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ripasso.core.json_data import JsonObject
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.moving import TIME_DECIMALS, kept_rows


class FollowedCamera:
    """`camera` (of the full picture) is what it was at `at_s`; it shows the table from `start_s` on."""

    def __init__(self, start_s: float, camera: Camera, at_s: float) -> None:
        self.start_s, self.camera, self.at_s = start_s, camera, at_s
        self._times, self._motions = array("d"), array("f")

    def add(self, time_s: float, motion: npt.NDArray[np.float64]) -> None:
        """What the camera did (4,) in a frame."""
        self._times.append(time_s)
        self._motions.extend(motion.tolist())

    def as_data(self, spans: Sequence[tuple[float, float]]) -> JsonObject:
        """The view as a session file states it; its motion is kept in some spans of time (seconds)."""
        times = np.array(self._times)
        wanted = np.zeros(len(times), dtype=bool)
        for start_s, end_s in spans:
            wanted |= (times >= start_s) & (times <= end_s)
        motions = np.array(self._motions, dtype=np.float64).reshape(-1, 4)
        rows = kept_rows(times[wanted], motions[wanted], self.camera.focal_px)
        data: JsonObject = {"camera": self.camera.as_data()}
        if rows:
            data |= {"at": round(self.at_s, TIME_DECIMALS), "motion": [list(row) for row in rows]}
        return data
