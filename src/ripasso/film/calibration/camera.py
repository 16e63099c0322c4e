"""A camera that looks at the table: from places to pixels and back.

X_cam = R X + t (x right, y down, z forward), x = X/Z, y = Y/Z, radial factor 1 + k1 r^2 + k2 r^4,
u = f x + cx, v = f y + cy; pixel (0, 0) is the centre of the first pixel. Places are metres on the table.
Source of the model: R. Hartley and A. Zisserman, "Multiple View Geometry", chapters 6 and 7, from memory.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from ripasso.core.json_data import JsonMapping, JsonObject

Array = npt.NDArray[np.float64]

UNDISTORT_STEPS = 12
#: What a stated camera may be at most; a rotation is written with rounded digits.
ORTHOGONAL_WITHIN, FARTHEST_M, MOST_RADIAL, MOST_PX = 0.01, 1e3, 1e2, 1e6


@dataclass(frozen=True)
class Camera:
    """Focal length and centre in pixels, two radial terms, rotation (3, 3) and translation (3,)."""

    focal_px: float
    centre: tuple[float, float]
    rotation: Array
    translation: Array
    k1: float = 0.0
    k2: float = 0.0

    def project(self, points: npt.ArrayLike) -> Array:
        """Pixels (n, 2) of points (n, 3); NaN for points behind the camera."""
        seen = np.asarray(points, dtype=np.float64).reshape(-1, 3) @ self.rotation.T + self.translation
        with np.errstate(divide="ignore", invalid="ignore"):
            flat = np.where(seen[:, 2:] > 1e-9, seen[:, :2] / seen[:, 2:], np.nan)
        squared = (flat**2).sum(axis=1, keepdims=True)
        factor = 1 + self.k1 * squared + self.k2 * squared**2
        return np.asarray(self.focal_px * factor * flat + self.centre)

    def places(self, pixels: npt.ArrayLike, height: float | npt.ArrayLike) -> Array:
        """Where the rays of pixels (n, 2) meet the level plane at a height: (n, 2), NaN where they do not."""
        rays = self._rays(np.asarray(pixels, dtype=np.float64).reshape(-1, 2))
        eye = self.eye
        with np.errstate(divide="ignore", invalid="ignore"):
            reach = (np.asarray(height, dtype=np.float64) - eye[2]) / rays[:, 2]
        reach = np.where(reach > 0, reach, np.nan)
        return np.asarray(eye[:2] + reach[:, None] * rays[:, :2])

    def from_other_end(self, length: float, width: float) -> Camera:
        """The camera of the same picture when its other end is called the head of the table (metres)."""
        turn = np.diag([-1.0, -1.0, 1.0])
        shift = self.rotation @ np.array([length, width, 0.0])
        return replace(self, rotation=self.rotation @ turn, translation=shift + self.translation)

    @property
    def eye(self) -> Array:
        """Where the camera stands."""
        return np.asarray(-self.rotation.T @ self.translation)

    def _rays(self, pixels: Array) -> Array:
        """Directions (n, 3) in the table frame, not of unit length."""
        flat = (pixels - self.centre) / self.focal_px
        undistorted = flat
        for _ in range(UNDISTORT_STEPS if self.k1 or self.k2 else 0):
            squared = (undistorted**2).sum(axis=1, keepdims=True)
            undistorted = flat / (1 + self.k1 * squared + self.k2 * squared**2)
        forward = np.concatenate((undistorted, np.ones((len(flat), 1))), axis=1)
        return np.asarray(forward @ self.rotation)

    def as_data(self) -> JsonObject:
        """The camera as session files and `locate` write it."""
        return {
            "focal_px": self.focal_px,
            "centre": list(self.centre),
            "k1": self.k1,
            "k2": self.k2,
            "R": [[float(value) for value in row] for row in self.rotation],
            "t": [float(value) for value in self.translation],
        }

    @classmethod
    def from_data(cls, data: JsonMapping) -> Camera:
        """Read what `as_data` writes; raises KeyError, TypeError or ValueError for anything else.

        A camera that cannot be (no rotation, no focal length, farther than any hall is long) is a ValueError.
        """
        rotation = np.array(data["R"], dtype=np.float64).reshape(3, 3)
        translation = np.array(data["t"], dtype=np.float64).reshape(3)
        centre = (float(data["centre"][0]), float(data["centre"][1]))
        radial = (float(data.get("k1") or 0.0), float(data.get("k2") or 0.0))
        focal = float(data["focal_px"])
        turned = np.abs(rotation @ rotation.T - np.eye(3)).max() < ORTHOGONAL_WITHIN
        near = np.abs(translation).max() < FARTHEST_M and max(map(abs, radial)) < MOST_RADIAL
        if not (turned and near and 1 < focal < MOST_PX and max(map(abs, centre)) < MOST_PX):
            raise ValueError("no camera")
        return cls(focal, centre, rotation, translation, *radial)
