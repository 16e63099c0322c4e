"""Version 8: what came of each rack, gaps before a shot, further words. The rows are computed anew."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

FIGURES: tuple[tuple[tuple[str, ...], type, str], ...] = (
    (("aims", "system", "side_amount", "purposes", "off", "if_missed", "sheet"), sa.String, ""),
    (("taken", "fouls", "predicted"), sa.String, ""),
    (("stretch",), sa.Integer, "0"),
    (("rattled", "feathers"), sa.Integer, "-1"),
    (("pace_percent", "raised"), sa.Float, "-1"),
)


def upgrade() -> None:
    op.add_column("session", sa.Column("course", sa.Text, nullable=False, server_default="[]"))
    for names, kind, value in FIGURES:
        for name in names:
            op.add_column("shot_figure", sa.Column(name, kind, nullable=False, server_default=value))
