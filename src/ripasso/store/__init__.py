"""The library (SQLite) and session files: everything that is kept on disk."""
