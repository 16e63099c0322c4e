"""The camera behind known points of the table, by least squares, and how sure the places it gives are.

Four points are enough for a first guess; each further one makes it surer. The first radial term is what the
points say and what lenses are like, weighed together; a second one is taken in only where the points carry
it. A point weighs as much as its place is exact. Heavy to import: loaded where a view is set.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation
from scipy.special import stdtrit

from ripasso.film.calibration.camera import Array, Camera
from ripasso.film.errors import ViewError

#: First guesses of the focal length, in widths of the picture: from a wide angle to a long lens.
FOCAL_GUESSES = (0.7, 1.0, 1.4, 2.0, 3.0, 5.0)
#: What a click is trusted to before there is evidence, px, and how many residuals that counts for.
CLICK_SD_PX, CLICK_WEIGHT = 1.5, 4
#: How far the first radial term of usual lenses is from none (standard deviation; from memory).
RADIAL_SD = 0.15
#: Fewer points than these leave the lens straight (within the second).
BENT_FROM, STRAIGHT_SD = 6, 1e-4
#: A pixel that is named stands for all its width: the standard deviation of a uniform error.
ROUNDING_SD_PX = 12**-0.5
#: Points from which on a second radial term is tried, and how much better (F ratio) it must fit.
SECOND_FROM, RADIAL_F = 12, 12.0
FEWEST_POINTS = 4
LEVEL = 0.95


@dataclass(frozen=True)
class FittedView:
    """A camera, the residual of its points (root mean square, px), the covariance of its parameters."""

    camera: Camera
    residual_px: float
    residuals_px: Array
    covariance: Array
    parameters: Array
    freedom: int

    def uncertainty_m(self, pixels: Array, height: float) -> Array:
        """The radius (n,) of the circle around the place of each pixel that holds it with 95 %.

        What the camera's parameters and the size of a pixel leave open, to first order.
        """
        pixels = np.asarray(pixels, dtype=np.float64).reshape(-1, 2)
        by_parameter = _places_by_parameter(self.parameters, self.camera.centre, pixels, height)
        by_pixel = _places_by_pixel(self.camera, pixels, height)
        spread = np.einsum("nip,pq,njq->nij", by_parameter, self.covariance, by_parameter)
        spread += ROUNDING_SD_PX**2 * np.einsum("nip,njp->nij", by_pixel, by_pixel)
        # The noise itself was estimated from few points: the wider tails of Student's t.
        tails = float(stdtrit(self.freedom, 0.975) / stdtrit(1e6, 0.975))
        return tails * _circle_radius(spread)


def fit_view(
    points: Sequence[Sequence[float]],
    pixels: Sequence[Sequence[float]],
    size: tuple[int, int],
    exact_m: Sequence[float] | None = None,
) -> FittedView:
    """The camera that sees `points` (n, 3, metres) at `pixels` (n, 2) in a picture of `size`.

    `exact_m` says how exactly each point is placed on the table (standard deviation, metres; none: exactly).
    Raises `ViewError` for too few points, or points on one line.
    """
    places = np.asarray(points, dtype=np.float64).reshape(-1, 3)
    seen = np.asarray(pixels, dtype=np.float64).reshape(-1, 2)
    _check(places, seen)
    centre = ((size[0] - 1) / 2, (size[1] - 1) / 2)
    hand_px, clicked = CLICK_SD_PX, np.full(len(places), CLICK_SD_PX)
    best = None
    for guess in _guesses(places, seen, size, centre):
        found = _refine(np.append(guess, 0.0), places, seen, centre, clicked)
        if best is None or found.cost < best.cost:
            best = found
    if best is None:
        raise ViewError("These points do not fit a camera; look whether each was clicked at the right place.")
    # What the hand is off shows in the points: against that the lens and the exactness of places are weighed.
    for _ in range(3):
        hand_px *= np.sqrt(_noise(best.fun[:-1], len(best.x), hand_px))
        loose_px = _seen_m(_camera(best.x, centre), places, exact_m) if exact_m is not None else 0.0
        clicked = np.hypot(np.full(len(places), hand_px), loose_px)
        best = _refine(best.x, places, seen, centre, clicked)
    if len(places) >= SECOND_FROM:
        richer = _refine(np.append(best.x, 0.0), places, seen, centre, clicked)
        freedom = 2 * len(places) - len(richer.x)
        if (best.cost - richer.cost) / max(richer.cost / freedom, 1e-12) >= RADIAL_F:
            best = richer
    return _fitted(best, centre, clicked, hand_px)


def _noise(off: Array, parameters: int, hand_px: float) -> float:
    """How much larger than they were taken for the squares of what points are off (2 n,) are.

    What clicks are trusted to before there is evidence counts for `CLICK_WEIGHT` of them.
    """
    freedom = len(off) + 1 - parameters  # what lenses are like is one more that is known
    before = CLICK_WEIGHT * (CLICK_SD_PX / hand_px) ** 2
    return (before + float(off @ off)) / (CLICK_WEIGHT + freedom)


def _seen_m(camera: Camera, places: Array, exact_m: Sequence[float]) -> Array:
    """How many pixels (n,) so many metres are at each place, on average over the directions of the table."""
    exact = np.asarray(exact_m, dtype=np.float64)
    sides = [camera.project(places + step) - camera.project(places - step) for step in np.eye(3)[:2] * 0.005]
    per_metre = np.sqrt(sum((side**2).sum(axis=1) for side in sides) / 2) / 0.01
    seen: Array = np.where(np.isfinite(per_metre), per_metre, 0.0) * exact / np.sqrt(2)
    return seen


def _check(places: Array, seen: Array) -> None:
    if len(places) != len(seen):
        raise ViewError("Each known point needs one place in the picture.")
    if len(places) < FEWEST_POINTS:
        raise ViewError(f"{FEWEST_POINTS} known points are needed at least; there are {len(places)}.")
    if not (np.isfinite(places).all() and np.isfinite(seen).all()):
        raise ViewError("A known point has no place.")
    flat = places[:, :2] - places[:, :2].mean(axis=0)
    if np.linalg.svd(flat, compute_uv=False)[1] < 0.05:
        raise ViewError("The known points lie on one line; take some across the table as well.")


def _guesses(places: Array, seen: Array, size: tuple[int, int], centre: tuple[float, float]) -> list[Array]:
    """Parameters (focal length, rotation, translation) to begin from, one for each focal length."""
    guesses = []
    for widths in FOCAL_GUESSES:
        focal = widths * size[0]
        matrix = np.array([[focal, 0, centre[0]], [0, focal, centre[1]], [0, 0, 1.0]])
        try:
            done, turn, shift = cv2.solvePnP(places, seen, matrix, None, flags=cv2.SOLVEPNP_SQPNP)
        except cv2.error:
            continue
        if done and shift[2, 0] > 0:
            guesses.append(np.concatenate(([focal / 1000], turn[:, 0], shift[:, 0])))
    return guesses


def _camera(parameters: Array, centre: tuple[float, float]) -> Camera:
    """Parameters are focal length / 1000 px, rotation vector, translation, and up to two radial terms."""
    rotation = Rotation.from_rotvec(parameters[1:4]).as_matrix()
    radial = [float(value) for value in parameters[7:]]
    return Camera(float(1000 * parameters[0]), centre, rotation, parameters[4:7], *radial)


def _refine(start: Array, places: Array, seen: Array, centre: tuple[float, float], clicked: Array):  # type: ignore[no-untyped-def]
    """Least squares of what points are off, in their standard deviations, and of the lens, in its own."""
    # Few points say more of each click than of the lens: it stays straight, and is no surer for that.
    radial_sd = RADIAL_SD if len(places) >= BENT_FROM else STRAIGHT_SD

    def off(parameters: Array) -> Array:
        found = _camera(parameters, centre).project(places)
        # A point behind the camera is as wrong as can be, and still comparable.
        apart = np.where(np.isfinite(found), found - seen, 1e4) / clicked[:, None]
        return np.append(apart.ravel(), parameters[7] / radial_sd)

    found = least_squares(off, start, method="trf", x_scale="jac", max_nfev=200)
    found.jac[-1, 7] = 1 / RADIAL_SD
    if len(places) < BENT_FROM:
        found.x[7] = 0.0
    return found


def _fitted(best, centre: tuple[float, float], clicked: Array, hand_px: float) -> FittedView:  # type: ignore[no-untyped-def]
    parameters, off = best.x, best.fun[:-1]
    noise = _noise(off, len(parameters), hand_px)
    covariance: Array = noise * np.linalg.pinv(best.jac.T @ best.jac, rcond=1e-14)
    apart: Array = np.hypot(*(off.reshape(-1, 2) * clicked[:, None]).T).astype(np.float64)
    return FittedView(
        _camera(parameters, centre),
        float(np.sqrt(np.mean(apart**2))),
        apart,
        covariance,
        parameters,
        CLICK_WEIGHT + len(off) + 1 - len(parameters),
    )


def _places_by_parameter(
    parameters: Array, centre: tuple[float, float], pixels: Array, height: float
) -> Array:
    """Derivatives (n, 2, p) of places by the parameters, by central differences."""
    columns = []
    for i, value in enumerate(parameters):
        step = 1e-6 * max(1.0, abs(float(value)))
        low, high = parameters.copy(), parameters.copy()
        low[i], high[i] = value - step, value + step
        ahead = _camera(high, centre).places(pixels, height)
        columns.append((ahead - _camera(low, centre).places(pixels, height)) / (2 * step))
    return np.stack(columns, axis=-1)


def _places_by_pixel(camera: Camera, pixels: Array, height: float) -> Array:
    """Derivatives (n, 2, 2) of places by the pixel's coordinates."""
    columns = []
    for shift in np.eye(2) * 0.25:
        ahead = camera.places(pixels + shift, height) - camera.places(pixels - shift, height)
        columns.append(ahead / 0.5)
    return np.stack(columns, axis=-1)


