"""The gleam of the lamp on polished balls: one small white spot a ball, at the same place on every one.

In a pack most of a ball's outline is hidden, its gleam seldom is. Where it lies is learned from the balls
that stand alone.
"""

from __future__ import annotations

from collections.abc import Iterable

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.calibration.camera import Camera
from ripasso.film.reading.detection.picture import Bytes

Vector = npt.NDArray[np.float64]

#: How much whiter a gleam is than its ball (of 255), and the largest share of a disc that is a gleam.
WHITER, LARGEST = 50.0, 0.14
#: How far from the usual place a gleam may lie, in radii of the disc, to be of the same lamp.
SPREAD = 0.35
#: As many balls must show the lamp; how high it usually hangs, metres, and how firmly it is held there.
FEWEST, USUAL_M, HELD = 2, 2.0, 0.05
#: Within this share of a disc's radius a spot is the ball's.
INSIDE = 0.85


def spots(picture: Bytes, radius_px: float) -> list[tuple[float, float, float]]:
    """Small white spots of a picture (height, width, 3): column, row, area in pixels."""
    white = picture.min(axis=2)
    # Three by three pixels belong together: a gleam is a few pixels large.
    size = max(3, 2 * round(0.45 * radius_px) + 1)
    body = cv2.morphologyEx(white, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    rise = cv2.subtract(white, body)
    bright = (rise > WHITER).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(bright, connectivity=8)
    found = []
    for i in range(1, count):
        area = float(stats[i][cv2.CC_STAT_AREA])
        if area > LARGEST * np.pi * radius_px**2:
            continue
        rows, columns = np.nonzero(labels == i)
        weight = rise[rows, columns].astype(np.float64)
        found.append((float(columns @ weight / weight.sum()), float(rows @ weight / weight.sum()), area))
    return found


class Lamp:
    """Where the lamp stands, by its gleams on balls that stand alone."""

    def __init__(self, camera: Camera, radius_m: float) -> None:
        """`camera` is that of the large pictures."""
        self._camera, self._radius_m = camera, radius_m
        self._seen: list[tuple[float, float, float, float, float]] = []
        self._place: Vector | None = None

    def learn(self, picture: Bytes, place: tuple[float, float], radius_px: float) -> None:
        """Look at a ball that stands alone."""
        u, v = self._camera.project([[*place, self._radius_m]])[0]
        left, top = max(0, int(u - radius_px)), max(0, int(v - radius_px))
        cut = picture[top : int(v + radius_px) + 1, left : int(u + radius_px) + 1]
        if min(cut.shape[:2]) < 3:
            return
        inside = [
            (x + left, y + top, area)
            for x, y, area in spots(cut, radius_px)
            if np.hypot(x + left - u, y + top - v) < INSIDE * radius_px
        ]
        if inside:
            x, y, _ = max(inside, key=lambda spot: spot[2])
            self._seen.append((*place, x, y, radius_px))
            self._place = None

    def places(
        self, picture: Bytes, first: tuple[int, int], radius_px: float
    ) -> Iterable[tuple[float, float]]:
        """Places of balls whose gleams a picture shows; its first pixel is `first` of the large one."""
        lamp = self._found()
        if lamp is None:
            return
        for u, v, _ in spots(picture, radius_px):
            seen = np.array([u + first[0], v + first[1]])
            place = self._camera.places(seen[None], self._radius_m)[0]
            for _ in range(4):
                if not np.isfinite(place).all():
                    break
                middle = self._camera.project([[*place, self._radius_m]])
                shown = self._gleams(place[None], lamp)
                place = self._camera.places(seen + middle - shown, self._radius_m)[0]
            if np.isfinite(place).all():
                yield float(place[0]), float(place[1])

    def _found(self) -> Vector | None:
        """The lamp's place (3,); None where no lamp shows, or too few balls show it."""
        if self._place is None and len(self._seen) >= FEWEST:
            self._place = self._fitted(np.array(self._seen))
        return self._place

    def _fitted(self, seen: Vector) -> Vector | None:
        from scipy.optimize import least_squares  # heavy; loaded where a film is read

        def off(lamp: Vector) -> Vector:
            shown = self._gleams(seen[:, :2], np.array([lamp[0], lamp[1], np.exp(lamp[2])]))
            return np.asarray(((shown - seen[:, 2:4]) / seen[:, 4:]).ravel())

        middle = seen[:, :2].mean(axis=0)
        # Few balls say little about how high it hangs: it is held near a usual height.
        found = least_squares(
            lambda lamp: np.append(off(lamp), HELD * (lamp[2] - np.log(USUAL_M))),
            np.array([*middle, np.log(USUAL_M)]),
            loss="soft_l1",
            f_scale=0.1,
            max_nfev=60,
        )
        apart = np.hypot(*off(found.x).reshape(-1, 2).T)
        if (apart < SPREAD).mean() < 0.5:
            return None
        return np.array([found.x[0], found.x[1], np.exp(found.x[2])])

    def _gleams(self, places: Vector, lamp: Vector) -> Vector:
        """Where (n, 2) balls at places (n, 2) mirror the lamp: halfway between lamp and eye."""
        centres = np.column_stack((places, np.full(len(places), self._radius_m)))
        halfway = sum(
            to / np.linalg.norm(to, axis=1, keepdims=True)
            for to in (lamp - centres, self._camera.eye - centres)
        )
        halfway /= np.linalg.norm(halfway, axis=1, keepdims=True)
        return self._camera.project(centres + self._radius_m * halfway)
