"""`ripasso locate`: from a view file to its camera, and to the places on the table of its pixels."""

from __future__ import annotations

from typing import Any

import numpy as np

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.film.calibration.camera_fit import ViewError, fit_view


def locate_report(view: JsonMapping, default_height: float) -> JsonObject:
    """The output of `locate --json`; `default_height` (metres) is that of a ball's centre on its table.

    Raises `ViewError` with one sentence for a file that is no view, or whose points give no camera.
    """
    size, points, seen = _numbers(view)
    fitted = fit_view(points, seen, size)
    height = view.get("height")
    if height is None:
        height = default_height
    if isinstance(height, bool) or not isinstance(height, int | float):
        raise ViewError("“height” should be a number of metres.")
    pixels = np.array(_pairs(view.get("pixels") or [], 2, "pixels"), dtype=np.float64).reshape(-1, 2)
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


def _numbers(view: JsonMapping) -> tuple[tuple[int, int], list[list[float]], list[list[float]]]:
    """Size of the picture, known points, and where each is in the picture."""
    size = _pairs([view.get("image_size")], 2, "image_size")[0]
    if min(size) < 2:
        raise ViewError("“image_size” should be the width and height of the picture in pixels.")
    points = view.get("points")
    if not isinstance(points, list) or not all(isinstance(point, dict) for point in points):
        raise ViewError("“points” should be a list of known points, each with “table” and “image”.")
    table = _pairs([point.get("table") for point in points], 3, "table")
    image = _pairs([point.get("image") for point in points], 2, "image")
    return (int(size[0]), int(size[1])), table, image


def _pairs(values: Any, length: int, name: str) -> list[list[float]]:
    """Lists of `length` numbers each."""
    if not isinstance(values, list):
        raise ViewError(f"“{name}” should be a list.")
    for value in values:
        good = isinstance(value, list) and len(value) == length
        if not good or not all(isinstance(n, int | float) and not isinstance(n, bool) for n in value):
            raise ViewError(f"“{name}” should hold {length} numbers each time.")
    return [[float(n) for n in value] for value in values]
