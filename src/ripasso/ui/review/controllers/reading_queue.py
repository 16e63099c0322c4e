"""Films that are read in the background one after another, whichever session is on show.

What is read comes into the session the film belongs to. A film that is stopped goes on from there later, as
long as no other one was begun meanwhile; after that it goes on behind its last shot.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial
from threading import Event
from time import monotonic
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ripasso.core.json_data import JsonObject
from ripasso.core.table import TableSpec
from ripasso.film import FilmIndex
from ripasso.film.calibration.camera import Camera
from ripasso.review.document.command import Command
from ripasso.review.document.edits import RefusedEdit
from ripasso.review.document.signal import Signal
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.recordings.film_parts import propose_stretches
from ripasso.review.recordings.proposed_shots import take_in_reading
from ripasso.review.recordings.views import add_views, first_view, recording_of, set_camera
from ripasso.ui.services.background import Background
from ripasso.ui.services.exporting import time_left

if TYPE_CHECKING:
    from ripasso.film.reading.reader import FilmReading, Told

#: From so many seconds on what is left of a reading is told.
TOLD_AFTER_S = 1.5


@dataclass(frozen=True)
class FilmToRead:
    """A film of a session and what is known of it; `camera_s` is the moment whose camera it is."""

    session: str
    recording: str
    title: str
    index: FilmIndex
    game: str
    spec: TableSpec
    camera: Camera | None
    camera_s: float | None
    start_s: float


@dataclass(frozen=True)
class FilmRead:
    """What came of a film that was read to its end."""

    shots: int
    stretches: int
    notice: str | None


@dataclass(eq=False)
class ReadingRun:
    """The reading of one film; `stop` ends it after the frame in hand."""

    film: FilmToRead
    stop: Event = field(default_factory=Event)
    reading: FilmReading | None = None
    #: When it began or went on, and where in the film (seconds).
    began_at: float = 0.0
    began_s: float = 0.0

    @property
    def read_to_s(self) -> float:
        """The time of the film up to which it is read."""
        return self.reading.read_to_s if self.reading else self.film.start_s

    def left_words(self) -> str:
        """How much of the film is read, and how long the rest will take."""
        total = self.film.index.duration_s
        words = f"{100 * self.read_to_s / max(total, 1e-9):.0f} %"
        speed = self.speed()
        return f"{words}, {time_left((total - self.read_to_s) / speed)}" if speed else words

    def speed(self) -> float | None:
        """Seconds of the film read in a second; None until some were."""
        spent, read = monotonic() - self.began_at, self.read_to_s - self.began_s
        return read / spent if read > 0 and spent > TOLD_AFTER_S else None

    def close(self) -> None:
        """Let the film go."""
        if self.reading is not None:
            self.reading.close()
            self.reading = None


class _Bell(QObject):
    """Brings what a reading finds from its thread to the window's."""

    begun = pyqtSignal(object)
    progressed = pyqtSignal(object)
    told = pyqtSignal(object, object, object)


