"""The one door to background work: a function runs off the window's thread, its answer comes back on it."""

from __future__ import annotations

import logging
import os
import threading
from collections.abc import Callable
from contextlib import suppress
from threading import Event
from typing import Any, Generic, TypeVar
from weakref import WeakSet

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from ripasso.ui.services.memory import Heap
from ripasso.ui.services.messages import Messages, uncaught

T = TypeVar("T")
logger = logging.getLogger("ripasso.background")


class _Signals(QObject):
    done = pyqtSignal(int, object)
    failed = pyqtSignal(int, object)


#: How much work of minutes gives way to everything else (the system's niceness).
GIVES_WAY = 5


def _give_way() -> None:
    """The thread that asks, and those it begins, come after all others where the system can do that."""
    with suppress(OSError, AttributeError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), GIVES_WAY)


class _Task(QRunnable):
    def __init__(
        self, number: int, work: Callable[[], Any], signals: _Signals, *, gives_way: bool = False
    ) -> None:
        super().__init__()
        self._number, self._work, self._signals, self._gives_way = number, work, signals, gives_way

    def run(self) -> None:
        if self._gives_way:
            _give_way()
        try:
            answer = self._work()
        except Exception as error:  # noqa: BLE001  (every error of the work goes back to its caller)
            self._tell("failed", error)
        else:
            self._tell("done", answer)

    def _tell(self, signal: str, what: object) -> None:
        # Work that took longer than its window had patience for has nobody to tell.
        with suppress(RuntimeError):
            getattr(self._signals, signal).emit(self._number, what)


class Background:
    """Runs work in a small pool of threads. Inputs must be copied or frozen by the caller.

    Work of minutes has a thread of its own that gives way to all others: short work never waits for it.
    """

    def __init__(self, messages: Messages, threads: int = 2) -> None:
        self._messages = messages
        self._pool = QThreadPool()
        self._pool.setMaxThreadCount(threads)
        self._long_pool = QThreadPool()
        self._long_pool.setMaxThreadCount(1)
        self._signals = _Signals()
        self._signals.done.connect(self._finish)
        self._signals.failed.connect(self._fail)
        self._waiting: dict[int, tuple[Callable[[Any], None], Callable[[Exception], None] | None]] = {}
        self._stops: WeakSet[Event] = WeakSet()
        self._last = 0

    def run(
        self,
        work: Callable[[], T],
        then: Callable[[T], None],
        failed: Callable[[Exception], None] | None = None,
        *,
        takes_minutes: bool = False,
    ) -> int:
        """Call `work` in a thread, then `then` with its answer here. Returns the request's number.

        Without `failed` an error is shown where all messages are.
        """
        self._last += 1
        self._waiting[self._last] = (then, failed)
        pool = self._long_pool if takes_minutes else self._pool
        pool.start(_Task(self._last, work, self._signals, gives_way=takes_minutes))
        return self._last

    def forget(self, number: int) -> None:
        """The answer of a request is no longer wanted: it is dropped when it comes."""
        self._waiting.pop(number, None)

    def forget_all(self) -> None:
        """No answer is wanted any more, as when the window is built anew."""
        self._waiting.clear()

    @property
    def busy(self) -> bool:
        """True while an answer is awaited."""
        return bool(self._waiting)

    def stoppable(self) -> Event:
        """For long work: an event that its owner may set, and that is set when the window closes."""
        stop = Event()
        self._stops.add(stop)
        return stop

    def close(self) -> None:
        """Stop long work, and wait for what runs to end, for at most five seconds."""
        for stop in self._stops:
            stop.set()
        self._waiting.clear()
        self._pool.waitForDone(5000)
        self._long_pool.waitForDone(5000)

    def _finish(self, number: int, answer: object) -> None:
        callbacks = self._waiting.pop(number, None)
        if callbacks is not None:
            callbacks[0](answer)

    def _fail(self, number: int, error: Exception) -> None:
        callbacks = self._waiting.pop(number, None)
        if callbacks is not None:
            (callbacks[1] or self.report)(error)

    def report(self, error: Exception) -> None:
        """Show an error where all messages are."""
        if isinstance(error, RuntimeError | ValueError | OSError) and str(error).endswith("."):
            self._messages.say(str(error), "bad")  # a sentence of ours
        else:
            logger.error("in the background", exc_info=error)
            self._messages.say(*uncaught(error))


class LatestRequest(Generic[T]):
    """One request at a time: what is asked meanwhile waits for its end, and only the last of it is done.

    Two that are worked at side by side would both take longer, and hold their memory twice.
    """

    def __init__(self, background: Background) -> None:
        self._background = background
        self._wanted: Callable[[], None] | None = None
        self.busy = False

    def ask(
        self,
        work: Callable[[], T],
        then: Callable[[T], None],
        failed: Callable[[Exception], None] | None = None,
    ) -> None:
        """Work in the background; the answer comes to `then`, unless something else was asked meanwhile."""

        def work_and_tidy() -> T:
            try:
                return work()
            finally:
                Heap.give_back()

        def begin() -> None:
            self._wanted = None
            self._background.run(
                work_and_tidy, lambda answer: end(then, answer), lambda error: end(refuse, error)
            )

        def end(tell: Callable[[Any], None], what: object) -> None:
            if self._wanted is not None:
                self._wanted()
                return
            self.busy = False
            tell(what)

        refuse = failed or self._background.report
        if self.busy:
            self._wanted = begin
        else:
            self.busy = True
            begin()
