"""Lengths in the unit that is chosen: millimetres, inches, ball widths, diamonds."""

from __future__ import annotations

from ripasso.core.measures.exactness import rounded_to
from ripasso.core.table import TableSpec
from ripasso.core.table.presets import INCH

UNITS = ("mm", "inches", "ball_widths", "diamonds")


def length_in(metres: float, unit: str, spec: TableSpec) -> float:
    """A length in a unit; a diamond is an eighth of the table's length."""
    size = {
        "mm": 1e-3,
        "inches": INCH,
        "ball_widths": 2 * spec.ball_radius,
        "diamonds": spec.diamond,
    }
    return metres / size[unit]


#: How many decimals of a unit deserve to be written, and its word.
_WRITTEN = {"mm": (0, "mm"), "inches": (1, "in"), "ball_widths": (1, "balls"), "diamonds": (2, "diamonds")}


def length_words(
    metres: float, unit: str, spec: TableSpec, *, signed: bool = False, exact_m: float | None = None
) -> str:
    """A length with its unit, as exact as it deserves: 1 mm, 0.1 inches or balls, 0.01 diamonds.

    With `exact_m`, the half-width of its interval, that is written behind it and no digit below it.
    """
    value = length_in(metres, unit, spec)
    digits, word = _WRITTEN[unit]
    behind = ""
    if exact_m is not None:
        value, exact, digits = rounded_to(value, length_in(exact_m, unit, spec), digits)
        behind = f" ± {exact:.{digits}f}"
    shown = f"{value:+.{digits}f}" if signed else f"{value:.{digits}f}"
    return f"{shown.replace('-', '−')}{behind} {word}"
