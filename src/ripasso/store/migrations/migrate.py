"""Runs the migrations on an open connection. Loaded only when a library is new or old."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection


def migrate(connection: Connection) -> None:
    """Bring the library behind `connection` to the newest version, in the running transaction."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent))
    config.attributes["connection"] = connection
    command.upgrade(config, "head")
