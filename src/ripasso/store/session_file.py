"""Session files `.ripasso.json`: in and out without loss."""

from __future__ import annotations

import contextlib
import json
import os
import tempfile
from pathlib import Path

from ripasso.review.record.model import Session, serialize
from ripasso.review.record.parsing import InvalidSession, Problem, UnreadableSession, read_session

SUFFIX = ".ripasso.json"
LARGEST_BYTES = 128 * 1024 * 1024


class SessionFileError(RuntimeError):
    """The file cannot be used; the message is one sentence. No `problems`: nothing could be read."""

    def __init__(self, sentence: str, problems: tuple[Problem, ...] = ()) -> None:
        super().__init__(sentence)
        self.problems = problems


def load_session(path: Path) -> Session:
    """The session in a file; raises `SessionFileError`."""
    try:
        if path.stat().st_size > LARGEST_BYTES:
            raise SessionFileError(f"{path.name} is too large for a session file.")
        return read_session(path.read_bytes())
    except OSError as error:
        raise SessionFileError(f"{path.name} cannot be read: {error.strerror or error}.") from error
    except UnreadableSession as error:
        raise SessionFileError(f"{path.name} cannot be read: {_lower(str(error))}") from error
    except InvalidSession as error:
        raise SessionFileError(f"{path.name} has a wrong value. {error}.", error.problems) from error


def save_session(session: Session, path: Path) -> None:
    """Write a session file; the old one stays whole until the new one is. Raises `SessionFileError`."""
    write_whole(json.dumps(serialize(session), ensure_ascii=False, indent=1) + "\n", path)


def write_whole(text: str, path: Path) -> None:
    """Write a file; the old one stays whole until the new one is. Raises `SessionFileError`."""
    written: str | None = None
    try:
        with tempfile.NamedTemporaryFile(
            "w", encoding="utf-8", dir=path.parent, prefix=".", suffix=".part", delete=False
        ) as file:
            written = file.name
            file.write(text)
            file.flush()
            os.fsync(file.fileno())
        Path(written).replace(path)
    except OSError as error:
        if written is not None:
            with contextlib.suppress(OSError):
                Path(written).unlink()
        raise SessionFileError(f"{path.name} cannot be written: {error.strerror or error}.") from error


def _lower(sentence: str) -> str:
    return sentence[:1].lower() + sentence[1:]
