"""The lens of the simulated camera: a pinhole with the middle of the picture as its centre."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Camera:
    """A pinhole camera: X_cam = rotation @ X + translation (x right, y down, z forward)."""

    width: int
    height: int
    focal_px: float
    rotation: Floats
    translation: Floats

    @classmethod
    def looking(cls, place: Floats, target: Floats, focal_px: float, width: int, height: int) -> Camera:
        """A level camera at `place` that has `target` in the middle of its picture."""
        forward = (target - place) / np.linalg.norm(target - place)
        right = np.cross(forward, (0.0, 0.0, 1.0))
        right /= np.linalg.norm(right)
        rotation = np.stack([right, np.cross(forward, right), forward])
        return cls(width, height, focal_px, rotation, -rotation @ place)

    @property
    def place(self) -> Floats:
        """Where the camera stands."""
        return np.asarray(-self.rotation.T @ self.translation)

    def project(self, points: npt.ArrayLike) -> Floats:
        """Pixels (n, 2) of points (n, 3)."""
        seen = np.asarray(points, dtype=np.float64) @ self.rotation.T + self.translation
        middle = ((self.width - 1) / 2, (self.height - 1) / 2)
        return np.asarray(seen[:, :2] / seen[:, 2:] * self.focal_px + middle)

    def rays(self, pixels: npt.ArrayLike) -> Floats:
        """Directions (..., 3) in the table frame, not normalised, of pixels (..., 2)."""
        middle = np.array([(self.width - 1) / 2, (self.height - 1) / 2])
        flat = (np.asarray(pixels, dtype=np.float64) - middle) / self.focal_px
        directions = np.concatenate([flat, np.ones_like(flat[..., :1])], axis=-1) @ self.rotation
        return np.asarray(directions)

    def described(self) -> dict[str, object]:
        """The camera as the truth file states it."""
        return {
            "focal_px": self.focal_px,
            "centre": [(self.width - 1) / 2, (self.height - 1) / 2],
            "R": self.rotation.tolist(),
            "t": self.translation.tolist(),
            "image_size": [self.width, self.height],
        }
