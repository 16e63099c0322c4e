"""The measures of a shot as one row of plain values, as they are stored and as statistics read them."""

from __future__ import annotations

from typing import Any

from ripasso.core.measures.shots import ShotMeasures

#: Step when a measure's meaning changes: rows of another version are computed anew.
MEASURES_VERSION = 2
TEXTS = (
    "ball",
    "pocket",
    "obstacle",
    "best_ball",
    "best_pocket",
    "next_ball",
    "next_pocket",
    "side",
    "crossing",
    "spin_cut",
    "spin_rail",
    "route",
)
FLAGS = ("snookered", "zone_hit")
NUMBERS = (
    "cut_deg",
    "fullness",
    "cue_travel",
    "object_travel",
    "window_full_deg",
    "window_deg",
    "tolerance_left_mrad",
    "tolerance_right_mrad",
    "chance",
    "visible",
    "best_chance",
    "leave",
    "angle_left_deg",
    "angle_miss_deg",
    "cue_travelled",
    "zone_distance",
    "distance",
    "along",
    "across",
    "chance_rest",
    "chance_aim",
    "position_loss",
    "side_deg",
    "crossing_deg",
    "ball_to_cushion",
)
MEASURE_FIELDS = (*TEXTS, *FLAGS, *NUMBERS)


def measure_row(measures: ShotMeasures) -> dict[str, Any]:
    """The values by the names of `MEASURE_FIELDS`; None where a measure is not defined."""
    row: dict[str, Any] = dict.fromkeys(MEASURE_FIELDS)
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
