"""Version 7: what is being typed and not kept yet."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    of_session = sa.ForeignKey("session.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED")
    op.create_table(
        "draft",
        sa.Column("place", sa.String, primary_key=True),
        sa.Column("session", sa.String, of_session, nullable=False),
        sa.Column("text", sa.Text, nullable=False),
    )
