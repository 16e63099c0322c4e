"""The library's versions, one step a file; `migrate` brings a library up to date."""

from ripasso.store.migrations.migrate import migrate

__all__ = ["migrate"]
