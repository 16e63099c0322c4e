"""Table sizes, pockets and layouts of balls, in metres in the table frame.

Origin at a corner of the playing surface (nose line to nose line), x along the length from the
head end (0) to the foot end (length), y across (0..width) growing to the left of a player who stands at
the head end and looks to the foot end.
"""

from ripasso.core.table.layouts import foot_spot, nine_ball_rack, snooker_spots, starting_layout
from ripasso.core.table.pockets import (
    POCKETS,
    cushion_gaps,
    pocket_centre,
    pocket_centres,
    pocket_mouth_middle,
)
from ripasso.core.table.presets import PRESETS, TableSpec, table_spec, wrong_sizes

__all__ = [
    "POCKETS",
    "PRESETS",
    "TableSpec",
    "cushion_gaps",
    "foot_spot",
    "nine_ball_rack",
    "pocket_centre",
    "pocket_centres",
    "pocket_mouth_middle",
    "snooker_spots",
    "starting_layout",
    "table_spec",
    "wrong_sizes",
]
