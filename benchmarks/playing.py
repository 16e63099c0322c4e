"""Long groups of pictures at 1080p: stepping back as a held key does, playing, and opening a long film."""

from __future__ import annotations

import tempfile
import threading
import time
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

import av

from ripasso.demo.library import film_path
from ripasso.film import FilmWorker, build_index, known_index
from ripasso.ui.app import application
from ripasso.ui.review.film.film_player import FilmPlayer
from ripasso.ui.services.background import Background
from ripasso.ui.services.messages import Messages

WIDTH, HEIGHT, RATE, SECONDS = 1920, 1080, 30, 20
SHOWN = (1920, 1080)
#: Steps a second of a held key; what of them is looked at; a wait is longer than one of them.
HELD, STEPS, BEGINS_S = 30, 240, 0.5
PLAYED_S = 6.0
#: A film of two hours.
LONG_FRAMES = 180_000


def measure() -> Iterator[str]:
    """The lines of three groups, then of a film of two hours."""
    with tempfile.TemporaryDirectory() as folder:
        for group in (12, 50, 250):
            path = _film(Path(folder) / f"{group}.mp4", group)
            waits, longest = _stepped_back(path)
            yield (
                f"1080p, groups of {group}: {STEPS} steps back at {HELD} a second, {waits} waits after the "
                f"first {BEGINS_S} s (aim 0), the longest {longest:.0f} ms"
            )
            shares = ", ".join(f"{100 * _dropped(path, speed):.1f} % at {speed:g} x" for speed in (1.0, 2.0))
            yield f"1080p, groups of {group}: pictures dropped while playing: {shares} (aims 1 and 5 %)"
        yield from _opened(Path(folder))


def _film(path: Path, group: int) -> Path:
    """The demo film enlarged, with groups of `group` pictures."""
    options = {"g": str(group), "keyint_min": str(group), "bf": "2", "preset": "veryfast", "crf": "23"}
    options["x264-params"] = "scenecut=0"
    with av.open(str(film_path())) as source, av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=Fraction(RATE), options=options)
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        for number, frame in enumerate(source.decode(video=0)):
            if number >= RATE * SECONDS:
                break
            larger = frame.reformat(width=WIDTH, height=HEIGHT, format="yuv420p")
            larger.pts, larger.time_base = number, Fraction(1, RATE)
            container.mux(stream.encode(larger))
        container.mux(stream.encode())
    return path


def _stepped_back(path: Path) -> tuple[int, float]:
    """How many steps had to wait, and the longest of these waits in milliseconds."""
    index, bell = build_index(path), threading.Event()
    worker = FilmWorker(index, lambda _picture: bell.set(), lambda _sentence: bell.set())
    worker.resize(*SHOWN)
    number = len(index) - 100
    worker.want(number)
    time.sleep(BEGINS_S)
    waits, longest, due = 0, 0.0, time.perf_counter()
    for step in range(STEPS):
        time.sleep(max(0.0, due - time.perf_counter()))
        number -= 1
        start = time.perf_counter()
        bell.clear()
        if worker.want(number) is None:
            bell.wait(30)
        waited = time.perf_counter() - start
        if step > BEGINS_S * HELD:
            waits += waited > 1 / HELD
            longest = max(longest, 1000 * waited)
        due = max(due, time.perf_counter() - 1 / HELD) + 1 / HELD
    worker.close()
    return waits, longest


def _dropped(path: Path, speed: float) -> float:
    """The share of pictures that were not shown while a film was played."""
    app = application()
    background = Background(Messages())
    player = FilmPlayer(background)
    player.resize(*SHOWN)
    shown: list[int] = []
    player.shown.connect(lambda picture: shown.append(picture.number))
    player.open(path, 0.0)
    _until(app, lambda: bool(shown))
    player.set_speed(speed)
    player.play()
    _let_pass(app, 1.0)
    first = len(shown)
    _let_pass(app, min(PLAYED_S, (SECONDS - 2) / speed - 1))
    seen = shown[first:]
    player.close()
    background.close()
    return 1 - len(set(seen)) / (seen[-1] - seen[0] + 1)


def _until(app: object, condition: object) -> None:
    while not condition():
        app.processEvents()
        time.sleep(0.001)


def _let_pass(app: object, seconds: float) -> None:
    end = time.perf_counter() + seconds
    while time.perf_counter() < end:
        app.processEvents()
        time.sleep(0.001)


def _opened(folder: Path) -> Iterator[str]:
    """A film of two hours, opened for the first time and again, beside reading its packets alone."""
    path = folder / "long.mp4"
    options = {"crf": "30", "preset": "ultrafast", "g": "250"}
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=Fraction(25), options=options)
        stream.width, stream.height, stream.pix_fmt = 160, 90, "yuv420p"
        grey = av.VideoFrame(160, 90, "yuv420p")
        for number in range(LONG_FRAMES):
            grey.pts, grey.time_base = number, Fraction(1, 25)
            container.mux(stream.encode(grey))
        container.mux(stream.encode())
    start = time.perf_counter()
    with av.open(str(path)) as container:
        sum(1 for _ in container.demux(video=0))
    bare = time.perf_counter() - start
    taken = []
    for _ in range(2):
        start = time.perf_counter()
        known_index(path, folder / "kept")
        taken.append(time.perf_counter() - start)
    yield (
        f"two hours: opened first {taken[0]:.2f} s, {taken[0] / bare:.1f} x its packets alone "
        f"({bare:.2f} s); again {1000 * taken[1]:.1f} ms"
    )
