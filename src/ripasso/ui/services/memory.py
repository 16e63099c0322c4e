"""Memory that was let go of is given back to the system.

The C library keeps what large work has freed for later: over a day of work in a large library that is more
than the program itself holds.
"""

from __future__ import annotations

import ctypes
from functools import cache
from pathlib import Path
from typing import Any

#: Pieces of so many bytes come from the system each, and go back to it at once (mallopt's parameter).
MMAP_THRESHOLD, LARGE_BYTES = -3, 1 << 20
#: A library from this size on is large: about 25,000 shots.
LARGE_LIBRARY_BYTES = 64 << 20


@cache
def _c_library() -> Any:
    """The functions of the C library; None where they are not to be had (only glibc has these)."""
    try:
        library = ctypes.CDLL(None)
        return library if library.malloc_trim and library.mallopt else None
    except (OSError, AttributeError):
        return None


class Heap:
    """How this process holds its memory; a small library leaves it as it is."""

    is_for_large_work = False

    @classmethod
    def prepare(cls, library: Path) -> None:
        """Let columns of a large library be let go of whole; called before anything of it is read."""
        if cls.is_for_large_work or _c_library() is None or not library.exists():
            return
        if library.stat().st_size > LARGE_LIBRARY_BYTES:
            cls.is_for_large_work = True
            _c_library().mallopt(MMAP_THRESHOLD, LARGE_BYTES)

    @classmethod
    def give_back(cls) -> None:
        """Give back what is free; for the end of large work in the background (a few milliseconds)."""
        if cls.is_for_large_work:
            _c_library().malloc_trim(0)
