"""Statistics over 200,000 shots: pages of figures and the overview, beside bare NumPy on the same columns."""

from __future__ import annotations

import os
import statistics
import time
from collections.abc import Callable, Iterator

import numpy as np
from PyQt6.QtWidgets import QApplication

from ripasso.core.figures.facts import Facts
from ripasso.core.figures.slices import CUT_BANDS, DISTANCE_BANDS
from ripasso.demo.matches.planted import Habits, planted_facts
from ripasso.statistics.pages.pages import Side, page_of
from ripasso.statistics.pages.ready import overview_of

SHOTS, ROUNDS, FRAME_MS = 200_000, 5, 15


def _seconds(act: Callable[[], object]) -> float:
    taken = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        act()
        taken.append(time.perf_counter() - start)
    return statistics.median(taken)


def _bare_rates(made: np.ndarray, groups: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Made and all of each group."""
    return np.bincount(groups, weights=made), np.bincount(groups)


def _bare_potting(facts: Facts, keep: np.ndarray) -> list[object]:
    """The counts of the page of potting, from plain arrays: bands, pockets, deliveries."""
    made = facts.flags("made")[keep]
    cut = np.abs(facts.numbers("cut_deg")[keep])
    way = facts.numbers("cue_travel")[keep] + facts.numbers("object_travel")[keep]
    share = way / facts.numbers("table_length")[keep]
    found: list[object] = [
        _bare_rates(made, np.digitize(cut, [low for low, _ in CUT_BANDS[1:]])),
        _bare_rates(made, np.digitize(share, [low for low, _ in DISTANCE_BANDS[1:]])),
    ]
    for name in ("target", "delivery", "phase", "contact"):
        _, groups = np.unique(facts.texts(name)[keep].astype(str), return_inverse=True)
        found.append(_bare_rates(made, groups))
    return found


def bare_overview(facts: Facts, keep: np.ndarray) -> list[object]:
    """The sums that questions stand on: two groups of shots each, from plain arrays."""
    made, found = facts.flags("made")[keep], _bare_potting(facts, keep)
    for name in ("stroke", "stroke_pace", "side", "pace", "position", "unforced", "intent"):
        _, groups = np.unique(facts.texts(name)[keep].astype(str), return_inverse=True)
        found.append(_bare_rates(made, groups))
    for name in ("along", "across", "angle_miss", "travel", "crossing_deg", "since_rest_s", "chance"):
        values = facts.numbers(name)[keep]
        known = ~np.isnan(values)
        found.append(
            (float(values[known].mean()), float(values[known].std()), float(np.median(values[known])))
        )
    return found


def _potting(facts: Facts, keep: np.ndarray) -> object:
    chosen = facts.where(keep)
    return page_of("potting", chosen, [Side("p", "p", chosen.equal("person", "p"))])


def _overview(facts: Facts) -> object:
    return overview_of(facts, facts.equal("person", "p"), "nine_ball")


def painting(facts: Facts) -> Iterator[str]:
    """A window that paints every 15 ms while the overview is computed: its longest gap."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QLabel

    from ripasso.ui.app import application
    from ripasso.ui.services.background import Background
    from ripasso.ui.services.messages import Messages

    app, background = application(), Background(Messages())
    shown, painted = QLabel("0"), []
    shown.show()

    def paint() -> None:
        shown.setText(str(len(painted)))
        shown.repaint()
        painted.append(time.perf_counter())

    timer = QTimer()
    timer.timeout.connect(paint)
    timer.start(FRAME_MS)
    _turn(app, 0.5)
    usual = max(np.diff(painted))
    painted.clear()
    start, done = time.perf_counter(), []
    background.run(lambda: _overview(facts), done.append)
    while not done:
        _turn(app, 0.01)
    taken = time.perf_counter() - start
    gaps = np.diff(painted)
    timer.stop()
    background.close()
    yield (
        f"painting while an overview of all shots is computed ({1000 * taken:.0f} ms): "
        f"{len(painted)} pictures, "
        f"median gap {1000 * np.median(gaps):.0f} ms, longest {1000 * max(gaps):.0f} ms "
        f"({1000 * usual:.0f} ms without)"
    )


def _turn(app: QApplication, seconds: float) -> None:
    end = time.perf_counter() + seconds
    while time.perf_counter() < end:
        app.processEvents()
        time.sleep(0.001)


def measure() -> Iterator[str]:
    """A line for each page: its time, and as a multiple of the bare sums."""
    facts = planted_facts(SHOTS, Habits(), 1)
    everything = np.ones(SHOTS, dtype=bool)
    slices = {
        "first opening, all shots": everything,
        "a slice, one shot in four": np.arange(SHOTS) % 4 == 0,
        "a slice, thin cuts": np.abs(facts.numbers("cut_deg")) >= 45,
    }
    for words, keep in slices.items():
        bare = _seconds(lambda keep=keep: _bare_potting(facts, keep))
        page = _seconds(lambda keep=keep: _potting(facts, keep))
        yield f"potting, {words}: {1000 * page:.0f} ms, {page / bare:.2f} x bare NumPy"
        bare = _seconds(lambda keep=keep: bare_overview(facts, keep))
        page = _seconds(lambda keep=keep: _overview(facts.where(keep)))
        yield f"overview, {words}: {1000 * page:.0f} ms, {page / bare:.2f} x bare NumPy"
    yield from painting(facts)


if __name__ == "__main__":
    for line in measure():
        print(line)
