"""Lines of a page of figures: what they are made of, and their words."""

from __future__ import annotations

import numpy as np

from ripasso.core.measures.columns import Flags
from ripasso.core.measures.estimates import Mean
from ripasso.core.measures.intervals import rate
from ripasso.ui.statistics.figures import Figure

#: One line of a page: its id, group and words, and the figure of one player's shots.
Line = tuple[str, str, str, Figure]


def rated(places: np.ndarray, among: Flags, made: Flags) -> Figure:
    return Figure(places[among], rate(int((made & among).sum()), int(among.sum())))


def ends(low: float | None, high: float | None, digits: int) -> str:
    if low is None or high is None:
        return ""
    return f" ({low:.{digits}f} to {high:.{digits}f})"


def millimetres(found: Mean) -> str:
    if found.value is None or found.low is None or found.high is None:
        return "nothing"
    value, low, high = (round(1000 * one) for one in (found.value, found.low, found.high))
    return f"{value} mm ({low} to {high})"


def points(found: Mean) -> str:
    if found.value is None or found.low is None or found.high is None:
        return "nothing"
    return f"{100 * found.value:.0f} % ({100 * found.low:.0f} to {100 * found.high:.0f})"
