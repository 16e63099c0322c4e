"""Random keys, clicks, turns of the wheel and sizes on the real window: nothing raises, memory stays.

python -m tests.endurance.steps STEPS [SEED] [LIBRARY]
"""

from __future__ import annotations

import importlib
import pkgutil
import shutil
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtTest import QTest

import ripasso
from ripasso.demo.matches.scenario import FILM_ID
from ripasso.ui.app import build_window
from ripasso.ui.workspace import build_workspace
from tests.endurance.walker import Walker
from tests.windows import demo_library, destroy, uncaught

#: Packages that are loaded with the first chart, and with the first one that is copied.
LAZY = ("pyqtgraph", "matplotlib.backends.backend_agg", "matplotlib.backends.backend_svg")
#: Steps before memory is looked at, and how often it is.
WARMING, EVERY, SETTLE_MS = 2000, 250, 200


@dataclass
class Outcome:
    """The memory in MB along the way, what was raised, and the threads that were left."""

    memory_mb: list[float] = field(default_factory=list)
    raised: list[str] = field(default_factory=list)

    @property
    def growth(self) -> float:
        """The share by which memory grew after warming up, by the middle of its first and last quarter."""
        quarter = max(1, len(self.memory_mb) // 4)
        first, last = sorted(self.memory_mb[:quarter]), sorted(self.memory_mb[-quarter:])
        return last[len(last) // 2] / first[len(first) // 2] - 1


def memory_mb() -> float:
    """What this process holds in memory that no other one has, MB."""
    for line in Path("/proc/self/smaps_rollup").read_text(encoding="ascii").splitlines():
        if line.startswith("Rss:"):
            return int(line.split()[1]) / 1024
    return 0.0


def load_everything() -> None:
    """What the program loads when it is first wanted is no growth: all of it is loaded before."""
    for module in pkgutil.walk_packages(ripasso.__path__, "ripasso."):
        if not module.name.endswith(("__main__", "migrations.env")):  # those two run when they are loaded
            importlib.import_module(module.name)
    for name in LAZY:
        importlib.import_module(name)


def walk(steps: int, seed: int, library: Path, warming: int = WARMING, every: int = EVERY) -> Outcome:
    """Take steps on a window of a library; what it came to."""
    outcome = Outcome()
    load_everything()
    uncaught.clear()
    with tempfile.TemporaryDirectory() as folder:
        workspace = build_workspace(library, Path(folder) / "settings.json")
        window = build_window(workspace)
        window.show()
        if FILM_ID in {line.key for line in workspace.session_lines()}:
            window.open_session(FILM_ID)
        walker = Walker(window, seed)
        try:
            walker.press_every_key()
            for number in range(1, warming + steps + 1):
                walker.step()
                if number > warming and number % every == 0:
                    # Pictures of the film are as large as the window: it is always the same here.
                    window.resize(1280, 800)
                    window.review.film.show_all()
                    QTest.qWait(SETTLE_MS)
                    # Decoded pictures have a budget of their own (`film.decoding.cache.BUDGET_BYTES`).
                    outcome.memory_mb.append(memory_mb() - window.review.player.held_bytes / 2**20)
        finally:
            walker.stop()
            destroy(window)
    outcome.raised = list(uncaught)
    uncaught.clear()
    return outcome


def copies(library: Path, folder: Path) -> Iterator[Path]:
    """One copy after the other."""
    number = 0
    while True:
        number += 1
        yield Path(shutil.copy(library, folder / f"{number}.ripasso"))


def main(steps: int, seed: int, library: Path | None) -> int:
    """One run; prints what it came to."""
    with tempfile.TemporaryDirectory() as folder:
        outcome = walk(steps, seed, next(copies(library or demo_library(), Path(folder))))
    memory = ", ".join(f"{value:.0f}" for value in outcome.memory_mb[:: max(1, len(outcome.memory_mb) // 10)])
    sys.stdout.write(f"seed {seed}: {steps} steps, {len(outcome.raised)} raised, memory {memory} MB, ")
    sys.stdout.write(f"grown by {100 * outcome.growth:.1f} %\n")
    sys.stdout.write("\n".join(outcome.raised))
    return 1 if outcome.raised else 0


if __name__ == "__main__":
    wanted, seed, *library = [*sys.argv[1:], "11"][: max(2, len(sys.argv) - 1)]
    sys.exit(main(int(wanted), int(seed), Path(library[0]) if library else None))
