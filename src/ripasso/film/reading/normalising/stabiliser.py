"""Where a camera looks in each frame, beside a reference picture: a hand, a stand that shakes, a pan, a zoom.

Corners of the reference are found again in each frame; what most of them do is what the camera did.
"""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.reading.detection.picture import Bytes
from ripasso.film.reading.normalising.motion import Array, Pinhole, carried, fitted

#: Corners that are followed: how many, how clear beside the clearest, how far apart (pixels).
CORNERS, CLEAR, APART = 160, 0.01, 9.0
#: How far around a corner is looked, pixels, and how often the picture is halved to look farther.
WINDOW, HALVINGS = 15, 3
#: A corner so near where the motion carries it went with the camera, pixels.
WITH_PX = 1.2
#: The least number and share of corners that must have gone with it.
LEAST, LEAST_SHARE = 12, 0.4
#: A camera that moves the picture's corners by less than this stands still, pixels.
STILL_PX = 0.35
#: A camera that stands is looked at every so many frames; it stands after so many still looks.
LOOK_EVERY, STANDS_AFTER = 5, 12
#: The focal length that is taken until one is known, in widths.
FOCAL_WIDTHS = 1.1
#: Points that are described to find the camera again after a jump, how alike two may be at most.
DESCRIBED, ALIKE = 600, 0.8
#: After a jump the camera is looked for every so many frames.
SEARCH_EVERY = 8
#: At a cut the light (of 255) differs by more than this, looked at every so many pixels.
STEP, CUT = 8, 9.0

STILL: Array = np.zeros(4)