class ReadingQueue:
    """Reads one film at a time; `perform` does a command of any session, False where it cannot be done."""

    def __init__(
        self,
        background: Background,
        session: Callable[[str], Snapshot | None],
        perform: Callable[[Command], bool],
    ) -> None:
        self._background, self._session, self._perform = background, session, perform
        self.current: ReadingRun | None = None
        self.waiting: list[ReadingRun] = []
        self._stopped: ReadingRun | None = None
        #: Told in the window's thread; the end is told with what was read, None when it was stopped.
        self.begun: Signal[ReadingRun] = Signal()
        self.progressed: Signal[ReadingRun] = Signal()
        self.ended: Signal[tuple[ReadingRun, FilmRead | None]] = Signal()
        self.failed: Signal[tuple[ReadingRun, str]] = Signal()
        self._bell = _Bell()
        self._bell.begun.connect(self._begun)
        self._bell.progressed.connect(self._progressed)
        self._bell.told.connect(self._take_in)

    def find(self, session: str, recording: str) -> ReadingRun | None:
        """The film in work, waiting or stopped, None when it is none of them."""
        known = (self.current, *self.waiting, self._stopped)
        wanted = (session, recording)
        return next((run for run in known if run and wanted == (run.film.session, run.film.recording)), None)

    def add(self, film: FilmToRead) -> ReadingRun:
        """Read a film: now, or behind those that wait; one that was stopped goes on."""
        run = self.find(film.session, film.recording) or ReadingRun(film)
        if run is self._stopped:
            self._stopped = None
        if self.current is None:
            self._start(run)
        elif run is not self.current and run not in self.waiting:
            self.waiting.append(run)
        return run

    def stop(self, run: ReadingRun) -> None:
        """End a reading after the frame in hand; one that waits is not begun."""
        run.stop.set()
        if run in self.waiting:
            self.waiting.remove(run)
            run.close()

    def drop(self, session: str, recording: str) -> None:
        """Stop reading a film, and forget how far it was read."""
        run = self.find(session, recording)
        if run is None:
            return
        self.stop(run)
        if run is self._stopped:
            self._stopped = None
            run.close()
        elif run is self.current:
            self.current = None  # its thread closes the film when it ends
            self._go_on()

    def drop_all(self) -> None:
        """Nothing is read any more, as when the window closes."""
        self.waiting.clear()
        for run in (self.current, self._stopped):
            if run is not None:
                self.drop(run.film.session, run.film.recording)

    def _start(self, run: ReadingRun) -> None:
        if self._stopped is not None:
            # One film is held open at a time.
            self._stopped.close()
            self._stopped = None
        self.current = run
        run.stop.clear()
        run.began_at, run.began_s = monotonic(), run.read_to_s
        self._background.run(
            partial(self._read, run),
            partial(self._over, run),
            partial(self._not_read, run),
            takes_minutes=True,
        )

    # In the background

    def _read(self, run: ReadingRun) -> bool:
        from ripasso.film.reading.reader import FilmReading

        film = run.film
        if run.reading is None:
            run.reading = FilmReading(
                film.index, film.game, film.spec, film.camera, film.recording, film.start_s, film.camera_s
            )
            self._bell.begun.emit(run)
        reading = run.reading
        return reading.run(
            lambda: not run.stop.is_set(),
            lambda _share: self._bell.progressed.emit(run),
            lambda shots: self._bell.told.emit(run, tuple(shots), reading.stated_views()),
        )

    # Back on the window's thread

    def _begun(self, run: ReadingRun) -> None:
        """The table is found: its view is kept where there was none, and its lens."""
        if run is not self.current or run.reading is None:
            return
        camera, known = run.reading.camera, run.film.camera
        if known is None:
            self._change(run, lambda now: first_view(now, run.film.recording, camera.as_data()))
        elif camera.k1 != known.k1:
            # The picture showed the lens, of which a few clicked points say nothing.
            self._change(
                run, lambda now: set_camera(now, run.film.recording, run.film.start_s, camera.as_data())
            )
        self.begun.emit(run)

    def _progressed(self, run: ReadingRun) -> None:
        if run is self.current:
            self.progressed.emit(run)

    def _take_in(self, run: ReadingRun, shots: Sequence[Told], views: Sequence[JsonObject]) -> None:
        if run is self.current:
            film = run.film
            read = [(shot.rack, shot.values) for shot in shots]
            self._change(run, lambda now: take_in_reading(now, film.recording, read, film.start_s, views))

    def _over(self, run: ReadingRun, finished: bool) -> None:
        if run is not self.current or run.reading is None:
            run.close()
            return
        if not finished:
            self.current, self._stopped = None, run
            self.ended.emit((run, None))
            self._go_on()
            return
        reading, film = run.reading, run.film
        shots, views, stretches = reading.shots(), reading.stated_views(), reading.stretches()
        # What was seen later may name balls better: what nobody has accepted is told anew.
        self._take_in(run, shots, views)
        if len(views) > 1:
            self._change(run, lambda now: add_views(now, film.recording, views[1:]))
        if stretches:
            self._change(run, lambda now: propose_stretches(now, film.recording, stretches))
        read = FilmRead(len(shots), len(stretches), reading.notice)
        run.close()
        self.current = None
        self.ended.emit((run, read))
        self._go_on()

    def _not_read(self, run: ReadingRun, error: Exception) -> None:
        run.close()
        if run is self.current:
            self.current = None
            self.failed.emit((run, str(error)))
            self._go_on()

    def _go_on(self) -> None:
        """The film in work is done with: the next one that waits is read."""
        if self.current is None and self.waiting:
            self._start(self.waiting.pop(0))

    def _change(self, run: ReadingRun, build: Callable[[Snapshot], Command | None]) -> None:
        """Do a command in the session of a film; a film that is taken out of it is not read any further."""
        snapshot = self._session(run.film.session)
        if snapshot is None or recording_of(snapshot.head, run.film.recording) is None:
            self.drop(run.film.session, run.film.recording)
            return
        try:
            command = build(snapshot)
        except RefusedEdit as error:
            self.failed.emit((run, str(error)))
            return
        if command is not None:
            self._perform(command)
