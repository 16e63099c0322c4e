"""Pockets as a followed ball reaches them."""

from __future__ import annotations

import math

from ripasso.core.table import POCKETS, TableSpec, pocket_centre
from ripasso.core.table.places import Place

#: A ball last seen this near to a pocket's centre is in it; out to the second it may be (metres).
IN_POCKET_M, NEAR_POCKET_M = 0.13, 0.40


def pocket_near(spec: TableSpec, place: Place) -> tuple[str, float]:
    """The nearest pocket, and how far its centre is."""
    gaps = {pocket: math.dist(pocket_centre(spec, pocket), place) for pocket in POCKETS}
    pocket = min(gaps, key=lambda name: gaps[name])
    return pocket, gaps[pocket]
