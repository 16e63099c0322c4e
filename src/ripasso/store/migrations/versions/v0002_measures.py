"""Version 2: the measures of shots."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None

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
)


def _parent(table: str) -> sa.ForeignKey:
    return sa.ForeignKey(f"{table}.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED")


def upgrade() -> None:
    op.create_table(
        "shot_measure",
        sa.Column("key", sa.String, _parent("shot"), primary_key=True),
        sa.Column("session", sa.String, _parent("session"), nullable=False, index=True),
        sa.Column("stamp", sa.String, nullable=False),
        *(sa.Column(name, sa.String) for name in TEXTS),
        *(sa.Column(name, sa.Boolean) for name in FLAGS),
        *(sa.Column(name, sa.Float) for name in NUMBERS),
    )
