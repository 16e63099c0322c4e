"""Start-up: from a fresh process to the first paint, beside a bare window with a table."""

from __future__ import annotations

import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator

ROUNDS = 5
BARE = """
from PyQt6.QtWidgets import QApplication, QMainWindow, QTableWidget
app = QApplication([])
window = QMainWindow()
window.setCentralWidget(QTableWidget(20, 7))
window.resize(1280, 800)
window.show()
app.processEvents()
window.grab()
"""
OURS = """
import pathlib, sys
from ripasso.ui.app import application, build_window
from ripasso.ui.workspace import build_workspace
app = application()
window = build_window(build_workspace(pathlib.Path(sys.argv[1]), None), demo={demo})
window.resize(1280, 800)
window.show()
app.processEvents()
window.grab()
window.close()
"""


def _seconds(code: str, *words: str) -> float:
    start = time.perf_counter()
    subprocess.run([sys.executable, "-c", code, *words], check=True, capture_output=True)
    return time.perf_counter() - start


def measure() -> Iterator[str]:
    with tempfile.TemporaryDirectory() as folder:
        library = f"{folder}/bench.ripasso"
        empty = f"{folder}/empty.ripasso"
        demo, plain = OURS.format(demo=True), OURS.format(demo=False)
        for code, path in ((demo, library), (plain, empty)):
            _seconds(code, path)  # fills the library, and the caches of the system
        _seconds(BARE)
        rounds = [(_seconds(BARE), _seconds(plain, empty), _seconds(demo, library)) for _ in range(ROUNDS)]
    bare, small, full = (statistics.median(column) for column in zip(*rounds, strict=True))
    yield f"empty library: {small / bare:.1f} x a bare PyQt6 window with a table"
    yield f"demo library with film: {full / bare:.1f} x"
