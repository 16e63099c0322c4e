"""The measures of a shot as one row of plain values, as they are stored and as figures read them."""

from __future__ import annotations

from ripasso.core.figures.schema import MEASURE_FIELDS
from ripasso.core.json_data import JsonObject
from ripasso.core.measures.shots import ShotMeasures

#: Step when a measure's meaning changes: rows of another version are computed anew.
MEASURES_VERSION = 3


def measure_row(measures: ShotMeasures) -> JsonObject:
    """The values by the names of `MEASURE_FIELDS`; None where a measure is not defined."""
    row: JsonObject = dict.fromkeys(MEASURE_FIELDS)
    for part in (measures, measures.geometry, measures.position, measures.side_spin):
        if part is not None:
            row |= {name: getattr(part, name) for name in MEASURE_FIELDS if hasattr(part, name)}
    if measures.best is not None:
        row |= {
            "best_ball": measures.best.ball,
            "best_pocket": measures.best.pocket,
            "best_chance": measures.best.chance,
        }
    return row
