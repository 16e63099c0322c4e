"""Python's collector of garbage runs between keys, never in the middle of one.

What came lately is collected when nothing has happened for a moment, everything only after a long rest: with
a match of 3,000 shots in memory that takes half a second. What is alive then is taken out of its sight.
"""

from __future__ import annotations

import gc
import time

from PyQt6.QtCore import QObject, QTimer

#: How often it is looked whether there is time, and how long nothing may have happened before: for what came
#: lately, and for everything.
LOOK_MS, QUIET_S, REST_S = 500, 0.3, 20.0
#: New objects that are worth looking through, and such looks before everything is.
YOUNG, LOOKS = 2000, 20


class IdleCollector(QObject):
    """Collects in quiet moments; `busy` says that something happened."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._busy_at = time.monotonic()
        self._looks = 0
        self._stopped = False
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self._look)

    def start(self) -> None:
        """Take over from the automatic collector; not once it was stopped."""
        if self._stopped:
            return
        gc.disable()
        # What is alive after the start is there to stay; looking through it would hold the window.
        gc.freeze()
        self._timer.start()

    def stop(self) -> None:
        """Collect no more. The automatic collector stays off: it would only hold a window that closes.

        What works on in the same process calls `give_back`.
        """
        self._stopped = True
        self._timer.stop()

    @staticmethod
    def give_back() -> None:
        """Let the automatic collector work again."""
        gc.unfreeze()
        gc.enable()

    def busy(self) -> None:
        """Something happened just now."""
        self._busy_at = time.monotonic()

    def _look(self) -> None:
        quiet_s = time.monotonic() - self._busy_at
        if quiet_s >= REST_S and self._looks >= LOOKS:
            self._collect_all()
        elif quiet_s >= QUIET_S and gc.get_count()[0] >= YOUNG:
            self._looks += 1
            gc.collect(1)

    def _collect_all(self) -> None:
        self._looks = 0
        gc.unfreeze()
        gc.collect()
        gc.freeze()
