"""The mouths of the six pockets as geometry needs them: nose points by side, middle, and the way out."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ripasso.core.geometry.plane import Array
from ripasso.core.table import POCKETS, TableSpec
from ripasso.core.table.pockets import nose_points


@dataclass(frozen=True)
class Mouths:
    """Arrays over the pockets in their order, (6, 2) each; left and right as seen from the table."""

    left: Array
    right: Array
    middle: Array
    axis: Array


@lru_cache(maxsize=32)
def mouths_of(spec: TableSpec) -> Mouths:
    """The mouths of a table. The axis is the unit vector square to the mouth line, out of the table."""
    noses = np.array([nose_points(spec, pocket) for pocket in POCKETS], dtype=np.float64)
    middle = noses.mean(axis=1)
    along = noses[:, 1] - noses[:, 0]
    along = along / np.hypot(along[:, 0], along[:, 1])[:, None]
    axis = np.stack((-along[:, 1], along[:, 0]), axis=-1)
    outward = middle - np.array([spec.length / 2, spec.width / 2])
    axis = axis * np.where((axis * outward).sum(axis=1) < 0, -1.0, 1.0)[:, None]
    across = noses[:, 0] - middle
    first_is_left = axis[:, 0] * across[:, 1] - axis[:, 1] * across[:, 0] > 0
    left = np.where(first_is_left[:, None], noses[:, 0], noses[:, 1])
    right = np.where(first_is_left[:, None], noses[:, 1], noses[:, 0])
    return Mouths(left, right, middle, axis)
