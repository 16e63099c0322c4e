"""Where to put a ball on a real table: distances to two cushions, in diamonds as well, and sights beside it.

Distances are from the nose of a cushion to the ball's nearest edge, as a ruler is laid. Sights divide the
long cushions into eight and the short ones into four parts; they are counted from the nearer end.
"""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place

#: Parts that sights divide a long and a short cushion into.
LONG_PARTS, SHORT_PARTS = 8, 4
#: A ball is level with a sight that it is nearer to than this share of a diamond.
LEVEL = 0.12


@dataclass(frozen=True, slots=True)
class Along:
    """Along one axis: the nearer cushion, the gap between its nose and the ball's edge (m), and diamonds of
    the ball's middle from that cushion; `sight` is the number of the sight it is level with (None: none)."""

    cushion: str
    gap: float
    diamonds: float
    sight: int | None


@dataclass(frozen=True, slots=True)
class Setting:
    """Where one ball is put: along the table's length and across it."""

    ball: str
    length: Along
    width: Along


def setting_of(spec: TableSpec, ball: str, place: Place) -> Setting:
    """Where a ball is put."""
    x, y = place
    return Setting(
        ball,
        _along(x, spec.length, LONG_PARTS, spec.ball_radius, ("head", "foot")),
        _along(y, spec.width, SHORT_PARTS, spec.ball_radius, ("right", "left")),
    )


def _along(value: float, size: float, parts: int, radius: float, names: tuple[str, str]) -> Along:
    is_low = value <= size / 2
    from_cushion = value if is_low else size - value
    diamonds = from_cushion / (size / parts)
    nearest = round(diamonds)
    level = nearest if abs(diamonds - nearest) <= LEVEL and nearest > 0 else None
    return Along(names[0] if is_low else names[1], from_cushion - radius, diamonds, level)
