"""Start-up: the processor's time of a fresh process until its first picture, beside a bare window with a table."""

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
import pathlib, sys, time
from ripasso.ui.app import application, build_window
from ripasso.ui.workspace import build_workspace
app = application()
window = build_window(build_workspace(pathlib.Path(sys.argv[1]), None), demo={demo})
window.resize(1280, 800)
window.show()
app.processEvents()
window.grab()
print(time.process_time(), flush=True)
window.close()
"""


def _seconds(code: str, *words: str) -> float:
    done = subprocess.run([sys.executable, "-c", code, *words], check=True, capture_output=True, text=True)
    return float(done.stdout)


def measure() -> Iterator[str]:
    with tempfile.TemporaryDirectory() as folder:
        library = f"{folder}/bench.ripasso"
        review, sessions = OURS.format(demo=True), OURS.format(demo=False)
        for code in (review, sessions, BARE):
            _seconds(code, library)  # fills the library, and the caches of the system
        rounds = [
            (_seconds(BARE), _seconds(sessions, library), _seconds(review, library)) for _ in range(ROUNDS)
        ]
    bare, first, second = (statistics.median(column) for column in zip(*rounds, strict=True))
    yield f"Sessions first, the demo's library: {first / bare:.1f} x a bare PyQt6 window with a table (aim 4)"
    yield f"Review first, the demo with its film: {second / bare:.1f} x (aim 6)"
