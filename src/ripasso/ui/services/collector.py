"""Python's collector of garbage runs between keys, never in the middle of one.

What lives as long as the window is taken out of its sight once; what comes later is collected when nothing
has happened for a moment.
"""

from __future__ import annotations

import gc
import time

from PyQt6.QtCore import QObject, QTimer

#: How often it is looked whether there is time, and how long nothing may have happened before.
LOOK_MS, QUIET_S = 500, 0.3
#: Objects that wait before the young, and collections of the young before the old, are collected.
YOUNG, OLD_EVERY = 2000, 20


class IdleCollector(QObject):
    """Collects in quiet moments; `busy` says that something happened."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._busy_at = time.monotonic()
        self._young = 0
        self._stopped = False
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self._look)

    def start(self) -> None:
        """Take over from the automatic collector; not once it was stopped."""
        if self._stopped:
            return
        gc.collect()
        gc.freeze()
        gc.disable()
        self._timer.start()

    def stop(self) -> None:
        """Let the automatic collector work again."""
        self._stopped = True
        self._timer.stop()
        gc.unfreeze()
        gc.enable()

    def busy(self) -> None:
        """Something happened just now."""
        self._busy_at = time.monotonic()

    def _look(self) -> None:
        if time.monotonic() - self._busy_at < QUIET_S or gc.get_count()[0] < YOUNG:
            return
        self._young += 1
        gc.collect(2 if self._young % OLD_EVERY == 0 else 1)
