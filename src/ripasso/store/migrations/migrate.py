"""Runs the migrations. Loaded only when a library is new or old."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.util.exc import CommandError
from sqlalchemy import Connection, text
from sqlalchemy.exc import SQLAlchemyError

from ripasso.store.errors import DamagedLibrary, failure
from ripasso.store.file.engine import engine_for, writing
from ripasso.store.file.header import APPLICATION_ID, LIBRARY_VERSION


def bring_up_to_date(path: Path) -> None:
    """Make a library's tables those of this version, all or nothing; raises `LibraryError`."""
    engine = engine_for(path, read_only=False)
    try:
        with writing(engine) as connection:
            migrate(connection)
            connection.execute(text(f"PRAGMA application_id = {APPLICATION_ID}"))
            connection.execute(text(f"PRAGMA user_version = {LIBRARY_VERSION}"))
    except CommandError as error:
        raise DamagedLibrary(f"{path.name} cannot be brought up to date: its version is unknown.") from error
    except SQLAlchemyError as error:
        raise failure(error, path) from error
    finally:
        engine.dispose()


def migrate(connection: Connection) -> None:
    """Bring the tables behind `connection` to the newest version, in the running transaction."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent))
    config.attributes["connection"] = connection
    command.upgrade(config, "head")
