"""Files that take their time are written in the background, and it is told how far they are."""

from __future__ import annotations

from collections.abc import Callable
from time import monotonic
from typing import TypeVar

from PyQt6.QtCore import QTimer

from ripasso.film.encoding.film_writer import Progress
from ripasso.ui.services.background import Background

T = TypeVar("T")
TOLD_EVERY_MS = 400
#: From so many seconds on what is left is told.
TOLD_AFTER_S = 1.5


class Exporter:
    """One file at a time; `tell` gets a sentence of how far it is, `key` is what stops it."""

    def __init__(self, background: Background, tell: Callable[[str], None], key: str) -> None:
        self._background, self._tell, self._key = background, tell, key
        self._progress: Progress | None = None
        self._name, self._began = "", 0.0
        self._timer = QTimer()
        self._timer.setInterval(TOLD_EVERY_MS)
        self._timer.timeout.connect(self._say)

    @property
    def busy(self) -> bool:
        """Something is being written."""
        return self._progress is not None

    def start(
        self,
        name: str,
        work: Callable[[Progress], T],
        then: Callable[[T], None],
        failed: Callable[[Exception], None],
    ) -> None:
        """Write; a stop comes to `failed` as `Cancelled`."""
        progress = Progress(self._background.stoppable())
        self._progress, self._name, self._began = progress, name, monotonic()
        self._timer.start()
        self._say()
        self._background.run(
            lambda: work(progress), lambda made: self._end(then, made), lambda error: self._end(failed, error)
        )

    def stop(self) -> None:
        """Stop after the picture in hand."""
        if self._progress is not None:
            self._progress.stop.set()

    def _end(self, tell: Callable[[T], None], what: T) -> None:
        self._progress = None
        self._timer.stop()
        tell(what)

    def _say(self) -> None:
        progress = self._progress
        if progress is not None:
            self._tell(
                f"{self._name} is written{how_far(progress, monotonic() - self._began)} …  {self._key}: stop"
            )


def how_far(progress: Progress, spent_s: float) -> str:
    """How much of a film is written, and how long the rest will take; "" where that is not known."""
    if not progress.of or not progress.done:
        return ""
    share = min(1.0, progress.done / progress.of)
    words = f": {100 * share:.0f} %"
    if spent_s > TOLD_AFTER_S:
        words += f", {time_left(spent_s * (1 - share) / share)}"
    return words


def time_left(seconds: float) -> str:
    """How long something will take, in words as exact as can be told."""
    if seconds < 50:
        return f"{10 * max(1, round(seconds / 10))} s left"
    return f"{max(1, round(seconds / 60))} min left"
