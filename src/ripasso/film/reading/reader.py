"""A whole recording read from front to back: the table, then frame by frame the shots.

A reading can be stopped between any two frames and goes on from there. Memory does not grow with the film:
what is kept of a shot is its values.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from queue import SimpleQueue

import numpy as np

from ripasso.core.json_data import JsonObject
from ripasso.core.table import TableSpec
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.views import scaled
from ripasso.film.decoding.frame import Frame
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.decoding.sound import clicks, has_sound
from ripasso.film.errors import FilmError
from ripasso.film.reading.detection.colours import Palette
from ripasso.film.reading.detection.ground import Ground, area_of
from ripasso.film.reading.detection.picture import Bytes, share_of, small
from ripasso.film.reading.detection.rack import rack_places
from ripasso.film.reading.detection.resting import Discs
from ripasso.film.reading.detection.stretches import StandingPictures, Stretch, shown_before, without_risen
from ripasso.film.reading.following import Follower
from ripasso.film.reading.hearing import hear, window
from ripasso.film.reading.motion.shots import ReadShot
from ripasso.film.reading.normalising.exposure import lit_alike
from ripasso.film.reading.normalising.normaliser import Normaliser
from ripasso.film.reading.normalising.stabiliser import Stabiliser, aligned, any_moved
from ripasso.film.reading.telling import told

#: How many pictures show the table without people, and from how long a stretch they are taken, seconds.
SAMPLES, SAMPLED_S = 40, 240.0
#: A picture darker than this share of the usual light is blank.
BLANK = 0.45
#: What is said of a film in which nothing was found, and what a person can do.
NO_SHOTS = (
    "No shot was found in this film. Look whether the lines of its view lie on the table, set it by hand if "
    "they do not."
)
#: Progress is told every so many frames.
TELL_EVERY = 25

POOL_BALLS = ("cue", *(str(i) for i in range(1, 16)))
SNOOKER_BALLS = (
    "cue",
    *(f"red{i}" for i in range(1, 16)),
    "yellow",
    "green",
    "brown",
    "blue",
    "pink",
    "black",
)
LAST_BALL = {"nine_ball": 9, "ten_ball": 10}


def balls_of(game: str) -> tuple[str, ...]:
    """The balls of a game, the cue ball first."""
    return SNOOKER_BALLS if game == "snooker" else POOL_BALLS[: 1 + LAST_BALL.get(game, 15)]


@dataclass(frozen=True)
class Told:
    """A shot as a session file says it, and the rack of the film it belongs to (1 first)."""

    rack: int
    values: JsonObject


class FilmReading:
    """Reads one recording; `run` it, stop it through `is_wanted`, and run it again to go on."""

    def __init__(
        self,
        index: FilmIndex,
        game: str,
        spec: TableSpec,
        camera: Camera | None,
        recording: str = "film",
        start_s: float = 0.0,
    ) -> None:
        """`camera` is the view of the full picture; None: it is found. Raises `FilmError`, `NoTable`."""
        self._index, self._recording = index, recording
        self._reader = FilmReader(index)
        self._next = index.number_at(start_s)
        self._start_s = start_s
        self._share = share_of((index.width, index.height))
        seen = self._samples()
        self.view_sure = 1.0
        if camera is None:
            small_camera, self.view_sure, stabiliser, samples = _found(seen, spec)
        else:
            small_camera = scaled(camera, self._share)
            stabiliser, samples = aligned(seen, small_camera.focal_px)
        self.camera = camera or scaled(small_camera, 1 / self._share)
        self._covered = _covered(self.camera, spec, (index.width, index.height))
        area = area_of(small_camera, spec, samples[0].shape[:2])
        samples = lit_alike(samples, area.surface)
        self._normaliser = Normaliser(stabiliser, samples, area.surface, self._share)
        discs = Discs(small_camera, spec.ball_radius, self._share)
        balls = balls_of(game)
        self._follower = Follower(
            Ground(samples, area, spec),
            discs,
            spec,
            Palette.of_game(balls),
            balls,
            rack_places(game, spec),
        )
        self.ended_early: str | None = None
        self._is_heard = has_sound(index.path)
        self._standing = StandingPictures()
        self._again: list[tuple[ReadShot, Stretch]] = []
        self._lessons: SimpleQueue[tuple[float, tuple[float, float], str]] = SimpleQueue()

    def close(self) -> None:
        """Close the film."""
        self._reader.close()

    @property
    def share(self) -> float:
        """How much of the film is read, 0 to 1."""
        return self._next / max(1, len(self._index))

    @property
    def read_to_s(self) -> float:
        """The time up to which the film is read."""
        return self._index.time_s(min(self._next, len(self._index) - 1))

    def run(
        self,
        is_wanted: Callable[[], bool] = lambda: True,
        on_progress: Callable[[float], None] = lambda share: None,
        on_shots: Callable[[Sequence[Told]], None] = lambda shots: None,
    ) -> bool:
        """Read on until the end (True), or until it is not wanted any more (False).

        A film that cannot be decoded any further is read up to there; `ended_early` says so in a sentence.
        """
        last = len(self._index) - 1
        try:
            for number, frame in self._reader.frames(min(self._next, last), last):
                if number < self._next:
                    continue
                picture, time_s = self._normaliser.small(frame), self._index.time_s(number)
                self._learn()
                self._standing.add(time_s, picture)
                found = self._new(self._followed(number, time_s, picture, frame))
                self._next = number + 1
                if found:
                    on_shots([self._told(shot) for shot in found])
                if number % TELL_EVERY == 0:
                    on_progress(self.share)
                    if not is_wanted():
                        return False
        except FilmError as error:
            self.ended_early = f"{error} It was read up to {self.read_to_s:.1f} s."
        if (self._next <= last or self._index.is_cut_off) and self.ended_early is None:
            name = self._index.path.name
            self.ended_early = f"{name} ends early: it was read up to {self.read_to_s:.1f} s."
        self._learn()
        found = self._new(self._follower.finish())
        if found:
            on_shots([self._told(shot) for shot in found])
        on_progress(1.0)
        return True

    def _followed(self, number: int, time_s: float, picture: Bytes, frame: Frame) -> list[ReadShot]:
        """The shots that are complete with a frame; one of another camera shows nothing."""
        if self._normaliser.is_elsewhere:
            self._follower.sight.unseen()
            return []
        look = partial(self._normaliser.large, frame)
        return self._follower.add(number, time_s, picture, look, self._normaliser.ceiling)

    def shots(self) -> list[Told]:
        """All shots read so far, with the names that everything seen since speaks for."""
        self._learn()
        played = [shot for shot in self._follower.shots if not self._is_shown_again(shot)]
        return [self._told(shot) for shot in sorted(played, key=lambda shot: shot.t_strike)]

    @property
    def notice(self) -> str | None:
        """What is to be said of a film that was read: it ended early, or nothing was found in it."""
        if self.ended_early or self.shots():
            return self.ended_early
        if self._start_s > 0:
            return (
                f"No further shot was found in this film after {self._start_s:.0f} s, where it was read from."
            )
        return NO_SHOTS

    def stretches(self) -> list[Stretch]:
        """What is not the match as it ran: cuts and close-ups, stopped pictures, shots shown again."""
        cuts = [Stretch("cut_out", a, b, 0.8) for a, b in self._follower.sight.gaps]
        found = [*cuts, *self._standing.stretches(), *(stretch for _, stretch in self._again)]
        return sorted(found, key=lambda stretch: stretch.start_s)

    def teach(self, time_s: float, place: tuple[float, float], ball: str) -> None:
        """Somebody says which ball lies at a place when a shot begins or is over: so it is in all shots.

        It may be called while the film is read in another thread, which learns it before its next frame.
        """
        self._lessons.put((time_s, place, ball))

    def _learn(self) -> None:
        while not self._lessons.empty():
            self._follower.say(*self._lessons.get())

    def _is_shown_again(self, shot: ReadShot) -> bool:
        return any(again is shot for again, _ in self._again)

    def _new(self, shots: Sequence[ReadShot]) -> list[ReadShot]:
        """The shots that are not an earlier one shown again; strikes are moved to what is heard of them."""
        new = []
        for shot in shots:
            earlier = [
                other
                for other in self._follower.shots
                if other.t_strike < shot.t_strike and not self._is_shown_again(other)
            ]
            again = shown_before(shot, earlier)
            if again is not None:
                self._again.append((shot, again))
                continue
            if self._again:
                without_risen(shot, {key for other in earlier for key, _, _ in other.potted})
            if self._is_heard:
                hear(shot, clicks(self._index.path, *window(shot)))
            new.append(shot)
        return new

    def _told(self, shot: ReadShot) -> Told:
        values = told(shot, self._follower.names(shot.rack), self._recording)
        # Where a ball lies and which pocket it fell into hang on the view; times do not.
        places = ("/before", "/after", "/path", "/facts/potted")
        values["proposed"] = {
            pointer: round(share * self._covered * (self.view_sure if pointer.startswith(places) else 1.0), 3)
            for pointer, share in values["proposed"].items()
        }
        return Told(shot.rack, values)

    def _samples(self) -> list[Bytes]:
        """Pictures from all over the beginning of the film, blank ones left out."""
        first, until = self._next, self._index.number_at(self._index.time_s(self._next) + SAMPLED_S)
        wanted = np.linspace(first, max(first, until), SAMPLES).round().astype(int)
        keys = sorted({max(first, self._index.key_frame_before(int(n))) for n in wanted})
        if len(keys) < SAMPLES / 3:
            keys = list(range(first, until + 1, max(1, (until - first) // SAMPLES)))
        pictures: list[Bytes] = []
        for number in keys:
            try:
                pictures.append(small(self._reader.frame(number), self._share))
            except FilmError:
                continue
        if not pictures:
            raise FilmError(f"{self._index.path.name} holds no picture that can be read.")
        light = np.array([float(p[..., 0].mean()) - 16 for p in pictures])
        usual = float(np.median(light[light >= np.median(light)]))
        return [p for p, value in zip(pictures, light, strict=True) if value > BLANK * usual]


def _found(seen: Sequence[Bytes], spec: TableSpec) -> tuple[Camera, float, Stabiliser, list[Bytes]]:
    """The camera of small pictures (n, height, width, 3), how sure it is, and the pictures moved alike."""
    from ripasso.film.reading.detection.table import find_table

    stabiliser, samples = aligned(seen)
    found = find_table(np.median(np.stack(samples), axis=0).astype(np.uint8), spec)
    if any_moved(samples, seen):
        # How a picture moves when its camera turns hangs on the lens: now that is known.
        stabiliser, samples = aligned(seen, found.camera.focal_px)
        found = find_table(np.median(np.stack(samples), axis=0).astype(np.uint8), spec)
    return found.camera, found.sure, stabiliser, samples


def _covered(camera: Camera, spec: TableSpec, size: tuple[int, int]) -> float:
    """The share of the table's surface that lies in the picture."""
    x, y = np.meshgrid(np.linspace(0, spec.length, 24), np.linspace(0, spec.width, 12))
    pixels = camera.project(np.column_stack((x.ravel(), y.ravel(), np.zeros(x.size))))
    inside = (pixels >= 0).all(axis=1) & (pixels[:, 0] < size[0]) & (pixels[:, 1] < size[1])
    return float(inside.mean())
