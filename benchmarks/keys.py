"""One key of Review, from press to repaint, in matches of 50 to 3,000 shots of each game."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ripasso.demo.matches.sessions import shipped
from ripasso.review.document.edits import add_session
from ripasso.review.record.model import Session
from ripasso.ui.app import application, build_window
from ripasso.ui.workspace import build_workspace

SIZES = (50, 350, 1000, 3000)
KEYS = (Qt.Key.Key_L, Qt.Key.Key_O, Qt.Key.Key_U, Qt.Key.Key_L)
WARM, PRESSES = 2, 20


def measure() -> Iterator[str]:
    """A line a game: medians and 95th percentiles by size, and how the work grows."""
    for session in shipped()[:-1]:
        times = {size: _key_times(_of_size(session, size)) for size in SIZES}
        shown = ", ".join(
            f"{size}: {1000 * median:.1f} / {1000 * tail:.1f}" for size, (median, tail) in times.items()
        )
        growth = times[3000][0] / times[350][0]
        yield f"{session.game}: {growth:.2f} x from 350 to 3,000 shots (ms, median / 95th: {shown})"


def _of_size(session: Session, shots: int) -> Session:
    """The racks of a session again and again, until there are so many shots."""
    racks, count = [], 0
    while count < shots:
        for rack in session.racks or ():
            racks.append(rack.model_copy(update={"number": len(racks) + 1, "score_before": None}))
            count += len(rack.shots or ())
            if count >= shots:
                break
    rules = {**(session.rules or {}), "race_to": 10**6, "target": 10**6}
    return session.model_copy(update={"id": f"{session.id}-{shots}", "racks": tuple(racks), "rules": rules})


def _key_times(session: Session) -> tuple[float, float]:
    """Median and 95th percentile of a key, in seconds, in the middle of a session."""
    app = application()
    with tempfile.TemporaryDirectory() as folder:
        workspace = build_workspace(Path(folder) / "bench.ripasso", None)
        workspace.document.run(add_session(session))
        window = build_window(workspace)
        window.show()
        window.open_session(session.id)
        page = window.review
        shots = page.controller.snapshot.shots
        page.controller.choose(shots[len(shots) // 2].key)
        taken = []
        for turn in range(WARM + PRESSES):
            _settle(app, workspace)
            start = time.perf_counter()
            QTest.keyClick(page, KEYS[turn % len(KEYS)])
            app.processEvents()
            taken.append(time.perf_counter() - start)
        window.close()
    taken = sorted(taken[WARM:])
    return statistics.median(taken), taken[round(0.95 * (len(taken) - 1))]


def _settle(app: object, workspace: object) -> None:
    """Nothing else is at work, as between two keys of a person."""
    end = time.perf_counter() + 0.05
    while workspace.measuring.busy or workspace.background.busy or time.perf_counter() < end:
        app.processEvents()
        time.sleep(0.001)


if __name__ == "__main__":
    for line in measure():
        print(line)
