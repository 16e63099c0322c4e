"""Directions and distances in the plane, for arrays of places (..., 2)."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]


def wrapped(angle: Any) -> Any:
    """The angle in -pi..pi (pi itself for an odd multiple from below)."""
    return -((np.pi - angle) % (2 * np.pi) - np.pi)


def direction(vector: Array) -> Array:
    """The direction of vectors (..., 2), radians counter-clockwise from +x."""
    found: Array = np.arctan2(vector[..., 1], vector[..., 0])
    return found


def unit(angle: Array) -> Array:
    """The unit vectors (..., 2) of directions (...)."""
    return np.stack((np.cos(angle), np.sin(angle)), axis=-1)


def length(vector: Array) -> Array:
    """The lengths of vectors (..., 2)."""
    found: Array = np.hypot(vector[..., 0], vector[..., 1])
    return found


def dot(a: Array, b: Array) -> Array:
    """The scalar products of vectors (..., 2)."""
    found: Array = a[..., 0] * b[..., 0] + a[..., 1] * b[..., 1]
    return found


def half_angle(size: float, distance: Array) -> Array:
    """asin(size / distance), a quarter turn where the distance is not larger than the size."""
    with np.errstate(divide="ignore"):
        return np.arcsin(np.minimum(1.0, size / distance))


def segment_distance(start: Array, end: Array, place: Array) -> Array:
    """The distances of places (..., 2) from segments; a segment without length is its point."""
    leg, way = end - start, place - start
    squared = dot(leg, leg)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.clip(np.where(squared > 0, dot(way, leg) / squared, 0.0), 0.0, 1.0)
    return length(way - share[..., None] * leg)
