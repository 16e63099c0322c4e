"""Runs the migrations on an open connection. Loaded only when a library is new or old."""

from __future__ import annotations

from pathlib import Path

from alembic.config import Config
from alembic.runtime.environment import EnvironmentContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection


def migrate(connection: Connection) -> None:
    """Bring the library behind `connection` to the newest version, in the running transaction."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent))
    script = ScriptDirectory.from_config(config)

    def upgrade(revision: object, context: object) -> object:
        return script._upgrade_revs("head", revision)  # type: ignore[arg-type]

    with EnvironmentContext(config, script, fn=upgrade, destination_rev="head") as environment:
        environment.configure(connection=connection, transactional_ddl=True)
        environment.run_migrations()
