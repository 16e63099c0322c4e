"""What happened, for whoever looks for a fault: a log in the user's state folder that never grows large."""

from __future__ import annotations

import faulthandler
import logging
import os
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import IO

LOG, FAULTS = "ripasso.log", "faults.log"
#: A log of this many bytes is put aside, and so many are kept.
LARGEST_BYTES, KEPT = 500_000, 3
FORMAT = "%(asctime)s %(levelname)s %(name)s: %(message)s"


class _PrivateHandler(RotatingFileHandler):
    """Its file can be read by nobody else."""

    def _open(self) -> IO[str]:  # type: ignore[override]
        os.close(os.open(self.baseFilename, os.O_WRONLY | os.O_CREAT, 0o600))
        return super()._open()


def begin_log(folder: Path) -> Path | None:
    """Log into a folder from now on; where it cannot be written nothing is logged. Returns the file."""
    path = folder / LOG
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        handler = _PrivateHandler(path, maxBytes=LARGEST_BYTES, backupCount=KEPT, encoding="utf-8")
        # Where a library of C ends the process, Python's own place is told there.
        faulthandler.enable(os.open(folder / FAULTS, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600))
    except OSError:
        return None
    handler.setFormatter(logging.Formatter(FORMAT))
    ours = logging.getLogger("ripasso")
    ours.addHandler(handler)
    ours.setLevel(logging.INFO)
    ours.propagate = False
    # A full disk must not fill the terminal with what could not be logged.
    logging.raiseExceptions = False
    return path
