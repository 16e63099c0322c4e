"""Version 6: the facts of sessions as columns, counts of the list of sessions, one name a column."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

COUNTS = ("racks", "shots", "judged")


def upgrade() -> None:
    op.execute("ALTER TABLE shot_figure RENAME COLUMN side TO said_side")
    op.add_column("shot_figure", sa.Column("judged", sa.Boolean, nullable=False, server_default="0"))
    for name in COUNTS:
        op.add_column("session", sa.Column(name, sa.Integer, nullable=False, server_default="0"))
    of_session = sa.ForeignKey("session.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED")
    op.create_table(
        "session_columns",
        sa.Column("session", sa.String, of_session, primary_key=True),
        sa.Column("data", sa.LargeBinary, nullable=False),
    )
