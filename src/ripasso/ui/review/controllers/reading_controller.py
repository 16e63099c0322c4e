"""Reading a film in Review: in the background, its shots coming in as proposals, stopped and gone on with."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu

from ripasso.film.calibration.views import camera_of
from ripasso.review.language.vocabulary import count, word
from ripasso.review.recordings.proposed_shots import (
    forget_reading,
    next_proposed,
    next_uncertain,
    read_to,
    rename_ball,
)
from ripasso.review.recordings.views import view_at
from ripasso.ui.review.controllers.reading_queue import FilmRead, FilmToRead, ReadingQueue, ReadingRun
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.widgets.basics import pop_up

#: A view found surer than this is told with its head end.
SURE_OF_VIEW = 0.9


class ReadingController:
    """The keys of reading, for the page whose parts it has; the queue reads films of any session."""

    def __init__(self, context: ReviewContext) -> None:
        self._context = context
        self.queue = ReadingQueue(
            context.background, context.workspace.document.session, context.controller.perform_other
        )
        self.queue.begun.connect(self._begun)
        self.queue.progressed.connect(self._show_progress)
        self.queue.ended.connect(self._ended)
        self.queue.failed.connect(self._failed)
        context.table.ball_asked.connect(self.ask_ball)

    @property
    def busy(self) -> bool:
        """A film is being read."""
        return self.queue.current is not None

    def toggle(self) -> None:
        """Read the film in hand; while it is read, stop; stopped, go on. While another is read, it waits."""
        film = self._film_in_hand()
        if film is None:
            return
        run = self.queue.find(film.session, film.recording)
        if run is not None and run is self.queue.current:
            self.queue.stop(run)
        elif run is not None and run in self.queue.waiting:
            self.queue.stop(run)
            self._context.say("This film is not read after all.")
        else:
            run = self.queue.add(film)
            self._context.say(self._start_words(run))

    def _start_words(self, run: ReadingRun) -> str:
        if run is not self.queue.current:
            before = count(len(self.queue.waiting), "film")
            return f"This film is read after {before} before it."
        if run.reading is not None:
            return "Reading goes on."
        return "The film is being read: its table first, then shot by shot. The same key stops it."

    def put_away(self) -> None:
        """Nothing is read any more, as when the window closes."""
        self.queue.drop_all()

    def show_progress(self) -> None:
        """How far the film on show is read, or that another one is being read."""
        transport, run = self._context.shots.transport, self.queue.current
        if run is None or run.reading is None:
            transport.show_reading(0.0, "", "")
            return
        speed = run.speed()
        tip = f"Read at {speed:.1f} times the speed of the film." if speed else ""
        if self._is_in_hand(run):
            transport.show_reading(run.read_to_s, run.left_words(), tip)
        else:
            words = run.left_words()
            transport.show_reading(0.0, f"Other film {words}", f"Another film is being read: {words}.")

    def _show_progress(self, _run: ReadingRun) -> None:
        self.show_progress()

    def _is_in_hand(self, run: ReadingRun) -> bool:
        snapshot, recording = self._context.controller.snapshot, self._context.film_controller.recording
        return (
            snapshot is not None
            and recording is not None
            and (snapshot.key, recording.id) == (run.film.session, run.film.recording)
        )

    def _film_in_hand(self) -> FilmToRead | None:
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
        return FilmToRead(
            snapshot.key,
            recording.id,
            snapshot.head.title,
            index,
            snapshot.head.game,
            self._context.pictures.spec,
            camera_of(view.camera if view else None),
            float(view.at) if view is not None and view.at is not None else None,
            start_s,
        )

    # What the queue tells

    def _begun(self, run: ReadingRun) -> None:
        self.show_progress()
        if run.film.camera is not None or run.reading is None or not self._is_in_hand(run):
            return
        if run.reading.view_sure > SURE_OF_VIEW:
            self._context.say(
                "The table was found. ⇧V shows its lines on the film: Return keeps them, a drag mends them.",
                "good",
            )
        else:
            self._context.say("The table was found, but not which end is the head: ⇧V says it.", "unsure")

    def _ended(self, told: tuple[ReadingRun, FilmRead | None]) -> None:
        run, read = told
        self.show_progress()
        of = self._of(run)
        if read is None:
            self._context.say(f"{of}Reading is stopped; the same key goes on with it.")
        elif read.notice:
            self._context.say(f"{of}{read.notice}", "unsure")
        else:
            words = f"{of}The film is read: {read.shots} shots proposed."
            if not of:
                words += " Return accepts one and goes to the next."
            if read.stretches:
                words += f" {count(read.stretches, 'stretch', 'stretches')} not live: ⇧O lists them."
            self._context.say(words, "good")

    def _failed(self, told: tuple[ReadingRun, str]) -> None:
        run, sentence = told
        self.show_progress()
        self._context.say(f"{self._of(run)}{sentence}", "bad")

    def _of(self, run: ReadingRun) -> str:
        """Which session a sentence is of, where another one is on show."""
        snapshot = self._context.controller.snapshot
        return "" if snapshot is not None and snapshot.key == run.film.session else f"{run.film.title}: "

    # Accepting and correcting

    def forget(self) -> None:
        """Take the whole reading back, as one step of undo."""
        recording = self._context.film_controller.recording
        if recording is None:
            self._context.say("There is no reading to take back.")
            return
        snapshot = self._context.controller.snapshot
        if snapshot is not None:
            self.queue.drop(snapshot.key, recording.id)
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
        snapshot, film = self._context.controller.snapshot, self._context.film_controller.recording
        run = self.queue.find(snapshot.key, film.id) if snapshot is not None and film is not None else None
        if run is not None and run.reading is not None and record is not None and place is not None:
            at = record.t_strike if ball in self._context.pictures.layout("before") else record.t_rest
            run.reading.teach(float(at or 0.0), place, right)
        self._context.controller.perform(lambda now, shot: rename_ball(now, shot.key, ball, right))
