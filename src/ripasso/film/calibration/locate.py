"""`ripasso locate`: from a view file to its camera, and to the places on the table of its pixels."""

from __future__ import annotations

import numpy as np

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.table.known_points import exactness_m
from ripasso.film.calibration.camera import MOST_PX
from ripasso.film.calibration.camera_fit import fit_view
from ripasso.film.calibration.views import MOST_METRES, is_number, known_points, number_lists, view_table
from ripasso.film.errors import ViewError


def locate_report(view: JsonMapping) -> JsonObject:
    """The output of `locate --json`; without a height the places are those of balls' centres.

    Raises `ViewError` with one sentence for a file that is no view, or whose points give no camera.
    """
    size = _image_size(view)
    points, clicked = known_points(view)
    fitted = fit_view(points, clicked, size, exactness_m(view_table(view), points))
    height = view.get("height")
    if height is None:
        height = view_table(view).ball_radius
    if not is_number(height, MOST_METRES):
        raise ViewError("“height” should be a number of metres.")
    asked = number_lists(view.get("pixels") or [], 2, "pixels", MOST_PX)
    pixels = np.array(asked, dtype=np.float64).reshape(-1, 2)
    found = fitted.camera.places(pixels, float(height))
    radii = 1000 * fitted.uncertainty_m(pixels, float(height))
    places = [
        {"table": [float(x), float(y)], "uncertainty_mm": float(radius)}
        if np.isfinite([x, y]).all()
        else None
        for (x, y), radius in zip(found, radii, strict=True)
    ]
    return {
        "format": "ripasso-view",
        "version": 1,
        "camera": fitted.camera.as_data(),
        "residual_px": fitted.residual_px,
        "places": places,
    }


def _image_size(view: JsonMapping) -> tuple[int, int]:
    """Width and height of the picture, px."""
    width, height = number_lists([view.get("image_size")], 2, "image_size", MOST_PX)[0]
    if min(width, height) < 2:
        raise ViewError("“image_size” should be the width and height of the picture in pixels.")
    return int(width), int(height)
