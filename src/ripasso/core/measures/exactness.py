"""How exact measured figures are when the balls were placed on a film: half-widths of 95 % intervals.

A ball's place is known within a circle that holds it with 95 %. Along one direction that is less: of a
normal error in the plane 95 % lie within 2.448 standard deviations, of its part along a line within 1.960
(Rayleigh and normal distribution).
"""

from __future__ import annotations

import math

ALONG_LINE = 1.960 / 2.448


def length_exactness(place_m: float, ends: int) -> float:
    """Of a distance (metres) between places of which `ends` (1 or 2) are known within `place_m`."""
    return ALONG_LINE * place_m * math.sqrt(ends)


def cut_exactness_deg(place_m: float, radius: float, cue_travel: float, object_travel: float) -> float:
    """Of a cut angle (degrees), from the balls' radius and their ways to ghost ball and pocket (metres).

    A cue ball aside turns the line of aim. An object ball aside turns its own line, and the line of aim the
    other way, as the ghost ball goes with it. To first order, for thin cuts too much; at most 90.
    """
    off = ALONG_LINE * place_m
    near, far = max(cue_travel, 1e-6), max(object_travel, 1e-6)
    turn = off * math.hypot(1 / near, 1 / far + (1 + 2 * radius / far) / near)
    return min(90.0, math.degrees(turn))


def rounded_to(value: float, exact: float, digits: int) -> tuple[float, float, int]:
    """A value and its half-width without digits that say nothing, and how many decimals they have.

    The half-width keeps its first digit, two where that is a 1; `digits` is the most that is written.
    """
    if exact <= 0:
        return value, exact, digits
    place = -math.floor(math.log10(exact))
    # Of a half-width that begins with 1 a second digit says as much as the first of others.
    place = min(digits, place + 1 if exact * 10.0**place < 2 else place)
    return round(value, place), max(round(exact, place), 10.0**-place), max(0, place)
