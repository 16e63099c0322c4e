"""A film as the window uses it: frames by number, playing by the clock, never waiting for the decoder."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QElapsedTimer, QObject, Qt, QTimer, pyqtSignal

from ripasso.film import FilmIndex, FilmWorker, Picture, known_index
from ripasso.ui.review.film.film_sound import FilmSound
from ripasso.ui.services.background import Background

SPEEDS = (0.125, 0.25, 0.5, 1.0, 2.0, 4.0)
TICK_MS = 8


class FilmPlayer(QObject):
    """Shows one film at a time.

    `shown` brings the picture that is on screen from now on; `opened` says that a film can be used;
    `failed` brings a sentence. `late` is true while the picture on screen is not the one asked for.
    """

    shown = pyqtSignal(object)
    opened = pyqtSignal()
    failed = pyqtSignal(str)
    playing_changed = pyqtSignal(bool)
    _decoded = pyqtSignal(object, object)
    _broken = pyqtSignal(str)

    def __init__(
        self, background: Background, parent: QObject | None = None, sound: FilmSound | None = None
    ) -> None:
        super().__init__(parent)
        self._background = background
        self._sound = sound
        self._worker: FilmWorker | None = None
        self._request: int | None = None
        self._path: Path | None = None
        self._size = (640, 360)
        self._asked = 0
        self._picture: Picture | None = None
        self._speed = 1.0
        self._loop: tuple[float, float] | None = None
        self._clock = QElapsedTimer()
        self._clock_start_s = 0.0
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._decoded.connect(self._take)
        self._broken.connect(self._fail)

    # The film

    def open(self, path: Path, at_s: float = 0.0) -> None:
        """Read a film's index in the background, then show the frame at a time."""
        if path == self._path and (self._worker is not None or self._request is not None):
            self.seek(at_s)
            return
        self.close()
        self._path = path
        self._clock_start_s = at_s

        def ready(index: FilmIndex) -> None:
            self._request = None
            self._start(index)

        def failed(error: Exception) -> None:
            self._request = None
            self.failed.emit(str(error))

        self._request = self._background.run(lambda: known_index(path), ready, failed)

    def close(self) -> None:
        """Put the film away."""
        self.pause()
        self._loop = None
        if self._request is not None:
            self._background.forget(self._request)
            self._request = None
        if self._worker is not None:
            self._worker.close()
        if self._sound is not None:
            self._sound.close()
        self._worker, self._path, self._picture = None, None, None

    def _start(self, index: FilmIndex) -> None:
        self._worker = FilmWorker(
            index,
            on_picture=lambda picture: self._decoded.emit(index, picture),
            on_error=self._broken.emit,
        )
        self._worker.resize(*self._size)
        if self._sound is not None:
            self._sound.open(index.path)
        self.opened.emit()
        self.seek(self._clock_start_s)

    @property
    def index(self) -> FilmIndex | None:
        """The index of the film that is open."""
        return self._worker.index if self._worker else None

    def size(self) -> tuple[int, int] | None:
        """Width and height of the film that is open, pixels."""
        index = self.index
        return (index.width, index.height) if index is not None else None

    @property
    def picture(self) -> Picture | None:
        """The picture on screen."""
        return self._picture

    @property
    def late(self) -> bool:
        """The picture on screen is not yet the one that was asked for."""
        return self._picture is None or self._picture.number != self._asked

    @property
    def held_bytes(self) -> int:
        """What the decoded pictures take of their budget."""
        return self._worker.held_bytes if self._worker is not None else 0

    @property
    def time_s(self) -> float | None:
        """The time of the frame on screen."""
        return self._picture.time_s if self._picture else None

    def resize(self, width: int, height: int) -> None:
        """The size in pixels at which pictures are shown."""
        self._size = (max(2, width), max(2, height))
        if self._worker is not None:
            self._worker.resize(*self._size)
            self._show(self._asked)

    # Moving

    def seek(self, time_s: float) -> None:
        """Show the frame at a time."""
        if self._worker is None:
            self._clock_start_s = time_s
            return
        self._restart_clock(time_s)
        self._show(self._worker.index.number_at(time_s))

    def step(self, frames: int) -> None:
        """Show the frame so many further on (or back)."""
        self.pause()
        if self._worker is not None:
            self._show(self._asked + frames)

    def toggle(self) -> None:
        """Play, or pause."""
        if self._timer.isActive():
            self.pause()
        else:
            self.play()

    def play(self) -> None:
        """Play from the frame on screen, from the start when the film is at its end."""
        if self._worker is None:
            return
        if self._asked >= len(self._worker.index) - 1:
            self._show(0)
        self._timer.start()
        self._restart_clock(self._worker.index.time_s(self._asked))
        self.playing_changed.emit(True)

    def pause(self) -> None:
        """Stop at the frame on screen."""
        if self._timer.isActive():
            self._timer.stop()
            if self._sound is not None:
                self._sound.stop()
            if self._picture is not None:
                self._asked = self._picture.number
            self.playing_changed.emit(False)

    @property
    def loop(self) -> tuple[float, float] | None:
        """The stretch that is played again and again, in seconds; None when there is none."""
        return self._loop

    def set_loop(self, loop: tuple[float, float] | None) -> None:
        """Play a stretch again and again from now on, from its beginning; or go on as usual."""
        if loop != self._loop:
            self._loop = loop
            if loop is not None:
                self.seek(loop[0])

    @property
    def playing(self) -> bool:
        """The film runs."""
        return self._timer.isActive()

    @property
    def speed(self) -> float:
        """How fast the film runs."""
        return self._speed

    def set_speed(self, speed: float) -> None:
        """Run at another speed from here on."""
        self._speed = speed
        if self._worker is not None:
            self._restart_clock(self._worker.index.time_s(self._asked))

    def _restart_clock(self, time_s: float) -> None:
        self._clock_start_s = time_s
        self._clock.restart()
        if self._sound is not None and self.playing:
            if self._speed == 1.0:
                self._sound.play(time_s)
            else:
                self._sound.stop()

    def _tick(self) -> None:
        worker = self._worker
        if worker is None:
            return
        now = self._clock_start_s + self._clock.elapsed() / 1000 * self._speed
        if self._loop is not None and now > self._loop[1]:
            now = self._loop[0]
            self._restart_clock(now)
        number = worker.index.number_at(now)
        if number != self._asked:
            self._show(number)
        if number >= len(worker.index) - 1:
            self.pause()

    def _show(self, number: int) -> None:
        if self._worker is None:
            return
        self._asked = max(0, min(number, len(self._worker.index) - 1))
        picture = self._worker.want(self._asked)
        if picture is not None:
            self._picture = picture
            self.shown.emit(picture)

    def _take(self, index: FilmIndex, picture: Picture) -> None:
        """A decoded picture has arrived from the worker's thread."""
        if self._worker is None or self._worker.index is not index:
            return
        # While playing, a picture that comes late is still the newest there is.
        if picture.number == self._asked or self.playing:
            self._picture = picture
            self.shown.emit(picture)

    def _fail(self, sentence: str) -> None:
        self.pause()
        self.failed.emit(sentence)
