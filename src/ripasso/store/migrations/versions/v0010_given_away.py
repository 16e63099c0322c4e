"""Version 10: what choices and strokes gave away, as the program works it out. The rows are computed anew."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for name in ("given_choice", "given_stroke"):
        op.add_column("shot_figure", sa.Column(name, sa.Float, nullable=False, server_default="-1"))
