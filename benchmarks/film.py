"""Film: seek and step, beside bare PyAV decoding the same frames in the same run."""

from __future__ import annotations

import random
import statistics
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import av
from tests.films import write_film

from ripasso.demo.library import film_path
from ripasso.film import FilmIndex, FilmWorker, Picture, build_index

SEEKS, STEPS = 40, 120
SIZE = (700, 394)


def _ms(times: list[float]) -> float:
    return 1000 * statistics.median(times)


class _Bare:
    """PyAV as its manual shows it: seek to the frame's time, decode up to it, scale it."""

    def __init__(self, index: FilmIndex) -> None:
        self._index = index
        self._container = av.open(str(index.path))
        self._stream = self._container.streams.video[0]
        self._stream.thread_type = "AUTO"
        self._size = (min(SIZE[0], index.width), min(SIZE[1], index.height))

    def seek(self, number: int) -> None:
        pts = int(self._index.pts[number])
        self._container.seek(pts, backward=True, stream=self._stream)
        self._frames = self._container.decode(self._stream)
        for frame in self._frames:
            if frame.pts >= pts:
                self._scale(frame)
                return

    def step(self) -> None:
        self._scale(next(self._frames))

    def _scale(self, frame: av.VideoFrame) -> None:
        frame.reformat(*self._size, format="bgra").to_ndarray()

    def close(self) -> None:
        self._container.close()


class _Ours:
    """The worker as the window uses it."""

    def __init__(self, index: FilmIndex) -> None:
        self._bell = threading.Event()
        self._worker = FilmWorker(index, self._arrived, lambda _sentence: None)
        self._worker.resize(*SIZE)

    def _arrived(self, _picture: Picture) -> None:
        self._bell.set()

    def show(self, number: int) -> None:
        self._bell.clear()
        if self._worker.want(number) is None:
            self._bell.wait(60)

    def close(self) -> None:
        self._worker.close()


def _timed(call: Callable[[], object], pause_s: float = 0.0) -> float:
    start = time.perf_counter()
    call()
    taken = time.perf_counter() - start
    if pause_s:
        time.sleep(pause_s)
    return taken


def _compare(name: str, path: Path) -> Iterator[str]:
    index = build_index(path)
    chance = random.Random(5)
    places = [chance.randrange(len(index)) for _ in range(SEEKS)]
    middle = len(index) // 2
    bare, ours = _Bare(index), _Ours(index)
    bare_seek = _ms([_timed(lambda n=n: bare.seek(n)) for n in places])
    our_seek = _ms([_timed(lambda n=n: ours.show(n)) for n in places])
    bare.seek(middle)
    bare_step = _ms([_timed(bare.step) for _ in range(STEPS)])
    bare_back = _ms([_timed(lambda n=n: bare.seek(n)) for n in range(middle, middle - STEPS // 2, -1)])
    ours.show(middle)
    # A person holds a key at some thirty steps a second.
    forward = range(middle + 1, middle + 1 + STEPS)
    our_step = _ms([_timed(lambda n=n: ours.show(n), 1 / 30) for n in forward])
    back = range(middle + STEPS, middle + STEPS // 2, -1)
    our_back = _ms([_timed(lambda n=n: ours.show(n), 1 / 30) for n in back])
    bare.close()
    ours.close()
    yield f"{name}: seek {our_seek:.1f} ms, {our_seek / bare_seek:.2f} x bare ({bare_seek:.1f} ms)"
    yield f"{name}: step on {our_step:.2f} ms, {our_step / bare_step:.2f} x bare ({bare_step:.2f} ms)"
    yield f"{name}: step back {our_back:.2f} ms, {our_back / bare_back:.2f} x bare ({bare_back:.1f} ms)"


def measure() -> Iterator[str]:
    yield from _compare("demo film 1280 x 720, groups of 50", film_path())
    with tempfile.TemporaryDirectory() as folder:
        for group in (12, 250):
            path = write_film(Path(folder) / f"{group}.mp4", 750, group)
            yield from _compare(f"coded film 320 x 180, groups of {group}", path)
