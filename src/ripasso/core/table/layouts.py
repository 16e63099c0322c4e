"""Where balls stand before the break."""

from __future__ import annotations

import math

from ripasso.core.table.presets import TableSpec

Place = tuple[float, float]

# Frozen balls are drawn and rolled a hair apart: exact contact would make the break a tie.
RACK_GAP_M = 0.00005


def foot_spot(spec: TableSpec) -> Place:
    """The foot spot, three quarters down the long centre line (WPA specification, from memory)."""
    return (0.75 * spec.length, spec.width / 2)


def nine_ball_rack(spec: TableSpec) -> dict[str, Place]:
    """The diamond of nine: the 1 on the foot spot, the 9 in the middle (WPA rules of nine-ball, 2.2)."""
    rows = (("1",), ("2", "3"), ("4", "9", "5"), ("6", "7"), ("8",))
    step = 2 * spec.ball_radius + RACK_GAP_M
    x0, y0 = foot_spot(spec)
    places: dict[str, Place] = {}
    for row, balls in enumerate(rows):
        x = x0 + row * step * math.sqrt(3) / 2
        for column, ball in enumerate(balls):
            places[ball] = (x, y0 + (column - (len(balls) - 1) / 2) * step)
    return places


def starting_layout(game: str | None, spec: TableSpec) -> dict[str, Place]:
    """The layout before the break: only nine-ball's rack is known so far, other games start empty."""
    if game != "nine_ball":
        return {}
    return {"cue": (spec.length * 0.2, spec.width / 2), **nine_ball_rack(spec)}
