"""Measures as pure functions over columns of shots: rates with intervals, position, errors."""

from ripasso.core.measures.columns import ShotColumns
from ripasso.core.measures.intervals import Count, Rate, count_per, rate
from ripasso.core.measures.judged import (
    DECISIONS,
    ERROR_KINDS,
    POSITION_FINDINGS,
    JudgedFigures,
    judged_figures,
)

__all__ = [
    "DECISIONS",
    "ERROR_KINDS",
    "POSITION_FINDINGS",
    "Count",
    "JudgedFigures",
    "Rate",
    "ShotColumns",
    "count_per",
    "judged_figures",
    "rate",
]
