"""What a choice and a stroke gave away, from what options are worth; values are chances from 0 to 1."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Worth:
    """The value of an option with its 95 % interval."""

    value: float
    low: float
    high: float


def is_as_good(best: Worth, chosen: Worth) -> bool:
    """The intervals of the two meet: nobody can tell them apart."""
    return chosen.high >= best.low


def by_choice(best: Worth, chosen: Worth) -> float:
    """The chance that went by the choice: 0 where the chosen option is as good."""
    return 0.0 if is_as_good(best, chosen) else best.value - chosen.value


def by_stroke(chosen: Worth, reached: float) -> float:
    """The chance that went by the stroke; negative where more came of it than it promised."""
    return chosen.value - reached
