"""Version 8: what came of each rack, and the gaps before a shot. The rows are computed anew."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("session", sa.Column("course", sa.Text, nullable=False, server_default="[]"))
    op.add_column("shot_figure", sa.Column("stretch", sa.Integer, nullable=False, server_default="0"))
