"""What goes wrong with a library, in one sentence; needs nothing but the error."""

from __future__ import annotations

from pathlib import Path


class LibraryError(RuntimeError):
    """The library cannot be used so; the message is one sentence for the user."""


class DamagedLibrary(LibraryError):
    """The file is a library, and part of it cannot be read."""


class MovedLibrary(LibraryError):
    """The file is not at its place any more, or another file is."""


#: What SQLite says, and what that means for the library called {name}.
_SENTENCES: tuple[tuple[tuple[str, ...], str], ...] = (
    (("full",), "The disk is full: the last change was not stored; free some space and do it again."),
    (("locked", "busy"), "{name} is locked by another program; try again when it is done."),
    (("readonly", "read-only"), "{name} is write-protected; the last change was not stored."),
    (("unable to open",), "{name} cannot be opened."),
    (("disk i/o",), "{name} cannot be read or written any more; its disk may have been taken away."),
)
_DAMAGED = (
    "malformed",
    "not a database",
    "corrupt",
    "no such table",
    "no such column",
    "utf-8",
    "has no column",
)


def failure(error: BaseException, path: Path) -> LibraryError:
    """What went wrong with the file at `path`, as an error with one sentence."""
    words = str(getattr(error, "orig", error)).lower()
    name = path.name
    if any(sign in words for sign in _DAMAGED):
        return DamagedLibrary(f"{name} is damaged; a backup of it or what can be read of it is needed.")
    for signs, text in _SENTENCES:
        if any(sign in words for sign in signs):
            return LibraryError(text.format(name=name))
    first = words.splitlines()[0] if words else "unknown reason"
    return LibraryError(f"{name} cannot be used: {first.rstrip('.')}.")