class Stabiliser:
    """Follows one camera; give it the light of every small picture in order."""

    def __init__(self, reference: npt.NDArray[np.uint8], focal_px: float | None = None) -> None:
        """`reference` (height, width) is the light of the picture that all are compared with."""
        height, width = reference.shape
        self._reference = np.ascontiguousarray(reference)
        self._size = (width, height)
        self.pinhole = Pinhole(focal_px or FOCAL_WIDTHS * width, ((width - 1) / 2, (height - 1) / 2))
        found = cv2.goodFeaturesToTrack(self._reference, CORNERS, CLEAR, APART)
        self._points = np.zeros((0, 1, 2), np.float32) if found is None else found.reshape(-1, 1, 2)
        self._edges = np.array([[0, 0], [width, 0], [0, height], [width, height]], dtype=np.float64)
        self.motion = STILL
        self.is_lost = False
        #: Another camera shows something since a cut.
        self.is_elsewhere = False
        self._last: npt.NDArray[np.int16] | None = None
        self._still_looks = self._count = 0
        self._described: tuple[Array, Bytes] | None = None

    @property
    def is_moved(self) -> bool:
        """Whether the last picture lies elsewhere than the reference."""
        return bool(self.motion.any())

    @property
    def stands(self) -> bool:
        """Whether the camera has stood still for a while."""
        return self._still_looks >= STANDS_AFTER

    def matrix(self) -> Array:
        """The 3x3 matrix from pixels of the reference to those of the last picture."""
        return self.pinhole.matrix(self.motion)

    def follow(self, light: Bytes) -> bool:
        """Take in the next picture; False where it is not seen from this camera, or too little of it."""
        self._count += 1
        is_cut = self._is_cut(light)
        if self.stands and self._count % LOOK_EVERY and not (self.is_lost or is_cut):
            return True
        before = self.motion
        found = self._near(light)
        if found is None and self.is_lost and self._count % SEARCH_EVERY == 0:
            found = self._searched(light)
        self.is_lost = found is None
        if found is not None:
            self._set(found)
            self.is_elsewhere = False
        else:
            self.motion = before
            self.is_elsewhere |= is_cut
        return not self.is_lost

    def _is_cut(self, light: Bytes) -> bool:
        """Whether a picture has little to do with the one before."""
        now = light[::STEP, ::STEP].astype(np.int16)
        last, self._last = self._last, now
        return last is not None and float(np.abs(now - last).mean()) > CUT

    def find(self, light: Bytes) -> bool:
        """Look for the camera anew, wherever it looks now; False where it is not this one."""
        self.motion = STILL
        found = self._near(light)
        if found is None:
            found = self._searched(light)
        self.is_lost = found is None
        if found is not None:
            self.is_elsewhere, self._last = False, None
            self._set(found)
        return not self.is_lost

    def _set(self, motion: Array) -> None:
        matrix = self.pinhole.matrix(motion)
        is_still = float(np.abs(carried(self._edges, matrix) - self._edges).max()) < STILL_PX
        self._still_looks = self._still_looks + 1 if is_still else 0
        # Nothing is gained by moving a picture by less than can be told.
        self.motion = STILL if is_still and (self.stands or not self.is_moved) else motion

    def back(self, picture: Bytes, scale: float = 1.0) -> Bytes:
        """A picture (at `scale` times the reference's size) as the reference's camera would show it."""
        if not self.is_moved:
            return picture
        grow = np.array([[scale, 0, (scale - 1) / 2], [0, scale, (scale - 1) / 2], [0, 0, 1]])
        matrix = grow @ self.matrix() @ np.linalg.inv(grow)
        size = (picture.shape[1], picture.shape[0])
        # What lies outside the picture is black, as somebody who stands before it: nothing is told of it.
        way = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        return np.asarray(cv2.warpPerspective(picture, matrix, size, flags=way), dtype=np.uint8)

    def _near(self, light: Bytes) -> Array | None:
        """The motion when it is near the last one."""
        if len(self._points) < LEAST:
            return STILL
        matrix = self.matrix()
        back = self.back(light)
        seen, status, _ = cv2.calcOpticalFlowPyrLK(
            self._reference,
            back,
            self._points,
            np.zeros_like(self._points),
            winSize=(WINDOW, WINDOW),
            maxLevel=HALVINGS,
        )
        is_found = status.ravel() > 0
        return self._told(
            self._points[is_found, 0].astype(np.float64),
            carried(seen[is_found].reshape(-1, 2).astype(np.float64), matrix),
            self.motion,
        )

    def _told(self, first: Array, second: Array, start: Array) -> Array | None:
        """The motion that enough points tell together, None where none does."""
        if len(first) < LEAST:
            return None
        motion, off = fitted(first, second, self.pinhole, start)
        went = int((off < WITH_PX).sum())
        inside = carried(first, self.pinhole.matrix(motion))
        possible = int(((inside >= 0) & (inside < self._size)).all(axis=1).sum())
        if went < max(LEAST, LEAST_SHARE * possible) or not np.isfinite(motion).all():
            return None
        return motion

    def _searched(self, light: Bytes) -> Array | None:
        """The motion when it may be anything: points that look alike in both pictures."""
        describe = cv2.ORB.create(DESCRIBED)
        if self._described is None:
            self._described = _described(describe, self._reference)
        first, one = self._described
        second, other = _described(describe, light)
        if min(len(first), len(second)) < LEAST:
            return None
        pairs = [
            (near[0].queryIdx, near[0].trainIdx)
            for near in cv2.BFMatcher(cv2.NORM_HAMMING).knnMatch(one, other, k=2)
            if len(near) == 2 and near[0].distance < ALIKE * near[1].distance
        ]
        if len(pairs) < LEAST:
            return None
        chosen = np.array(pairs)
        similar, inliers = cv2.estimateAffinePartial2D(
            first[chosen[:, 0]], second[chosen[:, 1]], ransacReprojThreshold=4.0
        )
        if similar is None or int(inliers.sum()) < LEAST:
            return None
        self.motion = self._from_similarity(np.asarray(similar))
        return self._near(light)

    def _from_similarity(self, similar: Array) -> Array:
        """About the motion of a similarity (2, 3) of the picture."""
        zoom = float(np.hypot(similar[0, 0], similar[1, 0]))
        centre = np.array(self.pinhole.centre)
        shift = similar[:, :2] @ centre + similar[:, 2] - centre
        roll = float(np.arctan2(similar[1, 0], similar[0, 0]))
        focal = self.pinhole.focal_px * zoom
        return np.array([-shift[1] / focal, shift[0] / focal, roll, np.log(max(zoom, 1e-3))])


def _described(describe: cv2.ORB, picture: Bytes) -> tuple[Array, Bytes]:
    points, values = describe.detectAndCompute(picture, None)
    places = np.array([point.pt for point in points], dtype=np.float64).reshape(-1, 2)
    return places, np.zeros((0, 32), np.uint8) if values is None else np.asarray(values, np.uint8)


def aligned(
    samples: Sequence[Bytes], focal_px: float | None = None, first: int = 0
) -> tuple[Stabiliser, list[Bytes]]:
    """A follower of the camera of sample `first`, and its samples (n, height, width, 3), moved back."""
    stabiliser = Stabiliser(samples[first][..., 0], focal_px)
    near = [stabiliser.back(sample) for sample in samples if stabiliser.find(sample[..., 0])]
    # What most of them show is the reference: sharp, and nobody stands before it.
    if not any_moved(near, samples):
        return Stabiliser(samples[first][..., 0], focal_px), near
    still = np.median(np.stack(near)[..., 0], axis=0).astype(np.uint8)
    stabiliser = Stabiliser(still, focal_px)
    return stabiliser, [stabiliser.back(sample) for sample in samples if stabiliser.find(sample[..., 0])]


def any_moved(back: Sequence[Bytes], samples: Sequence[Bytes]) -> bool:
    """Whether any sample had to be moved."""
    return len(back) < len(samples) or any(one is not other for one, other in zip(back, samples, strict=True))
