"""Which film belongs to the shot in hand, and what time it is there: between controller and player."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from ripasso.core.json_data import JsonMapping
from ripasso.review.document.document import Document
from ripasso.review.document.edits import Path as ValuePath
from ripasso.review.document.edits import set_values
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.marking import Moment
from ripasso.review.language.vocabulary import clock
from ripasso.review.present.describing import player_name, shot_title
from ripasso.review.record.model import Recording, Shot, serialize
from ripasso.review.record.parts import Fingerprint
from ripasso.review.record.values import Number
from ripasso.review.recordings.film_parts import ShotClip
from ripasso.review.recordings.films import time_in
from ripasso.ui.review.film.film_player import FilmPlayer
from ripasso.ui.review.film.side_by_side import Pinned
from ripasso.ui.review.state.review_controller import ReviewController

#: The recording of a session without film: its times are seconds of the clock since the first mark.
CLOCK = "clock"
#: A loop begins so long before the strike and ends so long after the rest; a shot whose end is not marked.
AROUND_S, UNENDED_S = 0.5, 4.0


class FilmController:
    """Opens the film of the session in hand, goes to its marks, and tells the moment for a new one."""

    def __init__(
        self,
        document: Document,
        controller: ReviewController,
        player: FilmPlayer,
        say: Callable[[str, str], None],
    ) -> None:
        self._document, self._controller, self._player, self._say = document, controller, player, say
        self._opened: tuple[str, str] | None = None
        self._clock_start: float | None = None
        self._stretch: Moment | None = None
        #: Where moved films were found, by where they were: an undo must not lose them again.
        self._found: dict[str, Path] = {}
        #: The film that was chosen by hand, and the shot that was in hand then.
        self._chosen: tuple[str, str | None] | None = None
        #: What the film before showed when another was chosen.
        self.left: Moment | None = None

    @property
    def recording(self) -> Recording | None:
        """The film on show: that of the shot in hand, a camera chosen beside it, else the session's first.

        A film that runs by itself is shown until another shot is taken in hand.
        """
        snapshot, shot = self._controller.snapshot, self._controller.shot
        recordings = (snapshot.head.recordings if snapshot else None) or ()
        main = self._marked_in
        if self._chosen is not None and snapshot is not None:
            chosen, at = self._chosen
            runs_with = main is not None and time_in(snapshot.head, 0.0, main.id, chosen) is not None
            if runs_with or at == (shot.key if shot else None):
                return next((one for one in recordings if one.id == chosen), main)
        return main

    @property
    def _marked_in(self) -> Recording | None:
        """The recording of the shot in hand, else the session's first film."""
        snapshot, shot = self._controller.snapshot, self._controller.shot
        recordings = (snapshot.head.recordings if snapshot else None) or ()
        wanted = shot.record.recording if shot else None
        for recording in recordings:
            if recording.id == wanted:
                return recording
        return next((r for r in recordings if r.file), None)

    def choose(self, film: str) -> None:
        """Show another film of the session: at the same moment where the two run together."""
        snapshot, before, time_s = self._controller.snapshot, self.recording, self._player.time_s
        shot = self._controller.shot
        if snapshot is None:
            return
        self.left = Moment(before.id, time_s) if before is not None and time_s is not None else None
        self._chosen = film, shot.key if shot else None
        at = time_in(snapshot.head, time_s or 0.0, before.id if before else None, film)
        self._open_at(at if at is not None else 0.0)

    def shown(self) -> Moment | None:
        """The film on show and its own time."""
        recording, time_s = self.recording, self._player.time_s
        return Moment(recording.id, time_s) if recording is not None and time_s is not None else None

    def other_camera(self) -> None:
        """The next film that shows this moment as well, or the session's next film."""
        snapshot, now = self._controller.snapshot, self.recording
        films = [one.id for one in (snapshot.head.recordings if snapshot else None) or () if one.file]
        if snapshot is None or now is None or len(films) < 2:
            self._say("This session has one film; Alt F adds another.", "plain")
            return
        place = films.index(now.id) if now.id in films else -1
        following = films[place + 1 :] + films[: max(place, 0)]
        together = [one for one in following if time_in(snapshot.head, 0.0, now.id, one) is not None]
        self.choose((together or following)[0])

    def marks(self, shot: Shot) -> tuple[float | None, float | None]:
        """Strike and rest of a shot in times of the film on show; None where they are not in it."""
        snapshot, film = self._controller.snapshot, self.recording

        def here(mark: Number | None) -> float | None:
            if mark is None or snapshot is None or film is None or film.id == shot.recording:
                return None if mark is None else float(mark)
            return time_in(snapshot.head, float(mark), shot.recording, film.id)

        return here(shot.t_strike), here(shot.t_rest)

    @property
    def has_film(self) -> bool:
        """The session in hand names a film, whether or not it can be opened."""
        recording = self.recording
        return recording is not None and bool(recording.file)

    def put_away(self) -> None:
        """Close the film and forget the clock, as when another session is taken in hand."""
        self._player.close()
        self._opened, self._clock_start, self._stretch = None, None, None
        self._chosen = self.left = None

    def follow(self) -> bool:
        """Open the film that belongs to the shot in hand; True when it is a new one."""
        shot = self._controller.shot
        strike = self.marks(shot.record)[0] if shot is not None else None
        return self._open_at(max(0.0, strike or 0.0))

    def _open_at(self, time_s: float) -> bool:
        recording = self.recording
        if recording is None or not recording.file:
            if self._opened is not None:
                self._player.close()
            self._opened = None
            return False
        place = (recording.id, recording.file)
        if self._opened == place:
            return False
        self._opened = place
        self._player.open(self._found.get(recording.file, Path(recording.file)), time_s)
        return True

    def lost_film(self) -> tuple[JsonMapping, Path] | None:
        """The fingerprint of the film in hand and where it was, when it is not there any more."""
        recording = self.recording
        if recording is None or not recording.file or not isinstance(recording.fingerprint, Fingerprint):
            return None
        path = Path(recording.file)
        return (serialize(recording.fingerprint), path) if not path.exists() else None

    def found_at(self, recording: str, path: Path) -> None:
        """A film that was moved is there now; its marks stay."""
        snapshot = self._controller.snapshot
        if snapshot is None:
            return
        listed = [serialize(one) for one in snapshot.head.recordings or ()]
        for one in listed:
            if one.get("id") == recording:
                self._found[str(one.get("file"))] = path
                one["file"] = str(path)
        values: dict[ValuePath, object] = {("recordings",): listed}
        self._controller.perform_session(
            lambda now: set_values(now, "session", now.key, values, "Find the moved film")
        )
        self._say(f"The film was moved; it is found again: {path.name}.", "good")

    def moment(self) -> Moment | None:
        """Now: the frame on screen, or the clock where there is no film; None is explained."""
        snapshot, recording = self._controller.snapshot, self.recording
        if snapshot is None:
            return None
        if recording is None or not recording.file:
            return self._clock_moment(snapshot)
        time_s = self._player.time_s
        if time_s is None:
            self._say("The film is not open, so there is no frame to mark.", "bad")
            return None
        # A second camera shows the moment; it is marked in the film that it runs with.
        main = recording.same_time.recording if recording.same_time is not None else recording.id
        at = time_in(snapshot.head, time_s, recording.id, main)
        return Moment(main, round(at, 6)) if at is not None else Moment(recording.id, round(time_s, 6))

    def _clock_moment(self, snapshot: Snapshot) -> Moment | None:
        """Seconds since the first mark; a later sitting goes on a second after the last mark."""
        now = time.monotonic()
        if self._document.read_only:
            self._say("This library is open for reading only, so nothing can be marked in it.", "bad")
            return None
        if self._clock_start is None:
            recordings = snapshot.head.recordings or ()
            if not any(r.id == CLOCK for r in recordings):
                listed = [*(serialize(r) for r in recordings), {"id": CLOCK}]
                label = "Take the time from the clock"
                values: dict[ValuePath, object] = {("recordings",): listed}
                command = set_values(snapshot, "session", snapshot.key, values, label)
                if not self._controller.perform_other(command):
                    return None
            marked = [s.record for s in snapshot.shots if s.record.recording == CLOCK]
            last = max((float(s.t_rest or s.t_strike or 0) for s in marked), default=-1.0)
            self._clock_start = now - (last + 1.0)
        return Moment(CLOCK, round(now - self._clock_start, 3))

    @property
    def stretch(self) -> Moment | None:
        """Where a stretch of the film was begun that has no end yet."""
        recording = self.recording
        begun = self._stretch
        return begun if begun and recording and begun.recording == recording.id else None

    def begin_stretch(self) -> None:
        """A replay, a pause or a cut begins at the frame on screen."""
        if not self.has_film:
            self._say("There is no film here of which to say something.", "plain")
            return
        self._stretch = self.moment()
        if self._stretch is not None:
            self._say(
                f"A stretch begins at {clock(self._stretch.t)}; ⇧O ends it and says what it is.", "plain"
            )

    def end_stretch(self) -> tuple[Moment | None, Moment] | None:
        """Where the stretch began (None: it was not begun) and now; None without a film."""
        if not self.has_film:
            self._say("There is no film here of which to say something.", "plain")
            return None
        now = self.moment()
        if now is None:
            return None
        begun, self._stretch = self.stretch, None
        return begun, now

    def to_mark(self, *, rest: bool) -> None:
        """Show the strike of the shot in hand, or its end."""
        shot = self._controller.shot
        strike, end = self.marks(shot.record) if shot is not None else (None, None)
        if strike is None:
            return
        self._player.pause()
        self._player.seek(end if rest and end is not None else strike)

    def play_clip(self, clip: ShotClip) -> None:
        """Show a place on film and run on from it; a film that is not open yet is opened there."""
        snapshot = self._controller.snapshot
        recordings = (snapshot.head.recordings if snapshot else None) or ()
        recording = next((r for r in recordings if r.id == clip.recording and r.file), None)
        if recording is None or not recording.file:
            self._say("The film of this clip is not known here.", "unsure")
            return
        if self._opened != (recording.id, recording.file):
            self._opened = (recording.id, recording.file)
            path = self._found.get(recording.file, Path(recording.file))
            self._player.open(path, clip.start_s)
            return
        self._player.seek(clip.start_s)
        self._player.play()

    def toggle_loop(self) -> None:
        """Play the shot in hand again and again, or go on as usual."""
        if self._player.loop is not None:
            self._player.set_loop(None)
            self._say("The film goes on at the end of the shot.", "plain")
            return
        stretch = self._shot_stretch()
        if stretch is None:
            self._say("A loop needs a shot with a strike on a film that is open.", "plain")
            return
        self._player.set_loop(stretch)
        self._player.play()

    def pinned(self) -> Pinned | None:
        """The shot in hand, to be shown beside another one; None where it is not on film."""
        snapshot, shot, index = self._controller.snapshot, self._controller.shot, self._player.index
        strike = self.marks(shot.record)[0] if shot is not None else None
        if snapshot is None or shot is None or index is None or strike is None:
            return None
        title = shot_title(shot.record, self._controller.shot_score, snapshot.head.game)
        words = f"{title}, {player_name(snapshot.head, shot.record.player)}"
        return Pinned(index.path, strike, words)

    def since_strike(self) -> float | None:
        """Seconds from the strike of the shot in hand to the frame on screen."""
        shot, now = self._controller.shot, self._player.time_s
        strike = self.marks(shot.record)[0] if shot is not None else None
        return now - strike if now is not None and strike is not None else None

    def follow_loop(self) -> None:
        """Another shot was taken in hand: while a loop runs, it is that one's."""
        if self._player.loop is not None:
            self._player.set_loop(self._shot_stretch())

    def _shot_stretch(self) -> tuple[float, float] | None:
        """The shot in hand on film, half a second before and after; None where it is not marked."""
        shot, index = self._controller.shot, self._player.index
        strike, rest = self.marks(shot.record) if shot is not None else (None, None)
        if index is None or strike is None:
            return None
        end = min((rest if rest is not None else strike + UNENDED_S) + AROUND_S, index.duration_s)
        return (max(0.0, strike - AROUND_S), max(end, strike))

    def move(self, seconds: float) -> None:
        """So many seconds on, or back."""
        if self._player.time_s is not None:
            self._player.seek(self._player.time_s + seconds)
