"""Memory that was let go of is given back to the system.

The C library keeps what large work has freed for later: over a day of work in a large library that is more
than the program itself holds.
"""

from __future__ import annotations

import ctypes
from functools import cache
from typing import Any

#: Pieces of so many bytes come from the system each, and go back to it at once (mallopt's parameter).
MMAP_THRESHOLD, LARGE_BYTES = -3, 1 << 20


@cache
def _c_library() -> Any:
    """The functions of the C library; None where they are not to be had (only glibc has these)."""
    try:
        library = ctypes.CDLL(None)
        return library if library.malloc_trim and library.mallopt else None
    except (OSError, AttributeError):
        return None


def keep_large_pieces_apart() -> None:
    """Columns of a large library are let go of whole; called once, before anything large is read."""
    library = _c_library()
    if library is not None:
        library.mallopt(MMAP_THRESHOLD, LARGE_BYTES)


def give_back_memory() -> None:
    """Give back what is free; for the end of large work in the background (a few milliseconds)."""
    library = _c_library()
    if library is not None:
        library.malloc_trim(0)
