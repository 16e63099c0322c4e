"""Starts of the program with keys pressed while it opens: every one ends as it should.

python -m tests.endurance.starts STARTS
"""

from __future__ import annotations

import collections
import faulthandler
import os
import random
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PATIENCE_S = 120


def one_start(seed: int, library: Path) -> str:
    """Start on a copy of a library, press keys, close; "well" or what happened."""
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "library.ripasso"
        copy.write_bytes(library.read_bytes())
        command = [sys.executable, "-X", "faulthandler", "-m", "tests.endurance.starts", "one", str(seed)]
        own = dict.fromkeys(("TMPDIR", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"), folder)
        environment = {**os.environ, **own, "QT_QPA_PLATFORM": "offscreen"}
        try:
            done = subprocess.run(
                [*command, str(copy)],
                cwd=ROOT,
                env=environment,
                capture_output=True,
                text=True,
                timeout=PATIENCE_S,
                check=False,
            )
        except subprocess.TimeoutExpired:
            return f"number {seed} did not end"
        log = Path(folder) / "ripasso" / "ripasso.log"
        logged = log.read_text(encoding="utf-8") if log.exists() else ""
    if "Traceback" in logged:
        return f"raised: {logged[-2000:]}"
    if done.returncode:
        return f"number {seed} ended with {done.returncode}: {done.stderr[:4000]}"
    return "well"


def start(seed: int, library: Path) -> int:
    """In a process of its own: the program as `ripasso` starts it, with keys from the first moment."""
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QApplication

    from ripasso.ui.app import application, run
    from ripasso.ui.window import MainWindow
    from tests.endurance.walker import Walker

    # What still holds it then says where it is.
    faulthandler.dump_traceback_later(PATIENCE_S - 20, exit=True)
    chance = random.Random(seed)
    running = application()
    walkers: list[Walker] = []

    def window() -> MainWindow | None:
        return next((w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow)), None)

    def step() -> None:
        shown = window()
        if shown is not None and not walkers:
            shown.activateWindow()
            walkers.append(Walker(shown, seed))
        if walkers and not walkers[0].is_stepping:
            walkers[0].step()

    def end() -> None:
        presses.stop()
        if walkers and walkers[0].is_stepping:
            QTimer.singleShot(20, end)  # a key that is under way would still open something
            return
        for walker in walkers:
            walker.stop()
        shown, dialog = window(), QApplication.activeModalWidget()
        if dialog is not None:
            dialog.close()
            QTimer.singleShot(20, end)
        elif shown is not None:
            shown.close()

    presses = QTimer(running)
    presses.timeout.connect(step)
    presses.start(chance.choice((5, 15, 40)))
    QTimer.singleShot(chance.choice((100, 300, 800, 1500, 2500)), end)
    return run(library, None, demo=True)


def main(starts: int, library: Path | None = None) -> int:
    """So many starts, two at a time; prints how they ended."""
    from tests.windows import demo_library

    source = library or demo_library()
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        ended = collections.Counter(pool.map(lambda seed: one_start(seed, source), range(starts)))
    for how, many in ended.most_common():
        sys.stdout.write(f"{many} of {starts} starts: {how}\n")
    return 0 if set(ended) == {"well"} else 1


if __name__ == "__main__":
    if sys.argv[1] == "one":
        sys.exit(start(int(sys.argv[2]), Path(sys.argv[3])))
    sys.exit(main(int(sys.argv[1])))
