"""One writer a library: a lock on a small file beside it, which the system frees when the process ends."""

from __future__ import annotations

import fcntl
import os
import time
from pathlib import Path

from ripasso.store.file.connecting import FILE_MODE

ASK_AGAIN_S = 0.05


class WriterLock:
    """Held by the one window that may write; `acquire` says whether it was free."""

    def __init__(self, library: Path) -> None:
        self._path = library.with_name(library.name + ".lock")
        self._file: int | None = None

    def acquire(self, wait_s: float = 0.0) -> bool:
        """True when this process is now the writer; raises OSError when the folder takes no files."""
        descriptor = os.open(self._path, os.O_RDWR | os.O_CREAT, FILE_MODE)
        until = time.monotonic() + wait_s
        while True:
            try:
                fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                if time.monotonic() >= until:
                    os.close(descriptor)
                    return False
                time.sleep(ASK_AGAIN_S)
        self._file = descriptor
        return True

    def release(self) -> None:
        """Let another window write. The file stays: removing it would race with a second opener."""
        if self._file is not None:
            os.close(self._file)
            self._file = None
