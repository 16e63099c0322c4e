"""Version 9: the kept layouts; at which jaw a pot missed, how far the cue ball ran at
least; another name for attempts nobody counted.

The rows are computed anew.
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "layout",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("title", sa.String, nullable=False),
        sa.Column("game", sa.String),
        sa.Column("record", sa.Text, nullable=False),
    )
    op.add_column("shot_figure", sa.Column("missed_by", sa.String, nullable=False, server_default=""))
    op.add_column("shot_measure", sa.Column("cue_travelled_least", sa.Float))
    op.execute(
        """UPDATE attempt_set SET record = replace(record, '"uncounted_before":', '"before_count":')"""
    )
