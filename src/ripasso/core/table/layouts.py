"""Where balls stand before the break."""

from __future__ import annotations

import math

from ripasso.core.table.places import Place
from ripasso.core.table.presets import TableSpec

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


def _triangle(spec: TableSpec, balls: tuple[str, ...], apex_x: float) -> dict[str, Place]:
    """Balls row by row behind an apex on the long centre line."""
    step = 2 * spec.ball_radius + RACK_GAP_M
    places: dict[str, Place] = {}
    row = used = 0
    while used < len(balls):
        for column, ball in enumerate(balls[used : used + row + 1]):
            y = spec.width / 2 + (column - row / 2) * step
            places[ball] = (apex_x + row * step * math.sqrt(3) / 2, y)
        used += row + 1
        row += 1
    return places


#: Racks of fifteen and of ten from the apex on; eight-ball: the 8 in the middle, the rear corners of two
#: groups (WPA rules, 1.2 and 3.2, from memory).
EIGHT_BALL_RACK = ("1", "9", "2", "10", "8", "3", "11", "7", "14", "4", "5", "13", "15", "6", "12")
TEN_BALL_RACK = ("1", "2", "3", "4", "10", "5", "6", "7", "8", "9")
FIFTEEN = tuple(str(n) for n in range(1, 16))


def snooker_spots(spec: TableSpec) -> dict[str, Place]:
    """The colours on their spots (official rules of snooker, section 1, scaled to the table's size)."""
    along, across = spec.length / 3.569, spec.width / 1.778
    baulk, middle = 0.737 * along, spec.width / 2
    return {
        "yellow": (baulk, middle - 0.292 * across),
        "green": (baulk, middle + 0.292 * across),
        "brown": (baulk, middle),
        "blue": (spec.length / 2, middle),
        "pink": (0.75 * spec.length, middle),
        "black": (spec.length - 0.324 * along, middle),
    }


def starting_layout(game: str | None, spec: TableSpec, reds: int = 15) -> dict[str, Place]:
    """The layout before the break, the cue ball at a usual place; empty for a game that is not known."""
    cue = {"cue": (spec.length * 0.2, spec.width / 2)}
    apex = foot_spot(spec)[0]
    if game == "nine_ball":
        return cue | nine_ball_rack(spec)
    if game == "ten_ball":
        return cue | _triangle(spec, TEN_BALL_RACK, apex)
    if game == "eight_ball":
        return cue | _triangle(spec, EIGHT_BALL_RACK, apex)
    if game in ("straight_pool", "rotation"):
        return cue | _triangle(spec, FIFTEEN, apex)
    if game == "snooker":
        spots = snooker_spots(spec)
        names = tuple(f"red{n}" for n in range(1, reds + 1))
        pack = _triangle(spec, names, spots["pink"][0] + 2 * spec.ball_radius + RACK_GAP_M)
        return {"cue": (spots["brown"][0] - 0.1, spots["brown"][1] - 0.1), **pack, **spots}
    return {}
