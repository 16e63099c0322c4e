"""Geometry of shots on the table: pots, what is seen of a ball, zones, errors of position.

Arrays of places have the coordinates in their last axis, (n, 2), metres in the table frame; angles are
radians, counter-clockwise from +x; NaN stands for what is not defined.
"""

from ripasso.core.geometry.pots import OBSTACLES, Pots, chances, pots
from ripasso.core.geometry.sight import visible_fractions

__all__ = ["OBSTACLES", "Pots", "chances", "pots", "visible_fractions"]
