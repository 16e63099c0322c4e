"""Version 3: what a search asks for, beside what a shot counts as. The rows are computed anew."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

TEXTS = (
    "ball",
    "pocket",
    "contact",
    "luck",
    "stroke",
    "stroke_pace",
    "methods",
    "delivery",
    "causes",
    "events",
    "tags",
)


def upgrade() -> None:
    for name in TEXTS:
        op.add_column("shot_figure", sa.Column(name, sa.String, nullable=False, server_default=""))
    op.add_column("shot_figure", sa.Column("root", sa.Integer, nullable=False, server_default="-1"))
    op.add_column("shot_figure", sa.Column("words", sa.String, nullable=False, server_default=""))
