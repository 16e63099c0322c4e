"""What commands read and how they refuse it: session files, JSON objects, libraries; one sentence each."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from ripasso.core.json_data import JsonObject

#: So long a command waits for another one that writes the same library.
WRITER_WAIT_S = 30.0
#: No view and no truth of a recording is larger.
MOST_BYTES = 64 * 1024 * 1024


class Unusable(Exception):
    """Input that cannot be read: one sentence on standard error, exit code 2."""


def load_file(path: Path) -> Any:
    """The session in a file."""
    from ripasso.store.session_file import SessionFileError, load_session

    try:
        return load_session(path)
    except SessionFileError as error:
        raise Unusable(str(error)) from error


def load_object(path: Path) -> JsonObject:
    """A JSON object from a file."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise Unusable(f"{path.name} is too large.")
        value = json.loads(path.read_bytes())
    except OSError as error:
        raise Unusable(f"{path.name} cannot be read: {error.strerror or 'unknown reason'}.") from error
    except (ValueError, RecursionError) as error:
        raise Unusable(f"{path.name} is not a JSON file.") from error
    if not isinstance(value, dict):
        raise Unusable(f"{path.name} does not hold a JSON object.")
    return value


def open_library_at(path: Path, *, create: bool) -> Any:
    """The library in a file, for one command."""
    from ripasso.store.errors import LibraryError
    from ripasso.store.library import open_library

    try:
        return open_library(path, create=create, wait_s=WRITER_WAIT_S)
    except LibraryError as error:
        raise Unusable(str(error)) from error


def is_session_file(path: Path) -> bool:
    """The name is that of a session file, not of a library."""
    return path.name.endswith(".json")
