"""Version 13: what a second reviewer said of a decision. The rows are computed anew."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("shot_figure", sa.Column("second_verdict", sa.String, nullable=False, server_default=""))
