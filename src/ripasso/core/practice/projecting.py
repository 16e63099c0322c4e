"""From the table to a projector's picture: the four corners as a person dragged them onto the real table."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ripasso.core.table.places import Place

CORNERS = 4
#: Twice the area (square pixels) that three of them span at least.
SMALLEST_AREA = 1.0

Array = npt.NDArray[np.float64]


def homography(table: Sequence[Place], picture: Sequence[Place]) -> Array:
    """The 3 x 3 matrix that takes four places of the table (m) to four points of a picture (pixels).

    The direct linear transform; raises `ValueError` where three of the points lie on a line.
    Source: Hartley and Zisserman, Multiple View Geometry, 2nd edition, section 4.1.
    """
    rows = []
    for (x, y), (u, v) in zip(table, picture, strict=True):
        rows.append([x, y, 1, 0, 0, 0, -u * x, -u * y])
        rows.append([0, 0, 0, x, y, 1, -v * x, -v * y])
    matrix, wanted = np.array(rows, dtype=np.float64), np.asarray(picture, dtype=np.float64).ravel()
    corners = [np.array([*point, 1.0]) for point in picture]
    areas = [np.linalg.det([p for j, p in enumerate(corners) if j != i]) for i in range(len(corners))]
    if len(corners) != CORNERS or min(map(abs, areas)) < SMALLEST_AREA:
        raise ValueError("Three of the four corners lie on a line.")
    found: Array = np.append(np.linalg.solve(matrix, wanted), 1.0).reshape(3, 3)
    return found


def projected(matrix: Array, places: Sequence[Place]) -> Array:
    """Places (k, 2) of the table in the picture."""
    flat = np.asarray(places, dtype=np.float64).reshape(-1, 2)
    points = np.column_stack((flat, np.ones(len(flat)))) @ matrix.T
    found: Array = points[:, :2] / points[:, 2:]
    return found
