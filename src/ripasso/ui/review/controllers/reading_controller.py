"""Reading a film in Review: in the background, its shots coming in as proposals, stopped and gone on with."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import partial
from threading import Event
from time import monotonic
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QPoint, pyqtSignal
from PyQt6.QtWidgets import QMenu

from ripasso.film import FilmIndex
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.views import camera_of
from ripasso.review.language.vocabulary import count, word
from ripasso.review.recordings.film_parts import propose_stretches
from ripasso.review.recordings.proposed_shots import (
    forget_reading,
    next_proposed,
    next_uncertain,
    read_to,
    rename_ball,
    take_in_shots,
)
from ripasso.review.recordings.views import add_views, recording_of, set_view, view_at
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.services.exporting import time_left
from ripasso.ui.widgets.basics import pop_up

#: From so many seconds on what is left of a reading is told.
TOLD_AFTER_S = 1.5

if TYPE_CHECKING:
    from ripasso.film.reading.reader import FilmReading, Told


class _Bell(QObject):
    """Brings what a reading finds from its thread to the window's."""

    begun = pyqtSignal(object)
    progressed = pyqtSignal(object, float)
    told = pyqtSignal(object, object)


@dataclass
class _Run:
    """One reading of one recording; `stop` ends it after the frame in hand."""

    session: str
    recording: str
    index: FilmIndex
    game: str
    camera: Camera | None
    start_s: float
    stop: Event = field(default_factory=Event)
    reading: FilmReading | None = None
    busy: bool = False
    #: When it began or went on, and where in the film (seconds).
    began_at: float = 0.0
    began_s: float = 0.0

    def left_words(self) -> str:
        """How much of the film is read, and how long the rest will take."""
        total, to_s = self.index.duration_s, self.reading.read_to_s if self.reading else 0.0
        words = f"{100 * to_s / max(total, 1e-9):.0f} %"
        speed = self.speed()
        return f"{words}, {time_left((total - to_s) / speed)}" if speed else words

    def speed(self) -> float | None:
        """Seconds of the film read in a second; None until some were."""
        to_s, spent = self.reading.read_to_s if self.reading else 0.0, monotonic() - self.began_at
        read = to_s - self.began_s
        return read / spent if read > 0 and spent > TOLD_AFTER_S else None


