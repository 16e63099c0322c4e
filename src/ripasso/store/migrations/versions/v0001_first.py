"""Version 1: sessions, racks, shots, attempt sets, people, and the derived figures of shots."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def _parent(table: str) -> sa.ForeignKey:
    return sa.ForeignKey(f"{table}.key", ondelete="CASCADE", deferrable=True, initially="DEFERRED")


def upgrade() -> None:
    op.create_table(
        "session",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("title", sa.String, nullable=False),
        sa.Column("date", sa.String),
        sa.Column("game", sa.String),
        sa.Column("kind", sa.String),
        sa.Column("record", sa.Text, nullable=False),
    )
    op.create_table(
        "rack",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("session", sa.String, _parent("session"), nullable=False, index=True),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("record", sa.Text, nullable=False),
    )
    op.create_table(
        "shot",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("rack", sa.String, _parent("rack"), nullable=False, index=True),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("player", sa.String),
        sa.Column("intent", sa.String),
        sa.Column("recording", sa.String),
        sa.Column("t_strike", sa.Float),
        sa.Column("record", sa.Text, nullable=False),
    )
    op.create_table(
        "attempt_set",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("session", sa.String, _parent("session"), nullable=False, index=True),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("title", sa.String),
        sa.Column("record", sa.Text, nullable=False),
    )
    op.create_table(
        "person",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
    )
    op.create_table(
        "session_person",
        sa.Column("session", sa.String, _parent("session"), primary_key=True),
        sa.Column("person", sa.String, sa.ForeignKey("person.key"), primary_key=True),
        sa.Column("position", sa.Integer, nullable=False),
    )
    texts = ("intent", "position", "pace", "side", "angle", "verdict", "errors")
    flags = ("tried", "made", "failed", "fouled", "fluke")
    op.create_table(
        "shot_figure",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("session", sa.String, _parent("session"), nullable=False),
        sa.Column("rack", sa.Integer, nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("person", sa.String, nullable=False),
        sa.Column("visit", sa.Integer, nullable=False),
        *(sa.Column(name, sa.String, nullable=False) for name in texts),
        *(sa.Column(name, sa.Boolean, nullable=False) for name in flags),
        sa.Column("place", sa.Integer, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
    )
    op.create_index("shot_figure_session_place", "shot_figure", ["session", "place"])
    op.create_index("shot_figure_person", "shot_figure", ["person"])
