"""The six pockets: names, places, and their order in every search."""

from __future__ import annotations

import math

from ripasso.core.table.presets import TableSpec

POCKETS = ("head_left", "head_right", "side_left", "side_right", "foot_left", "foot_right")


def pocket_centre(spec: TableSpec, pocket: str) -> tuple[float, float]:
    """The middle of the pocket's mouth, moved out by a third of the mouth: where its hole is drawn.

    A drawing convention (common practice, no source), not the target of a pot.
    """
    end, side = pocket.split("_")
    x = {"head": 0.0, "side": spec.length / 2, "foot": spec.length}[end]
    y = spec.width if side == "left" else 0.0
    outward_y = 1.0 if side == "left" else -1.0
    if end == "side":
        return (x, y + outward_y * spec.side_mouth * 0.36)
    outward_x = 1.0 if end == "foot" else -1.0
    step = spec.corner_mouth * 0.2
    return (x + outward_x * step, y + outward_y * step)


def pocket_centres(spec: TableSpec) -> dict[str, tuple[float, float]]:
    """Pocket name to (x, y) in metres, in search order."""
    return {pocket: pocket_centre(spec, pocket) for pocket in POCKETS}


def pocket_mouth_middle(spec: TableSpec, pocket: str) -> tuple[float, float]:
    """The middle of the mouth line, between the two nose points."""
    (x0, y0), (x1, y1) = nose_points(spec, pocket)
    return ((x0 + x1) / 2, (y0 + y1) / 2)


def cushion_gaps(spec: TableSpec, place: tuple[float, float]) -> dict[str, float]:
    """How far a ball's centre is from the nose line of each cushion, metres."""
    x, y = place
    return {"head": x, "foot": spec.length - x, "right": y, "left": spec.width - y}


def nose_points(spec: TableSpec, pocket: str) -> tuple[tuple[float, float], tuple[float, float]]:
    """The two jaws' nose points of a pocket, metres: mouth/sqrt(2) from a corner, mouth/2 from the middle."""
    end, side = pocket.split("_")
    y = spec.width if side == "left" else 0.0
    inward_y = -1.0 if side == "left" else 1.0
    if end == "side":
        half = spec.side_mouth / 2
        return ((spec.length / 2 - half, y), (spec.length / 2 + half, y))
    x = spec.length if end == "foot" else 0.0
    inward_x = -1.0 if end == "foot" else 1.0
    reach = spec.corner_mouth / math.sqrt(2)
    return ((x + inward_x * reach, y), (x, y + inward_y * reach))
