"""Gets the simulator ready: compiled in a process of its own, then loaded in a thread."""

from __future__ import annotations

import subprocess
import sys
from contextlib import suppress

from PyQt6.QtCore import QProcess

from ripasso.core.compiled_folder import is_compiled

#: The process that compiles; nobody waits longer for it.
COMMAND = ("-m", "ripasso.core.planning.warming")
LONGEST_S = 300


def compile_ahead() -> None:
    """Begin to compile in a process of its own where that was not done; nobody waits for it."""
    if not is_compiled():
        QProcess.startDetached(sys.executable, [*COMMAND, "idle"])


def prepare() -> None:
    """Compile and load everything that a plan needs, so that the window does not wait for it."""
    if not is_compiled():
        # What goes wrong here costs only time: it is compiled below, and the window is slower meanwhile.
        with suppress(OSError, subprocess.TimeoutExpired):
            command = [sys.executable, *COMMAND]
            subprocess.run(command, check=False, timeout=LONGEST_S, capture_output=True)
    from ripasso.core.planning.warming import warm_up

    warm_up()
    import ripasso.core.planning.explaining
    import ripasso.core.planning.options
    import ripasso.core.planning.variations  # noqa: F401