def _circle_radius(spread: Array) -> Array:
    """Radius of the circle that holds 95 % of a normal error with covariance (n, 2, 2)."""
    trace = np.trace(spread, axis1=1, axis2=2)
    with np.errstate(invalid="ignore"):
        root = np.sqrt(np.maximum(0.0, (trace / 2) ** 2 - np.linalg.det(spread)))
    long, short = trace / 2 + root, np.maximum(0.0, trace / 2 - root)
    with np.errstate(invalid="ignore", divide="ignore"):
        ratio = np.where(long > 0, np.sqrt(short / long), 1.0)
    radius: Array = np.sqrt(long) * np.interp(ratio, _RATIOS, _RADII)
    return radius


def _radius_of(ratio: float) -> float:
    """The radius for axes 1 and `ratio`: the probability inside, over directions, brought to 95 %."""
    turns = (np.arange(400) + 0.5) / 400 * np.pi / 2
    stretch = np.cos(turns) ** 2 + np.sin(turns) ** 2 * ratio**2
    # Along a direction of the unit normal plane the radius reached is r / sqrt(stretch).
    low, high = 1.0, 3.0
    for _ in range(40):
        middle = (low + high) / 2
        inside = float(np.mean(1 - np.exp(-(middle**2) / (2 * stretch))))
        low, high = (middle, high) if inside < LEVEL else (low, middle)
    return (low + high) / 2


_RATIOS = np.linspace(0.0, 1.0, 21)
_RADII = np.array([_radius_of(float(ratio)) for ratio in _RATIOS])
