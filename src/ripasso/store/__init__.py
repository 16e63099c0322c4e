"""The library (SQLite) and session files: everything that is kept on disk."""

from ripasso.store.attempt_rows import StoredAttempts
from ripasso.store.engine import LibraryError
from ripasso.store.library import Library, SessionHead
from ripasso.store.opening import open_library
from ripasso.store.session_file import SessionFileError, load_session, save_session

__all__ = [
    "Library",
    "LibraryError",
    "SessionFileError",
    "SessionHead",
    "StoredAttempts",
    "load_session",
    "open_library",
    "save_session",
]
