"""A view looked for, checked and mended in one picture of a film, as when a person looks at it.

The sides of the cloth are where the view is held against the picture: they lie on it or they do not,
whoever set the view.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from ripasso.core.table import TableSpec
from ripasso.film.calibration.camera import Array, Camera
from ripasso.film.calibration.views import scaled
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.errors import NoTable
from ripasso.film.reading.detection.lens import bent_view, outline_residual
from ripasso.film.reading.detection.picture import Bytes, share_of, small
from ripasso.film.reading.detection.table import CUSHION_M, cloth_outline, find_table, with_lens

#: How exactly a person drags a point, and how little the rest of a view holds it back, pixels.
DRAG_SD_PX, REST_SD_PX = 1.0, 40.0
#: The cloth's sides take over from a drag when they are this good, and this near to it, pixels.
GOOD_PX, NEAR_DRAG_PX = 2.0, 6.0


@dataclass(frozen=True)
class SeenView:
    """A camera, and how far the cloth in the picture is off its sides (pixels; None where not to be told)."""

    camera: Camera
    off_px: float | None


def view_found(index: FilmIndex, number: int, spec: TableSpec) -> SeenView:
    """The view that a picture shows by itself. Raises `NoTable` with what can be done, or `FilmError`."""
    picture, share = _picture(index, number)
    found = find_table(picture, spec)
    return SeenView(scaled(found.camera, 1 / share), found.residual_px / share)


def view_checked(index: FilmIndex, number: int, camera: Camera, spec: TableSpec) -> SeenView:
    """A view with how far the cloth in a picture is off its sides; raises `FilmError`.

    A view without a lens, as few clicks leave it, has that which the cloth shows.
    """
    picture, share = _picture(index, number)
    if not (camera.k1 or camera.k2):
        seen = with_lens(picture, scaled(camera, share), spec)
        camera = scaled(seen, 1 / share) if seen.k1 or seen.k2 else camera
    return SeenView(camera, _off_px(picture, camera, spec, share))


def view_mended(
    index: FilmIndex,
    number: int,
    camera: Camera,
    dragged: tuple[Sequence[float], Sequence[float]],
    spec: TableSpec,
) -> SeenView:
    """A view after one of its points (x, y, z, metres) was dragged to a pixel; raises `FilmError`.

    The picture says the rest: where the sides of its cloth agree with the drag the view lies on them.
    """
    picture, share = _picture(index, number)
    moved = _dragged(camera, *dragged, spec)
    outline = _outline(picture)
    if outline is not None:
        size = (picture.shape[1], picture.shape[0])
        bent = bent_view(outline, [scaled(moved, share)], spec, CUSHION_M, size)
        if bent is not None and bent.residual_px < GOOD_PX:
            on_sides = scaled(bent.camera, 1 / share)
            apart = np.linalg.norm(on_sides.project([dragged[0]])[0] - np.asarray(dragged[1]))
            if apart < NEAR_DRAG_PX / share:
                return SeenView(on_sides, bent.residual_px / share)
    return SeenView(moved, _off_px(picture, moved, spec, share))


def _picture(index: FilmIndex, number: int) -> tuple[Bytes, float]:
    """A frame as reading looks at it, and its share of the film's size."""
    share = share_of((index.width, index.height))
    reader = FilmReader(index)
    try:
        return small(reader.frame(number), share), share
    finally:
        reader.close()


def _outline(picture: Bytes) -> Array | None:
    try:
        return cloth_outline(picture)
    except NoTable:
        return None


def _off_px(picture: Bytes, camera: Camera, spec: TableSpec, share: float) -> float | None:
    outline = _outline(picture)
    if outline is None:
        return None
    size = (picture.shape[1], picture.shape[0])
    off = outline_residual(scaled(camera, share), outline, spec, CUSHION_M, size) / share
    return off if np.isfinite(off) else None


def _dragged(camera: Camera, place: Sequence[float], pixel: Sequence[float], spec: TableSpec) -> Camera:
    """The camera, turned and moved as little as brings a place to a pixel."""
    corners = [(x, y, 0.0) for x in (0.0, spec.length) for y in (0.0, spec.width)]
    before = camera.project(corners)
    start = np.concatenate((Rotation.from_matrix(camera.rotation).as_rotvec(), camera.translation))

    def moved(parameters: Array) -> Camera:
        rotation = Rotation.from_rotvec(parameters[:3]).as_matrix()
        return Camera(camera.focal_px, camera.centre, rotation, parameters[3:], camera.k1, camera.k2)

    def off(parameters: Array) -> Array:
        now = moved(parameters)
        drag = (now.project([place])[0] - np.asarray(pixel)) / DRAG_SD_PX
        rest = ((now.project(corners) - before) / REST_SD_PX).ravel()
        return np.asarray(np.nan_to_num(np.concatenate((drag, rest)), nan=1e3))

    return moved(np.asarray(least_squares(off, start, x_scale="jac", max_nfev=60).x))
