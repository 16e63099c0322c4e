"""Version 11: what was worked out of the chance to clear a rack. The rows are computed anew."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for name in ("clear_before", "clear_choice", "clear_stroke", "clear_ran"):
        op.add_column("shot_figure", sa.Column(name, sa.Float, nullable=False, server_default="-1"))
    for name in ("clear_hard", "clear_clusters", "rack_root"):
        op.add_column("shot_figure", sa.Column(name, sa.Integer, nullable=False, server_default="-1"))
