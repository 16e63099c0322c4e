"""Version 5: what questions ask of score, spin and what was said. The rows are computed anew."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

FIGURES: tuple[tuple[tuple[str, ...], type, str], ...] = (
    (("began", "run", "pressure", "standing", "opponent", "roles"), sa.String, ""),
    (("break_ball", "break_kind", "judge", "colour_meant"), sa.String, ""),
    (("visit_balls", "won", "late", "exchange", "exchange_of", "insurance", "replanned"), sa.Integer, "-1"),
    (("cue_behind", "one_visit"), sa.Integer, "-1"),
    (("in_hand",), sa.Boolean, "0"),
    (("given_away", "break_power", "to_baulk", "rack_s"), sa.Float, "-1"),
)
MEASURES: tuple[tuple[tuple[str, ...], type], ...] = (
    (("spin_cut", "spin_rail", "route"), sa.String),
    (("ball_to_cushion",), sa.Float),
)


def upgrade() -> None:
    for names, kind, value in FIGURES:
        for name in names:
            op.add_column("shot_figure", sa.Column(name, kind, nullable=False, server_default=value))
    for measured, of_kind in MEASURES:
        for name in measured:
            op.add_column("shot_measure", sa.Column(name, of_kind))
