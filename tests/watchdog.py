"""Says where the window's thread was held: how long each event kept it, and in whose function.

What counts is processor time against a yardstick of plain Python, taken in the same process when it starts
and again when an event seems too long: neither a slower machine nor the measuring of coverage makes a fault
of it. Where other machines take the processor away nothing is judged: time says little then.
"""

from __future__ import annotations

import gc
import os
import statistics
import sys
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from types import FrameType

from PyQt6.QtCore import QEvent, QObject, QThread
from PyQt6.QtWidgets import QApplication

#: How long an event may keep the window's thread where the yardstick takes `YARD_MS`.
LIMIT_MS = 100.0
YARD_MS = 4.0
LOOK_S = 0.01
#: What may take longer, by a function that is running or by the event, and why it may.
ALLOWED = {
    "ui.window:MainWindow.review": "Review is built when it is first shown: once a window",
    "ui.window:MainWindow.statistics": "Statistics is built when it is first shown: once a window",
    "ui.window:MainWindow._build": "what is around the pages, built with the window",
    "ui.window:MainWindow.rebuild": "other words, colours or sizes: the window is built anew",
    "ui.widgets.chart_view:ChartView._fresh_plot": "the first chart loads the library that draws it",
    "ui.statistics.chart_panel:ChartPanel.show_charts": "charts are dressed when they are first seen",
    "ui.review.shot.whole_slip:WholeSlip.__init__": "a dialog of some 150 buttons, which is asked for",
    "ui.help.key_sheet:KeySheet.__init__": "a sheet of some 200 keys, which is asked for",
    "ui.services.collector:IdleCollector._look": "only when nothing has been pressed for a moment",
    "QWindow Expose": "the first picture of a window, laid out as a whole",
}


@dataclass
class Held:
    """An event under way: what loops inside it took, and in which functions it was seen."""

    level: int
    began: float
    inside: float = 0.0
    where: Counter[tuple[str, ...]] = field(default_factory=Counter)
    since: float = field(default_factory=time.monotonic)


def yardstick_ms() -> float:
    """What a fixed piece of Python takes here and now, milliseconds of the processor."""
    taken = []
    for _ in range(5):
        began = time.thread_time()
        total = 0
        for i in range(60_000):
            total += i if i % 3 else -i
        taken.append(time.thread_time() - began)
    return 1000 * statistics.median(taken)


def stolen_s() -> float:
    """How long other machines on the same hardware kept this one waiting so far, where the system says so."""
    try:
        return int(Path("/proc/stat").read_text(encoding="ascii").split()[8]) / os.sysconf("SC_CLK_TCK")
    except (OSError, ValueError, IndexError):
        return 0.0


def limit_s() -> float:
    """How long an event may take here and now."""
    return LIMIT_MS / 1000 * max(1.0, yardstick_ms() / YARD_MS)


class Watchdog:
    """Collects what held the thread for too long; `found` is emptied by whoever reads it."""

    def __init__(self) -> None:
        self.found: list[str] = []
        self._stack: list[Held] = []
        self.limit_s = limit_s()
        self.looks = 0
        self._thread = threading.get_ident()
        gc.callbacks.append(self._note_collection)
        threading.Thread(target=self._look, daemon=True, name="watchdog").start()

    def watches(self, level: int) -> bool:
        """Whether an event of a loop is judged by itself: not one inside an event of the same loop."""
        return threading.get_ident() == self._thread and not (self._stack and self._stack[-1].level == level)

    def begin(self, level: int) -> None:
        """An event begins in a loop, the outermost one 1."""
        self._stack.append(Held(level, time.thread_time()))

    def end(self, receiver: QObject, event: QEvent) -> None:
        """It has ended."""
        held = self._stack.pop()
        took = time.thread_time() - held.began
        if self._stack:
            # What a loop inside it handles is no part of an event, and is judged by itself.
            self._stack[-1].inside += took
        took -= held.inside
        if took > self.limit_s:
            self._judge(held, took, f"{type(receiver).__name__} {event.type().name}")

    def _judge(self, held: Held, took: float, what: str) -> None:
        names = {what}.union(*held.where)
        if not ALLOWED.keys() & names and took > limit_s():
            ((names, _),) = held.where.most_common(1) or [((), 0)]
            place = " < ".join(names[:4]) or "no function of ours"
            self.found.append(f"{1000 * took:.0f} ms in {what}: {place}")

    @contextmanager
    def paused(self) -> Iterator[None]:
        """A test works inside an event: what it does is not the window's."""
        self.begin(QThread.currentThread().loopLevel() + 1000)
        try:
            yield
        finally:
            held = self._stack.pop()
            if self._stack:
                self._stack[-1].inside += time.thread_time() - held.began

    def _note_collection(self, phase: str, _info: object) -> None:
        """While garbage is collected no other thread can look."""
        if phase == "start" and self._stack and threading.get_ident() == self._thread:
            self._stack[-1].where[names_of(sys._getframe())] += 1

    def _look(self) -> None:
        while True:
            time.sleep(LOOK_S)
            stack = self._stack[-1:]
            if stack and time.monotonic() - stack[0].since > LOOK_S:
                stack[0].where[names_of(sys._current_frames().get(self._thread))] += 1
                self.looks += 1


def names_of(frame: FrameType | None) -> tuple[str, ...]:
    """The functions of ours that are running, the innermost first."""
    names = []
    while frame is not None:
        module = str(frame.f_globals.get("__name__"))
        if module.startswith(("ripasso.", "tests.")) and module != __name__:
            names.append(f"{module.removeprefix('ripasso.')}:{frame.f_code.co_qualname}")
        frame = frame.f_back
    return tuple(names)


#: The thread of the window: tests are loaded where they run. Asked for with every event it costs too much.
MAIN = QThread.currentThread()


class WatchedApplication(QApplication):
    """The application of tests: every event goes past the watchdog."""

    watchdog: Watchdog | None = None

    def notify(self, receiver: QObject, event: QEvent) -> bool:
        dog = self.watchdog
        level = MAIN.loopLevel()
        if dog is None or not dog.watches(level):
            return super().notify(receiver, event)
        dog.begin(level)
        try:
            return super().notify(receiver, event)
        finally:
            dog.end(receiver, event)
