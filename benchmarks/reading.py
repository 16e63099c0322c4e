"""Reading a film: beside bare decoding of the same film, as a multiple of its time, and seeking meanwhile."""

from __future__ import annotations

import resource
import statistics
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import av

from ripasso.core.table import table_spec
from ripasso.demo.library import film_path, film_truth
from ripasso.film import build_index
from ripasso.film.camera import Camera
from ripasso.film.reader import FilmReader
from ripasso.film.reading.reader import FilmReading

OTHERS = Path(__file__).resolve().parents[2] / "shared" / "recordings"
SEEKS = 25


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


def _seek_ms(path: Path) -> float:
    """The median of seeks all over a film."""
    index = build_index(path)
    reader, times = FilmReader(index), []
    for i in range(SEEKS):
        start = time.perf_counter()
        reader.frame((i * 7919) % len(index))
        times.append(1e3 * (time.perf_counter() - start))
    reader.close()
    return statistics.median(times)


def _seek_while_reading_ms(path: Path, reading: FilmReading) -> float:
    stop = threading.Event()
    thread = threading.Thread(target=lambda: reading.run(lambda: not stop.is_set()))
    thread.start()
    try:
        return _seek_ms(path)
    finally:
        stop.set()
        thread.join()


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
    used = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    yield f"most memory so far {used:.0f} MB"
    path, truth = film_path(), film_truth()
    alone = _seek_ms(path)
    spec, camera = table_spec({"preset": "pool_9ft"}), Camera.from_data(truth["camera"])
    reading = FilmReading(build_index(path), "nine_ball", spec, camera)
    meanwhile = _seek_while_reading_ms(path, reading)
    reading.close()
    yield f"seek while reading {meanwhile:.1f} ms, {meanwhile / alone:.2f} x without ({alone:.1f} ms)"
