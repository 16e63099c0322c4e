"""What Alembic runs to migrate: on the connection that it was handed, in the transaction that is running."""

from __future__ import annotations

from alembic import context

context.configure(connection=context.config.attributes["connection"], transactional_ddl=True)
context.run_migrations()
