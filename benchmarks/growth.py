"""A library of 1,000 sessions of 200 shots beside one of 100: opening, a key, a search, figures, memory."""

from __future__ import annotations

import gc
import json
import resource
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from benchmarks.library import build, settle, until
from ripasso.statistics.library_index import LibraryIndex
from ripasso.store.library import open_library
from ripasso.ui.app import application, build_window
from ripasso.ui.workspace import build_workspace

ROUNDS, KEYS = 3, 40
#: What may grow how much when a library grows tenfold.
AIMS = {
    "opening": 1.5,
    "a key": 1.5,
    "opening Find": 2.0,
    "first search": 2.0,
    "first figures": 2.0,
    "memory": 2.0,
}


def measure() -> Iterator[str]:
    """Each figure of the large library as a multiple of the small one's."""
    with tempfile.TemporaryDirectory() as folder:
        large, small = Path(folder) / "large.ripasso", Path(folder) / "small.ripasso"
        build(large)
        make_small(large, small)
        yield from beside(large, small)


def make_small(large: Path, small: Path) -> None:
    """A tenth of a library's sessions; the columns of statistics are kept in both."""
    for path in (large, small):
        if path is small:
            shutil.copy(large, small)
            with closing(sqlite3.connect(small)) as plain:
                plain.execute("PRAGMA foreign_keys = ON")
                plain.execute("DELETE FROM session WHERE key LIKE '0____-%' AND key NOT LIKE '0___0-%'")
                plain.commit()
                plain.execute("VACUUM")
        with closing(open_library(path)) as library:
            LibraryIndex(library).read()


def beside(large: Path, small: Path) -> Iterator[str]:
    """The lines of both libraries, each measured in processes of their own, by turns."""
    found: dict[Path, list[dict[str, float]]] = {large: [], small: []}
    for _ in range(ROUNDS):
        for path in (large, small):
            command = [sys.executable, "-m", "benchmarks.growth", str(path)]
            done = subprocess.run(command, check=True, capture_output=True, text=True)
            found[path].append(json.loads(done.stdout.splitlines()[-1]))
    for name, aim in AIMS.items():
        many, few = (min(one[name] for one in found[path]) for path in (large, small))
        unit = "MB" if name == "memory" else "s"
        yield f"{name}: {many:.3g} {unit} beside {few:.3g} {unit}, {many / few:.2f} x (aim {aim})"


def one(path: Path) -> dict[str, float]:
    """The figures of one library in this process, processor's time in seconds and memory in MB."""
    gc.disable()  # as the program does until its window is seen
    start = time.process_time()
    app = application()
    workspace = build_workspace(path, None)
    window = build_window(workspace)
    window.show()
    app.processEvents()
    window.grab()
    figures = {"opening": time.process_time() - start}
    settle(app, workspace)
    lines = workspace.session_lines()
    window.open_session(lines[len(lines) // 2].key)
    settle(app, workspace)
    review = window.review
    spent = []
    for number in range(KEYS):
        start = time.process_time()
        QTest.keyClick(review, Qt.Key.Key_L if number % 2 else Qt.Key.Key_O)
        app.processEvents()
        spent.append(time.process_time() - start)
    figures["a key"] = sorted(spent)[len(spent) // 2]
    settle(app, workspace)  # what was measured of the keys is stored
    start = time.process_time()
    review.find_page.begin()  # what the key does; the shots were read after the window was opened
    until(app, lambda: review.finding.found is not None)
    figures["opening Find"] = time.process_time() - start
    before = review.finding.found
    review.find_page.asked.emit("pace:long made:yes")
    until(app, lambda: review.finding.found is not before)
    figures["first search"] = time.process_time() - start
    start = time.process_time()
    window.show_page("statistics")
    until(app, lambda: not window.statistics.is_computing and not workspace.background.busy)
    figures["first figures"] = time.process_time() - start
    figures["memory"] = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    window.close()
    return figures


if __name__ == "__main__":
    sys.stdout.write(json.dumps(one(Path(sys.argv[1]))) + "\n")
