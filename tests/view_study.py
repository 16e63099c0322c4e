"""How right views by clicks are, and what is said of them: `python -m tests.view_study [DRAWS]`.

Eight cameras, three of them with a lens that bends; 4 points (where the noses meet), 6 and 10 (others by
chance); a hand of 2 px, pockets 15 mm beside their convention. Looked at are nine places of the table.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator

import numpy as np
from scipy.spatial.transform import Rotation

from ripasso.core.table import table_spec
from ripasso.core.table.known_points import POCKET_EXACT_M, KnownPoint, exactness_m, known_points
from ripasso.demo.filming.lens import Camera as Lens
from ripasso.demo.filming.rooms import corner_camera, end_camera, phone_camera, side_camera
from ripasso.film.calibration.camera import Array, Camera
from ripasso.film.calibration.camera_fit import RADIAL_SD, _camera, _places_by_parameter, _seen_m, fit_view

SPEC = table_spec({"preset": "pool_9ft"})
WIDE, TALL = (1280, 720), (720, 1280)
HAND_PX, COUNTS = 2.0, (4, 6, 10)
#: How far from the cushions the outer of the nine places lie.
BESIDE_M = 0.13


def _low_camera(width: int, height: int) -> Lens:
    place = np.array([-1.2, SPEC.width * 0.6, 0.9])
    target = np.array([SPEC.length / 2, SPEC.width / 2, 0.0])
    return Lens.looking(place, target, focal_px=width * 0.8, width=width, height=height)


def cameras() -> Iterator[tuple[Camera, tuple[int, int]]]:
    """The cameras with the sizes of their pictures."""
    for lens, size, k1 in (
        (side_camera(SPEC), WIDE, 0.0),
        (end_camera(SPEC), WIDE, 0.0),
        (corner_camera(SPEC), WIDE, 0.0),
        (phone_camera(SPEC), TALL, 0.0),
        (_low_camera(*WIDE), WIDE, 0.0),
        (side_camera(SPEC), WIDE, -0.2),
        (corner_camera(SPEC), WIDE, -0.12),
        (end_camera(SPEC), WIDE, -0.08),
    ):
        centre = ((size[0] - 1) / 2, (size[1] - 1) / 2)
        yield Camera(lens.focal_px, centre, np.array(lens.rotation), np.array(lens.translation), k1), size


def _nine_balls() -> Array:
    """Where it is looked how far off a view is (9, 3)."""
    x, y = (np.linspace(BESIDE_M, side - BESIDE_M, 3) for side in (SPEC.length, SPEC.width))
    return np.array([[a, b, SPEC.ball_radius] for a in x for b in y])


def _drawn(random: np.random.Generator, count: int) -> list[KnownPoint]:
    """The points that are clicked: where the noses meet, and others by chance."""
    points = known_points(SPEC)
    corners, others = [[p for p in points if (p.kind == "corner") is first] for first in (True, False)]
    return [*corners, *(others[i] for i in random.choice(len(others), count - 4, replace=False))]


def bound_mm(count: int, draws: int, hand_px: float = HAND_PX) -> float:
    """The median error (mm) of the best view that so many clicks can give: the bound of Cramér and Rao.

    Information of normal errors about the camera, its lens known as usual lenses are; the law of errors of
    places follows from its inverse. Cramér, Mathematical Methods of Statistics (1946), chapter 32.
    """
    random, seen, balls = np.random.default_rng(count), list(cameras()), _nine_balls()
    errors = []
    for draw in range(draws):
        camera, _size = seen[draw % len(seen)]
        chosen = _drawn(random, count)
        places = np.array([point.place for point in chosen])
        loose = [POCKET_EXACT_M if point.kind == "pocket" else 0.0 for point in chosen]
        spread_px = np.sqrt(hand_px**2 + 1 / 12 + _seen_m(camera, places, loose) ** 2)
        turn = Rotation.from_matrix(camera.rotation).as_rotvec()
        true = np.concatenate(([camera.focal_px / 1000], turn, camera.translation, [camera.k1]))
        columns = []
        for i, value in enumerate(true):
            step = 1e-6 * max(1.0, abs(float(value))) * np.eye(len(true))[i]
            ahead, back = (_camera(true + side * step, camera.centre).project(places) for side in (1, -1))
            columns.append(((ahead - back) / (2 * step[i]) / spread_px[:, None]).ravel())
        by_parameter = np.array(columns)
        information = by_parameter @ by_parameter.T
        information[7, 7] += 1 / RADIAL_SD**2
        moved = _places_by_parameter(true, camera.centre, camera.project(balls), SPEC.ball_radius)
        spreads = np.einsum("nip,pq,njq->nij", moved, np.linalg.inv(information), moved)
        errors += [float(np.hypot(*random.multivariate_normal((0, 0), spread))) for spread in spreads]
    return 1000 * float(np.median(errors))


def study(count: int, draws: int, hand_px: float = HAND_PX) -> tuple[float, float, float]:
    """Of views by `count` points: median and 95th percentile of errors (mm), the share inside the circle."""
    random, seen, balls = np.random.default_rng(count), list(cameras()), _nine_balls()
    errors, inside = [], []
    for draw in range(draws):
        camera, size = seen[draw % len(seen)]
        chosen = _drawn(random, count)
        places = np.array([point.place for point in chosen])
        true = places.copy()
        for row, point in enumerate(chosen):
            if point.kind == "pocket":
                true[row, :2] += random.normal(0, POCKET_EXACT_M / np.sqrt(2), 2)
        clicks = np.round(camera.project(true) + random.normal(0, hand_px, (count, 2)))
        fitted = fit_view(places, clicks, size, exactness_m(SPEC, places))
        pixels = camera.project(balls)
        off = np.hypot(*(fitted.camera.places(pixels, SPEC.ball_radius) - balls[:, :2]).T)
        errors.append(off)
        inside.append(off <= fitted.uncertainty_m(pixels, SPEC.ball_radius))
    off_mm = 1000 * np.concatenate(errors)
    return float(np.median(off_mm)), float(np.percentile(off_mm, 95)), float(np.mean(inside))


def main(draws: int) -> None:
    """Print a line for each number of points and each hand."""
    for hand_px in (HAND_PX, HAND_PX / 2):
        for count in COUNTS:
            median, most, share = study(count, draws, hand_px)
            bound = bound_mm(count, draws, hand_px)
            sys.stdout.write(
                f"{count} points, a hand of {hand_px:g} px: median {median:.1f} mm "
                f"(bound {bound:.1f}), "
                f"95th percentile {most:.1f} mm, {100 * share:.1f} % inside the stated circle\n"
            )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
