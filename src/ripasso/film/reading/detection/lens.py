"""How a lens bends the picture, from the table itself: the sides of the cloth are straight.

A first view from four corners is refined on the whole outline of the cloth. Radial terms are taken in only
where the outline carries them: one, then a second.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from ripasso.core.table import TableSpec
from ripasso.core.table.known_points import RAIL_TOP_M
from ripasso.film.calibration.camera import Camera

Array = npt.NDArray[np.float64]
#: Which points of the sides are compared with which of the outline.
Pairs = tuple[npt.NDArray[np.intp], npt.NDArray[np.intp]]

#: Half the angle that a camera sees across, degrees: from a long lens to a wide action camera.
NARROWEST_DEG, WIDEST_DEG = 9.0, 60.0
#: Focal lengths to begin from, in widths of the picture.
FOCAL_GUESSES = (0.5, 0.8, 1.2, 2.0)
#: Points of each side that are compared, and the share of a side at its ends that pockets may cut.
POINTS, POCKETS = 60, 0.06
#: A residual larger than this counts less and less, pixels.
OUTLIER_PX = 1.5
#: How much better (F ratio) one more radial term must fit; neighbours on an outline err together, so that
#: only one in so many counts.
RADIAL_F, TOGETHER = 12.0, 3
#: A lens that bends by less than this is straight, pixels.
LEAST_BEND_PX = 1.0
#: What a strong bend is tried with first.
FIRST_RADIAL = -0.1
#: How far an outline may be off a side to belong to it, as a share of the picture's width.
NEAR = 0.05


@dataclass(frozen=True)
class Bent:
    """A view of the small picture, and how far the outline is off its sides (root mean square, pixels)."""

    camera: Camera
    residual_px: float


def is_believable(camera: Camera, size: tuple[int, int]) -> bool:
    """Whether a camera could be anybody's: neither a needle nor wider than an action camera."""
    half = np.degrees(np.arctan(size[0] / 2 / camera.focal_px))
    return bool(NARROWEST_DEG <= half <= WIDEST_DEG)


