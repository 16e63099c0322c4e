"""The camera of a recorded view, as it sees frames of the film at any size."""

from __future__ import annotations

from dataclasses import replace

from ripasso.core.json_data import JsonMapping
from ripasso.film.calibration.camera import Camera


def camera_of(data: JsonMapping | None) -> Camera | None:
    """The camera that a session file states; None where it has none that can be read."""
    if data is None:
        return None
    try:
        return Camera.from_data(data)
    except (KeyError, TypeError, ValueError, IndexError):
        return None


def scaled(camera: Camera, factor: float) -> Camera:
    """The camera for pictures of another size; the middle of the first pixel stays (0, 0)."""
    u, v = camera.centre
    centre = ((u + 0.5) * factor - 0.5, (v + 0.5) * factor - 0.5)
    return replace(camera, focal_px=camera.focal_px * factor, centre=centre)
