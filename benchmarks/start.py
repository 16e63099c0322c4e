"""Start-up: the processor's time of a fresh process until its first picture, beside a bare window."""

from __future__ import annotations

import statistics
import subprocess
import sys
import tempfile
from collections.abc import Iterator

ROUNDS = 5
BARE = """
import time
from PyQt6.QtWidgets import QApplication, QMainWindow, QTableWidget
app = QApplication([])
window = QMainWindow()
window.setCentralWidget(QTableWidget(20, 7))
window.resize(1280, 800)
window.show()
app.processEvents()
window.grab()
print(time.process_time(), flush=True)
"""
OURS = """
import gc, pathlib, sys, time
gc.disable()
from PyQt6.QtCore import QEventLoop
from ripasso.ui.app import application, shown_window
from ripasso.ui.workspace import build_workspace
app = application()
window = shown_window(build_workspace(pathlib.Path(sys.argv[1]), None), demo={demo})
app.processEvents()
window.grab()
print(time.process_time(), flush=True)
while {demo} and "review" not in window._pages:
    app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
window.grab()
print(time.process_time(), flush=True)
window.close()
"""


def _seconds(code: str, *words: str) -> list[float]:
    done = subprocess.run([sys.executable, "-c", code, *words], check=True, capture_output=True, text=True)
    return [float(line) for line in done.stdout.split()]


def measure() -> Iterator[str]:
    with tempfile.TemporaryDirectory() as folder:
        library = f"{folder}/bench.ripasso"
        review, sessions = OURS.format(demo=True), OURS.format(demo=False)
        for code in (review, sessions, BARE):
            _seconds(code, library)  # fills the library, and the caches of the system
        rounds = [
            (*_seconds(BARE), _seconds(sessions, library)[0], *_seconds(review, library))
            for _ in range(ROUNDS)
        ]
    bare, first, window, rack = (statistics.median(column) for column in zip(*rounds, strict=True))
    yield f"Sessions first, the demo's library: {first / bare:.1f} x a bare PyQt6 window with a table (aim 4)"
    yield f"Review first, the demo with its film: the window {window / bare:.1f} x (aim 6)"
    yield f"the same, until its rack is seen: {rack / bare:.1f} x"
