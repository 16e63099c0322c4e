"""The one door to the compiler: machine code is kept in the user's cache folder, apart for each source.

Code that was compiled from one module calls into others, and a change in those would go unseen: so the
folder is named for the text of all of them.
"""

from __future__ import annotations

import shutil
from contextlib import suppress
from pathlib import Path

import numba

from ripasso.core.compiled_folder import READY, compiled_folder

#: Folders of earlier sources that stay.
KEPT = 2


def _forget_older(folder: Path) -> None:
    """Code of earlier sources goes, but for the last ones."""
    try:
        others = sorted(
            (path for path in folder.parent.iterdir() if path != folder), key=lambda p: p.stat().st_mtime
        )
    except OSError:
        return
    for path in others[: -KEPT or None]:
        shutil.rmtree(path, ignore_errors=True)


_own = compiled_folder()
if not _own.is_dir():
    _forget_older(_own)
numba.config.CACHE_DIR = str(_own)  # type: ignore[attr-defined]

#: Compiles a function at its first use; the lock of the interpreter is free while it runs.
compile_ = numba.njit(cache=True, nogil=True)


def mark_ready() -> None:
    """Everything was compiled and is kept."""
    with suppress(OSError):
        (_own / READY).touch()
