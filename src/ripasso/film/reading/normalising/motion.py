"""How a camera moved between two pictures: turned about its three axes, and zoomed."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]

#: Steps for derivatives: radians, and the logarithm of a zoom.
STEP = 1e-5
#: A point farther off than this counts less and less, pixels; so often is the fit made anew.
OUTLIER_PX, ROUNDS = 0.7, 8


@dataclass(frozen=True)
class Pinhole:
    """The focal length and the middle of a picture, pixels: enough to turn it."""

    focal_px: float
    centre: tuple[float, float]

    def matrix(self, motion: Array) -> Array:
        """The 3x3 matrix from pixels of the first picture to those of the second.

        `motion` (4,) is the camera's turn about its axes (right, down, ahead; radians) and the logarithm of
        its zoom.
        """
        turn = np.asarray(cv2.Rodrigues(motion[:3])[0])
        zoom = float(np.exp(motion[3]))
        u, v = self.centre
        back = np.array([[1, 0, -u], [0, 1, -v], [0, 0, self.focal_px]]) / self.focal_px
        onto = np.array([[zoom * self.focal_px, 0, u], [0, zoom * self.focal_px, v], [0, 0, 1]])
        return np.asarray(onto @ turn @ back)

    def moved(self, points: Array, motion: Array) -> Array:
        """Pixels (n, 2) of the second picture for those of the first."""
        return carried(points, self.matrix(motion))


def carried(points: Array, matrix: Array) -> Array:
    """Pixels (n, 2) through a 3x3 matrix."""
    seen = np.column_stack((points, np.ones(len(points)))) @ matrix.T
    return np.asarray(seen[:, :2] / seen[:, 2:])


def fitted(first: Array, second: Array, pinhole: Pinhole, start: Array) -> tuple[Array, Array]:
    """The motion (4,) that carries points (n, 2) to where they are seen, and how far off each is (n,).

    Points that go their own way (people, balls) count little: Cauchy's weights.
    """
    motion = start.copy()
    for _ in range(ROUNDS):
        seen = pinhole.moved(first, motion)
        off = second - seen
        away = np.hypot(*off.T)
        # From far off everything counts; the nearer, the stricter.
        scale = max(OUTLIER_PX, float(np.median(away)))
        weights = np.repeat(1 / (1 + (away / scale) ** 2), 2)
        slopes = np.stack(
            [
                ((pinhole.moved(first, motion + STEP * axis) - seen) / STEP).ravel()
                for axis in np.eye(len(motion))
            ],
            axis=1,
        )
        weighted = slopes * weights[:, None]
        try:
            step = np.linalg.solve(weighted.T @ slopes, weighted.T @ off.ravel())
        except np.linalg.LinAlgError:
            break
        motion = motion + step
        if float(np.abs(step).max()) < STEP:
            break
    return motion, np.hypot(*(second - pinhole.moved(first, motion)).T)