class ReadingController:
    """Works for the page whose parts it has. Films of the session wait for the one that is being read."""

    def __init__(self, context: ReviewContext) -> None:
        self._context = context
        self._run: _Run | None = None
        self._waiting: list[_Run] = []
        self._bell = _Bell()
        self._bell.begun.connect(self._begun)
        self._bell.progressed.connect(self._progressed)
        self._bell.told.connect(self._take_in)
        context.table.ball_asked.connect(self.ask_ball)

    @property
    def busy(self) -> bool:
        """A film is being read."""
        return self._run is not None and self._run.busy

    def toggle(self) -> None:
        """Read the film in hand; while it is read, stop; stopped, go on. While another is read, it waits."""
        run = self._run
        if run is not None and run.busy:
            if self._is_in_hand(run):
                run.stop.set()
            else:
                self._queue()
            return
        if run is None or not self._is_in_hand(run):
            self.put_away()
            run = self._run = self._new_run()
        if run is not None:
            self._start(run)

    def _queue(self) -> None:
        """The film in hand is read when those before it are; asked again, it is not."""
        waiting = next((run for run in self._waiting if self._is_in_hand(run)), None)
        if waiting is not None:
            self._waiting.remove(waiting)
            self._context.say("This film is not read after all.")
            return
        run = self._new_run()
        if run is not None:
            self._waiting.append(run)
            self._context.say(f"This film is read after {count(len(self._waiting), 'film')} before it.")

    def _start(self, run: _Run) -> None:
        run.stop.clear()
        run.busy = True
        run.began_at, run.began_s = monotonic(), run.reading.read_to_s if run.reading else run.start_s
        if run.reading is None:
            self._context.say(
                "The film is being read: its table first, then shot by shot. The same key stops it."
            )
        else:
            self._context.say("Reading goes on.")
        self._context.background.run(
            partial(self._read, run), partial(self._ended, run), partial(self._failed, run)
        )

    def put_away(self) -> None:
        """Stop, as when another session is opened."""
        run, self._run = self._run, None
        self._waiting.clear()
        if run is not None:
            run.stop.set()
            if not run.busy and run.reading is not None:
                run.reading.close()
        self._show_progress(None)

    def _show_progress(self, run: _Run | None) -> None:
        """How far the film on show is read; nothing where another one is."""
        transport = self._context.shots.transport
        if run is None or run.reading is None or not self._is_in_hand(run):
            transport.show_reading(0.0, "", "")
            return
        speed = run.speed()
        tip = f"Read at {speed:.1f} times the speed of the film." if speed else ""
        transport.show_reading(run.reading.read_to_s, run.left_words(), tip)

    def _is_in_hand(self, run: _Run) -> bool:
        snapshot, recording = self._context.controller.snapshot, self._context.film_controller.recording
        return (
            snapshot is not None
            and recording is not None
            and (snapshot.key, recording.id) == (run.session, run.recording)
        )

    def _is_of_session(self, run: _Run) -> bool:
        snapshot = self._context.controller.snapshot
        return snapshot is not None and snapshot.key == run.session

    def _new_run(self) -> _Run | None:
        snapshot, recording = self._context.controller.snapshot, self._context.film_controller.recording
        index = self._context.player.index
        if snapshot is None or recording is None or index is None:
            self._context.say("There is no film here to read.")
            return None
        if snapshot.head.game is None:
            self._context.say("Say first which game this is: the balls follow from it.", "unsure")
            return None
        start_s = read_to(snapshot, recording.id)
        view = view_at(recording, start_s)
        camera = camera_of(view.camera if view else None)
        return _Run(snapshot.key, recording.id, index, snapshot.head.game, camera, start_s)

    # In the background

    def _read(self, run: _Run) -> bool:
        from ripasso.film.reading.reader import FilmReading

        if run.reading is None:
            spec = self._context.pictures.spec
            run.reading = FilmReading(run.index, run.game, spec, run.camera, run.recording, run.start_s)
            self._bell.begun.emit(run)
        return run.reading.run(
            lambda: not run.stop.is_set(),
            lambda _share: self._bell.progressed.emit(run, run.reading.read_to_s if run.reading else 0.0),
            lambda shots: self._bell.told.emit(run, tuple(shots)),
        )

    # Back on the window's thread

    def _begun(self, run: _Run) -> None:
        """The table is found: its view is kept where there was none."""
        if run is not self._run or run.camera is not None or run.reading is None:
            return
        camera, sure = run.reading.camera, run.reading.view_sure
        recording = (
            recording_of(self._context.controller.snapshot.head, run.recording)
            if self._context.controller.snapshot
            else None
        )
        if recording is not None and not recording.views:
            data = {"camera": camera.as_data()}
            self._context.controller.perform_session(lambda now: set_view(now, run.recording, data))
        if sure < 1 and sure > 0.9:
            self._context.say(
                "The table was found. ⇧V shows its lines on the film: Return keeps them, a drag mends them.",
                "good",
            )
        else:
            self._context.say("The table was found, but not which end is the head: ⇧V says it.", "unsure")

    def _progressed(self, run: _Run, _to_s: float) -> None:
        if run is self._run and run.busy:
            self._show_progress(run)

    def _take_in(self, run: _Run, shots: Sequence[Told]) -> None:
        if run is not self._run or not self._is_of_session(run):
            return
        read = [(shot.rack, shot.values) for shot in shots]
        self._context.controller.perform_session(lambda now: take_in_shots(now, run.recording, read))

    def _ended(self, run: _Run, finished: bool) -> None:
        run.busy = False
        if run is not self._run:
            if run.reading is not None:
                run.reading.close()
            return
        if not finished or run.reading is None:
            self._show_progress(None)
            self._context.say("Reading is stopped; the same key goes on with it.")
            return
        shots = run.reading.shots()
        # What was seen later may name balls better: what nobody has accepted is told anew.
        self._take_in(run, shots)
        notice, stretches, views = run.reading.notice, run.reading.stretches(), run.reading.stated_views()
        if len(views) > 1 and self._is_of_session(run):
            self._context.controller.perform_session(lambda now: add_views(now, run.recording, views[1:]))
        if stretches and self._is_of_session(run):
            self._context.controller.perform_session(
                lambda now: propose_stretches(now, run.recording, stretches)
            )
        run.reading.close()
        self._go_on()
        if notice:
            self._context.say(notice, "unsure")
        else:
            words = f"The film is read: {len(shots)} shots proposed. Return accepts one and goes to the next."
            if stretches:
                words += f" {count(len(stretches), 'stretch', 'stretches')} not live: ⇧O lists them."
            self._context.say(words, "good")

    def _failed(self, run: _Run, error: Exception) -> None:
        run.busy = False
        if run is self._run:
            self._go_on()
            self._context.say(str(error), "bad")

    def _go_on(self) -> None:
        """The film in work is done with: the next one that waits is read."""
        self._show_progress(None)
        self._run = self._waiting.pop(0) if self._waiting else None
        if self._run is not None:
            self._start(self._run)

    # Accepting and correcting

    def forget(self) -> None:
        """Take the whole reading back, as one step of undo."""
        recording = self._context.film_controller.recording
        if recording is None:
            self._context.say("There is no reading to take back.")
            return
        self.put_away()
        self._context.controller.perform_session(lambda now: forget_reading(now, recording.id))

    def next_uncertain(self) -> None:
        """Take the next shot in hand in which something is not sure."""
        controller = self._context.controller
        here = controller.shot.key if controller.shot else None
        found = next_uncertain(controller.snapshot, here) if controller.snapshot else None
        if found is None:
            self._context.say("Nothing uncertain is proposed.", "good")
        else:
            controller.choose(found)

    def accept(self) -> None:
        """Accept what is proposed for the shot in hand; of shots that were read go to the next one."""
        controller = self._context.controller
        shot = controller.shot
        was_read = shot is not None and "/t_strike" in (shot.record.proposed or {})
        controller.accept()
        if was_read and shot is not None and controller.snapshot is not None:
            onward = next_proposed(controller.snapshot, shot.key)
            if onward is not None:
                controller.choose(onward)

    def ask_ball(self, ball: str, at: QPoint) -> QMenu | None:
        """Offer the balls of the game: which one is this? Only while something of the shot is proposed."""
        from ripasso.film.reading.reader import balls_of

        snapshot, record = self._context.controller.snapshot, self._context.pictures.record
        if snapshot is None or record is None or snapshot.head.game is None:
            return None
        if not record.proposed:
            self._context.say("This shot is accepted: its balls are placed with [ and ].")
            return None
        menu = QMenu(self._context.window)
        menu.setTitle("This ball is")
        for other in balls_of(snapshot.head.game):
            action = menu.addAction(word(other) if not other.isdigit() else other)
            if action is not None:
                action.setData(other)
                action.setEnabled(other != ball)
                action.triggered.connect(partial(self.rename, ball, other))
        pop_up(menu, at)
        return menu

    def rename(self, ball: str, right: str, _checked: bool = False) -> None:
        """Say which ball it is, here and in what is proposed later; a reading that goes on learns it."""
        record = self._context.pictures.record
        place = self._context.pictures.layout("before").get(ball) or self._context.pictures.layout(
            "after"
        ).get(ball)
        run = self._run
        if run is not None and run.reading is not None and record is not None and place is not None:
            at = record.t_strike if ball in self._context.pictures.layout("before") else record.t_rest
            run.reading.teach(float(at or 0.0), place, right)
        self._context.controller.perform(lambda now, shot: rename_ball(now, shot.key, ball, right))
