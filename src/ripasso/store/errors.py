"""What goes wrong with a library, in one sentence; needs nothing but the error."""

from __future__ import annotations

from pathlib import Path


class LibraryError(RuntimeError):
    """The library cannot be used so; the message is one sentence for the user."""


def sentence(error: Exception, path: Path) -> str:
    """What went wrong with the file, in one sentence."""
    words = str(getattr(error, "orig", error)).lower()
    name = path.name
    if "full" in words:
        return "The disk is full: the last change was not stored; free some space and do it again."
    if "locked" in words or "busy" in words:
        return f"{name} is locked by another program; try again when it is done."
    if "readonly" in words or "read-only" in words:
        return f"{name} is write-protected; the last change was not stored."
    if "malformed" in words or "not a database" in words or "corrupt" in words:
        return f"{name} is damaged; its last backup or export is needed."
    if "unable to open" in words:
        return f"{name} cannot be opened."
    return f"{name} cannot be used: {words}."
