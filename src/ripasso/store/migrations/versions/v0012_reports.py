"""Version 12: reports."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "report",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("title", sa.String, nullable=False),
        sa.Column("record", sa.Text, nullable=False),
    )
