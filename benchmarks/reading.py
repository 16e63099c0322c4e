"""Reading a film: beside bare decoding of the same film, as a multiple of its time, and seeking meanwhile."""

from __future__ import annotations

import json
import resource
import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import av
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ripasso.core.table import table_spec
from ripasso.demo.filming.splice import splice
from ripasso.demo.library import film_path, film_truth
from ripasso.film import build_index
from ripasso.film.calibration.camera import Camera
from ripasso.film.reading.reader import FilmReading
from ripasso.review.document.edits import add_session
from ripasso.review.record.model import Session
from ripasso.ui.app import application, build_window
from ripasso.ui.workspace import build_workspace

OTHERS = Path(__file__).resolve().parents[2] / "shared" / "recordings"
SEEKS, KEYS = 25, 60
#: How often the demo film (112 s) is looped: ten minutes, ninety minutes.
MEMORY_ROUNDS, LONG_ROUNDS = 6, 48


def _decoded_s(path: Path) -> float:
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        stream.thread_type = "AUTO"
        start = time.perf_counter()
        for _ in container.decode(stream):
            pass
        return time.perf_counter() - start


def _films() -> Iterator[tuple[str, Path, str, str, Camera | None]]:
    truth = film_truth()
    yield "demo film", film_path(), "nine_ball", "pool_9ft", Camera.from_data(truth["camera"])
    if OTHERS.is_dir():
        yield "path-traced pool", OTHERS / "clip2.mp4", "eight_ball", "pool_9ft", None
        yield "path-traced snooker", OTHERS / "clip4.mp4", "snooker", "snooker_12ft", None


def _long_film(folder: Path, rounds: int) -> Path:
    """The demo film so many times over."""
    long = folder / f"{rounds}.mp4"
    splice(film_path(), long, [(0, 112, 1)] * rounds)
    return long


def _used_mb() -> float:
    """What this process holds now, not what it held once."""
    for line in Path("/proc/self/status").read_text(encoding="utf-8").splitlines():
        if line.startswith("VmRSS"):
            return int(line.split()[1]) / 1024
    return 0.0


def _memory_over(path: Path) -> tuple[float, list[float]]:
    """Minutes of a film, and megabytes used after each fifth of its reading."""
    index = build_index(path)
    camera = Camera.from_data(film_truth()["camera"])
    reading = FilmReading(index, "nine_ball", table_spec({"preset": "pool_9ft"}), camera)
    used: list[float] = []

    def note(share: float) -> None:
        if share >= (len(used) + 1) / 5:
            used.append(_used_mb())

    reading.run(on_progress=note)
    reading.close()
    return index.duration_s / 60, used


class _Desk:
    """The real window on a film of an hour and a half, whose keys and seeks are timed."""

    def __init__(self, folder: Path, film: Path) -> None:
        app = application()
        self._app = app
        self._workspace = build_workspace(folder / "bench.ripasso", folder / "settings.json")
        views = [{"camera": film_truth()["camera"]}]
        recordings = [{"id": "film", "file": str(film), "views": views}]
        data = {
            "format": "ripasso-session",
            "version": 1,
            "id": "bench",
            "title": "bench",
            "game": "nine_ball",
        }
        data |= {"players": [{"id": "a", "name": "A"}, {"id": "b", "name": "B"}], "recordings": recordings}
        window = self._window = build_window(self._workspace)
        self._workspace.document.run(add_session(Session.model_validate_json(json.dumps(data))))
        window.resize(1280, 800)
        window.show()
        window.open_session("bench")
        self._review = window.review
        self._wait(lambda: self._review.player.index is not None)

    def _wait(self, condition: Callable[[], object], patience_s: float = 60.0) -> float:
        start = time.perf_counter()
        while not condition() and time.perf_counter() - start < patience_s:
            self._app.processEvents()
        return 1e3 * (time.perf_counter() - start)

    def seek_ms(self, first_s: float) -> float:
        """The median time from asking for a frame to its picture, all over the film, none asked for twice."""
        player, times = self._review.player, []
        for i in range(SEEKS):
            player.seek((first_s + i * 1301.7) % player.index.duration_s)
            times.append(self._wait(lambda: not player.late))
        return statistics.median(times)

    def key_ms(self) -> float:
        """The median time from a key to the window that shows it."""
        times = []
        for i in range(KEYS):
            key = (Qt.Key.Key_J, Qt.Key.Key_K)[i % 2]
            start = time.perf_counter()
            QTest.keyClick(self._review, key)
            self._review.slip.repaint()
            self._app.processEvents()
            times.append(1e3 * (time.perf_counter() - start))
        return statistics.median(times)

    def mark(self) -> None:
        """A shot in hand, to be tagged."""
        self._review.player.seek(3.0)
        self._wait(lambda: not self._review.player.late)
        QTest.keyClick(self._review, Qt.Key.Key_F)
        self._wait(lambda: self._review.controller.shot is not None)

    def read(self) -> None:
        """Begin to read the film."""
        QTest.keyClick(self._review, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
        self._wait(lambda: self._review.reading.busy)
        self._wait(lambda: False, 3.0)

    def close(self) -> None:
        self._window.close()


def _beside_reading() -> Iterator[str]:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        controller = _Desk(folder, _long_film(folder, LONG_ROUNDS))
        controller.mark()
        seek, key = controller.seek_ms(0.0), controller.key_ms()
        controller.read()
        seek_busy, key_busy = controller.seek_ms(433.3), controller.key_ms()
        controller.close()
    for what, busy, alone in (("seek to picture", seek_busy, seek), ("key to screen", key_busy, key)):
        yield (
            f"90 minutes, {what} while reading {busy:.1f} ms, {busy / alone:.2f} x without ({alone:.1f} ms)"
        )


def measure() -> Iterator[str]:
    for name, path, game, table, camera in _films():
        bare = _decoded_s(path)
        index = build_index(path)
        reading = FilmReading(index, game, table_spec({"preset": table}), camera)
        start = time.perf_counter()
        reading.run()
        taken = time.perf_counter() - start
        reading.close()
        yield (
            f"{name}: read in {taken:.1f} s, {taken / bare:.1f} x bare decoding ({bare:.1f} s), "
            f"{index.duration_s / taken:.1f} x real time"
        )
    with tempfile.TemporaryDirectory() as folder:
        minutes, used = _memory_over(_long_film(Path(folder), MEMORY_ROUNDS))
    shown = ", ".join(f"{mb:.0f}" for mb in used)
    yield f"{minutes:.0f} minutes read: {shown} MB after each fifth, {used[-1] / used[0]:.2f} x the first"
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    yield f"most memory so far {most:.0f} MB"
    yield from _beside_reading()
