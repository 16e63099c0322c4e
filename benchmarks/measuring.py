"""Measuring: shots a second, all at once beside a plain loop; a ball dragged over the diagram, in frames."""

from __future__ import annotations

import random
import statistics
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from ripasso.core.measures.shots import PlanInput, ShotInput, measure_shots
from ripasso.core.table import TableSpec, table_spec
from ripasso.core.table.placing import ImpossiblePlace, settle

SHOTS, LOOPED, FRAMES = 1000, 100, 60
SPREAD = 0.0015


def measure() -> Iterator[str]:
    spec = table_spec({"preset": "pool_9ft"})
    for balls in (9, 15):
        shots = list(_random_shots(spec, balls))
        together = _rate(lambda shots=shots: measure_shots(spec, shots, SPREAD), SHOTS)
        one_by_one = _rate(
            lambda shots=shots: [measure_shots(spec, [shot], SPREAD) for shot in shots[:LOOPED]], LOOPED
        )
        yield (
            f"measuring, {balls} balls: {together:.0f} shots a second at once, "
            f"{together / one_by_one:.1f} x a plain loop ({one_by_one:.0f})"
        )
    dragged, bare = _drag_times()
    words = f"{dragged / bare:.1f} x painting the same diagram"
    yield f"a dragged ball: {1 / dragged:.0f} frames a second, {words}"


def _rate(work, count: int) -> float:
    times = []
    for _ in range(3):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return count / statistics.median(times)


def _random_shots(spec: TableSpec, balls: int) -> Iterator[ShotInput]:
    chance = random.Random(7)
    names = ("cue", *(str(n) for n in range(1, balls + 1)))
    made = 0
    while made < SHOTS:
        layout: dict[str, tuple[float, float]] = {}
        for name in names:
            place = (chance.uniform(0.05, spec.length - 0.05), chance.uniform(0.05, spec.width - 0.05))
            try:
                layout[name] = settle(spec, layout, name, place).place
            except ImpossiblePlace:
                continue
        if len(layout) < len(names):
            continue
        after = {name: place for name, place in layout.items() if name != "1"}
        after["cue"] = (chance.uniform(0.1, 2.4), chance.uniform(0.1, 1.1))
        plan = PlanInput(next_ball="2", aim_point=(1.2, 0.6))
        yield ShotInput(layout, after, ("1",), ("2",), False, True, None, True, "1", None, plan)
        made += 1


def _drag_times() -> tuple[float, float]:
    """Seconds a frame while a ball is dragged in the real window, and for painting the diagram alone."""
    from PyQt6.QtWidgets import QApplication

    from ripasso.demo.matches.scenario import FILM_ID
    from ripasso.ui.app import application, build_window
    from ripasso.ui.workspace import build_workspace

    app = application()  # kept: it would go with its last reference
    with tempfile.TemporaryDirectory() as folder:
        workspace = build_workspace(Path(folder) / "bench.ripasso", None)
        window = build_window(workspace, demo=True)
        window.open_session(FILM_ID)
        window.resize(1280, 800)
        window.show()
        for _ in range(50):
            app.processEvents()
            time.sleep(0.02)
        review = window.review
        review.controller.step(8)
        QApplication.processEvents()
        ball, place = next((b, p) for b, p in review.pictures.layout("before").items() if b != "cue")
        assert review.pictures.grasp(place), ball
        dragged, painted = [], []
        for frame in range(FRAMES):
            start = time.perf_counter()
            review.pictures.move((place[0] - 0.004 * frame, place[1]))
            review.table.repaint()
            dragged.append(time.perf_counter() - start)
            start = time.perf_counter()
            review.table.repaint()
            painted.append(time.perf_counter() - start)
        review.pictures.put_down()
        window.close()
        QApplication.processEvents()
    return statistics.median(dragged), statistics.median(painted)
