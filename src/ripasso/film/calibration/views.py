"""Views as files and sessions state them: known points, or the camera; checked once, here."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from ripasso.core.json_data import JsonMapping
from ripasso.core.table import TableSpec, table_spec, wrong_sizes
from ripasso.film.calibration.camera import MOST_PX, Camera
from ripasso.film.errors import ViewError

#: Known points or pixels of one view, and metres from the table, at most.
MOST_PLACES, MOST_METRES = 100_000, 1e3


def camera_of(data: object) -> Camera | None:
    """The camera that a session file states; None where it has none that can be read."""
    if not isinstance(data, dict):
        return None
    try:
        return Camera.from_data(data)
    except (KeyError, TypeError, ValueError, IndexError, OverflowError, AttributeError):
        return None


def stated_camera(view: JsonMapping) -> Camera | None:
    """The camera of a view file, None where it states points only; raises `ViewError`."""
    stated = view.get("camera")
    found = camera_of(stated)
    if stated is not None and found is None:
        raise ViewError("“camera” should be as `locate` prints it: focal_px, centre, R, t.")
    return found


def known_points(view: JsonMapping) -> tuple[list[list[float]], list[list[float]]]:
    """Places (n, 3) in metres and pixels (n, 2) of the known points; raises `ViewError`."""
    points = view.get("points")
    if not isinstance(points, list) or not all(isinstance(point, dict) for point in points):
        raise ViewError("“points” should be a list of known points, each with “table” and “image”.")
    table = number_lists([point.get("table") for point in points], 3, "table", MOST_METRES)
    return table, number_lists([point.get("image") for point in points], 2, "image", MOST_PX)


def view_table(view: JsonMapping) -> TableSpec:
    """The table of a view; raises `ViewError`."""
    table = view.get("table")
    if table is not None and not isinstance(table, dict):
        raise ViewError("“table” should be an object with a preset or sizes.")
    for name, text in wrong_sizes(table or {}):
        raise ViewError(f"“{name}” of the table {text}.")
    return table_spec(table)


def number_lists(values: object, length: int, name: str, most: float) -> list[list[float]]:
    """Lists of `length` numbers each, none beyond `most`; raises `ViewError`."""
    if not isinstance(values, list) or len(values) > MOST_PLACES:
        raise ViewError(f"“{name}” should be a list of {MOST_PLACES} at most.")
    for value in values:
        good = isinstance(value, list) and len(value) == length
        if not good or not all(is_number(one, most) for one in value):
            raise ViewError(f"“{name}” should hold {length} numbers each time, none beyond {most:g}.")
    return [[float(n) for n in value] for value in values]


def is_number(value: Any, most: float) -> bool:
    """A finite number that is not beyond `most`."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return False
    return math.isfinite(value) and abs(value) <= most if isinstance(value, float) else abs(value) <= most


def scaled(camera: Camera, factor: float) -> Camera:
    """The camera for pictures of another size; the middle of the first pixel stays (0, 0)."""
    u, v = camera.centre
    centre = ((u + 0.5) * factor - 0.5, (v + 0.5) * factor - 0.5)
    return replace(camera, focal_px=camera.focal_px * factor, centre=centre)