def sides_of(spec: TableSpec, cushion_m: float) -> Array:
    """Points (4, n, 3) along the outer edges of the cushions, metres, in the order of the corners."""
    c = cushion_m
    low, high = (-c, -c), (spec.length + c, spec.width + c)
    corners = np.array([low, (high[0], low[1]), high, (low[0], high[1])])
    short = np.linspace(POCKETS, 1 - POCKETS, POINTS)
    # Between the pockets: long sides have one in their middle.
    half = np.linspace(POCKETS / 2, 0.5 - POCKETS / 2, POINTS // 2)
    long = np.concatenate((half, 0.5 + half))
    flat = [
        corners[i] + (short if i % 2 else long)[:, None] * (corners[(i + 1) % 4] - corners[i])
        for i in range(4)
    ]
    return np.stack([np.column_stack((side, np.full(POINTS, RAIL_TOP_M))) for side in flat])


def bent_view(
    outline: Array, guesses: list[Camera], spec: TableSpec, cushion_m: float, size: tuple[int, int]
) -> Bent | None:
    """The view whose sides lie on an outline (n, 2) of the cloth, pixels; None where none is believable.

    `guesses` are views to begin from.
    """
    sides = sides_of(spec, cushion_m)
    best: tuple[Array, float] | None = None
    for guess in guesses:
        for start in _starts(guess, size)[: 1 if is_believable(guess, size) else None]:
            found = _refined(start, outline, sides, size)
            if found is None:
                # A strong bend has its radial term from the beginning, or the sides are not met.
                found = _refined(np.append(start, FIRST_RADIAL), outline, sides, size)
            if found is not None and (best is None or found[1] < best[1]):
                best = found
    if best is None:
        return None
    while len(best[0]) < 9:
        richer = _refined(np.append(best[0], 0.0), outline, sides, size)
        gained = best[1] ** 2 / max(1e-9, richer[1] ** 2) - 1 if richer is not None else 0.0
        if richer is None or gained * 4 * POINTS / TOGETHER < RADIAL_F:
            break
        if _bend_px(richer[0], outline, size) < LEAST_BEND_PX:
            break
        best = richer
    camera = _camera(best[0], size)
    return Bent(camera, best[1]) if is_believable(camera, size) else None


def _bend_px(parameters: Array, outline: Array, size: tuple[int, int]) -> float:
    """How far the lens moves the farthest point of the outline, pixels."""
    camera = _camera(parameters, size)
    squared = float(((outline - camera.centre) ** 2).sum(axis=1).max()) / camera.focal_px**2
    moved: float = abs(camera.k1 * squared + camera.k2 * squared**2) * squared**0.5 * camera.focal_px
    return moved


def outline_residual(
    camera: Camera, outline: Array, spec: TableSpec, cushion_m: float, size: tuple[int, int]
) -> float:
    """How far an outline is off the sides of the cloth (root mean square, px); infinite if nowhere near."""
    sides = sides_of(spec, cushion_m)
    parameters = np.concatenate(
        (
            [camera.focal_px / 1000],
            Rotation.from_matrix(camera.rotation).as_rotvec(),
            camera.translation,
            [camera.k1, camera.k2],
        )
    )
    along = _nearest(camera, outline, sides, NEAR * size[0])
    return float("inf") if along is None else _size_of(_off(parameters, along, outline, sides, size))


def _size_of(off: Array) -> float:
    """The root mean square of what is off; outliers count as three times what is one."""
    return float(np.sqrt(np.mean(np.minimum(off**2, (3 * OUTLIER_PX) ** 2))))


def _starts(guess: Camera, size: tuple[int, int]) -> list[Array]:
    """The guess itself, and its like with other focal lengths: the farther, the longer the lens."""
    turn = Rotation.from_matrix(guess.rotation).as_rotvec()
    starts = []
    for focal in (guess.focal_px, *(widths * size[0] for widths in FOCAL_GUESSES)):
        nearer = guess.translation.copy()
        nearer[2] *= focal / guess.focal_px
        starts.append(np.concatenate(([focal / 1000], turn, nearer)))
    return starts


def _camera(parameters: Array, size: tuple[int, int]) -> Camera:
    centre = ((size[0] - 1) / 2, (size[1] - 1) / 2)
    rotation = Rotation.from_rotvec(parameters[1:4]).as_matrix()
    radial = [float(value) for value in parameters[7:]]
    return Camera(float(1000 * parameters[0]), centre, rotation, parameters[4:7], *radial)


def _refined(start: Array, outline: Array, sides: Array, size: tuple[int, int]) -> tuple[Array, float] | None:
    """Parameters and residual after the outline was assigned to sides anew a few times."""
    parameters = start
    for _ in range(4):
        along = _nearest(_camera(parameters, size), outline, sides, NEAR * size[0])
        if along is None:
            return None
        parameters = _solved(parameters, along, outline, sides, size)
        if not np.isfinite(parameters).all() or parameters[0] <= 0.01:
            return None
    along = _nearest(_camera(parameters, size), outline, sides, NEAR * size[0])
    if along is None:
        return None
    return parameters, _size_of(_off(parameters, along, outline, sides, size))


def _nearest(camera: Camera, outline: Array, sides: Array, near: float) -> Pairs | None:
    """For each point of each side the outline's point nearest to it: indices (m,) of points and outline."""
    seen = camera.project(sides.reshape(-1, 3))
    if not np.isfinite(seen).all():
        return None
    apart = np.hypot(*(seen[:, None, :] - outline[None, :, :]).transpose(2, 0, 1))
    nearest = apart.argmin(axis=1)
    kept = apart[np.arange(len(seen)), nearest] < near
    each = kept.reshape(4, -1).sum(axis=1)
    # Every side must be seen for the most part.
    return (np.flatnonzero(kept), nearest[kept]) if (each > 0.4 * sides.shape[1]).all() else None


def _off(parameters: Array, along: Pairs, outline: Array, sides: Array, size: tuple[int, int]) -> Array:
    """How far the outline is off the sides, across them, pixels."""
    camera = _camera(parameters, size)
    points, found = along
    flat = sides.reshape(-1, 3)
    seen = camera.project(flat)
    # The direction of a side where it is seen: towards its next point, the last one from the one before.
    count = sides.shape[1]
    following = seen.reshape(4, count, 2)
    step = np.concatenate((np.diff(following, axis=1), following[:, -1:] - following[:, -2:-1]), axis=1)
    step = step.reshape(-1, 2)
    step = step / np.maximum(1e-9, np.linalg.norm(step, axis=1, keepdims=True))
    across = np.column_stack((step[points, 1], -step[points, 0]))
    off = ((outline[found] - seen[points]) * across).sum(axis=1)
    return np.asarray(np.where(np.isfinite(off), off, 1e3))


def _solved(parameters: Array, along: Pairs, outline: Array, sides: Array, size: tuple[int, int]) -> Array:
    found = least_squares(
        lambda p: _off(p, along, outline, sides, size),
        parameters,
        x_scale="jac",
        loss="soft_l1",
        f_scale=OUTLIER_PX,
        max_nfev=60,
    )
    return np.asarray(found.x)
