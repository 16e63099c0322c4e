"""Version 4: what hangs on the shots about a shot. The rows are computed anew."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

TEXTS = ("phase", "visit_end")
NUMBERS = ("left_in_rack", "since_rest_s", "to_rest_s")
FLAGS = (
    "down",
    "cue_potted",
    "has_next",
    "goes_to_other",
    "answered",
    "after_long_visit",
    "after_fault",
    "own_break",
)
COUNTS = (
    "potted",
    "legal_balls",
    "outer",
    "second_row",
    "head_in_side",
    "central",
    "cushions",
    "visit_score",
)


def upgrade() -> None:
    for names, kind, value in (
        (TEXTS, sa.String, ""),
        (NUMBERS, sa.Float, "-1"),
        (FLAGS, sa.Boolean, "0"),
        (COUNTS, sa.Integer, "-1"),
    ):
        for name in names:
            column = sa.Column(name, kind, nullable=False, server_default=value)
            op.add_column("shot_figure", column)
