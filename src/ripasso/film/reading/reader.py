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
from ripasso.core.rules.lowest_first import LOWEST_FIRST
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.calibration.camera import Camera
from ripasso.film.decoding.frame import Frame
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.decoding.sound import clicks, has_sound
from ripasso.film.errors import FilmError, NoTable
from ripasso.film.reading.detection.colours import Palette
from ripasso.film.reading.detection.picture import BLACK, Bytes, share_of, small
from ripasso.film.reading.detection.rack import rack_places
from ripasso.film.reading.detection.stretches import StandingPictures, Stretch, shown_before, without_risen
from ripasso.film.reading.followed_camera import FollowedCamera
from ripasso.film.reading.following import Follower
from ripasso.film.reading.hearing import hear, window
from ripasso.film.reading.motion.shots import ReadShot
from ripasso.film.reading.telling import told
from ripasso.film.reading.viewpoints import Viewpoints

#: How many pictures show the table without people, and from how long a stretch they are taken, seconds.
SAMPLES, SAMPLED_S = 40, 240.0
#: A picture that is darker than this on average shows nothing (of 255; black is 16).
DARK = 20.0
#: A picture darker than this share of the usual light is blank.
BLANK = 0.45
#: What is said of a film in which nothing was found, and what a person can do.
NO_SHOTS = (
    "No shot was found in this film. Look whether it is this table and this game, and whether the lines of "
    "the view lie on the table; set it by hand if they do not."
)
#: Balls that run look larger than their discs, smeared and with a rest of shadow. Where the usual one of at
#: least so many is this much of a disc or less, the table is a larger one: nothing is sure then.
LEAST_RAN, SMALL_BALLS, AT_MOST_SURE = 4, 0.95, 0.5
OTHER_TABLE = (
    "The balls are smaller than those of this table would be: say which table it is, and which game. "
    "What was read is not sure."
)
#: What a camera does is kept from so long before a strike to so long after all lies still, seconds.
SHOWN_S = (3.0, 2.0)
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
        camera_s: float | None = None,
    ) -> None:
        """`camera` is the view of the full picture at `camera_s` (None: where reading begins).

        Without one it is found. Raises `FilmError`, `NoTable`.
        """
        self._index, self._recording, self._spec = index, recording, spec
        self._reader = FilmReader(index)
        self._next = index.number_at(start_s)
        self._start_s = start_s
        self._share = share_of((index.width, index.height))
        size = (index.width, index.height)
        samples = self._samples(camera_s if camera is not None else None)
        self._viewpoints = Viewpoints([picture for _, picture in samples], spec, self._share, size, camera)
        balls = balls_of(game)
        self._follower = Follower(
            self._viewpoints.now,
            spec,
            Palette.of_game(balls),
            balls,
            rack_places(game, spec),
            lowest_first=game in LOWEST_FIRST,
        )
        self._sampled = {id(picture): time_s for time_s, picture in samples}
        #: From when on which camera of the film shows the table, and what it does meanwhile.
        self.views = [self._view_from(start_s)]
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
                self._learn()
                found = self._new(self._followed(number, self._index.time_s(number), frame))
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

    def read_up_to(self, number: int) -> None:
        """Read on, up to and with a frame, whatever the shots are; raises `FilmError`."""
        for at, frame in self._reader.frames(min(self._next, number), number):
            if at >= self._next:
                self._followed(at, self._index.time_s(at), frame)
                self._next = at + 1

    def _followed(self, number: int, time_s: float, frame: Frame) -> list[ReadShot]:
        """The shots that are complete with a frame; one of a camera that shows no table shows nothing."""
        before = self._viewpoints.now
        seen = small(frame, self._share)
        self._standing.add(time_s, seen)
        picture = self._viewpoints.take(seen)
        if picture is None:
            self._follower.sight.unseen()
            return []
        if self._viewpoints.now is not before:
            lying = [t.place for t in self._follower.things if t.place is not None]
            self._viewpoints.choose_end(lying, picture)
        now = self._viewpoints.now
        if now is not before:
            self.views.append(self._view_from(time_s))
            self._follower.see_from(now, picture, time_s)
        if not now.normaliser.is_lost:
            self.views[-1].add(time_s, now.normaliser.motion)
        look = partial(now.normaliser.large, frame)
        return self._follower.add(number, time_s, picture, look, now.normaliser.ceiling)

    @property
    def camera(self) -> Camera:
        """The camera that was known, or the one that shows most of the film; of the full picture."""
        return self._viewpoints.main.camera

    def _view_from(self, time_s: float) -> FollowedCamera:
        now = self._viewpoints.now
        return FollowedCamera(time_s, now.camera, self._sampled[id(self._viewpoints.first_seen(now))])

    def stated_views(self) -> list[JsonObject]:
        """The views as a session file states them: the first holds from the start, each other from a cut.

        What a camera does is kept about the shots: between them nobody asks where a ball lies.
        """
        spans = [(shot.t_strike - SHOWN_S[0], shot.t_rest + SHOWN_S[1]) for shot in self._follower.shots]
        first, *others = [(view.start_s, view.as_data(spans)) for view in self.views]
        return [first[1], *({"from": round(start_s, 3)} | data for start_s, data in others)]

    @property
    def view_sure(self) -> float:
        """How sure the places are that its cameras show; 1 for one that was known."""
        return self._viewpoints.sure

    def shots(self) -> list[Told]:
        """All shots read so far, with the names that everything seen since speaks for."""
        self._learn()
        played = [shot for shot in self._follower.shots if not self._is_shown_again(shot)]
        return [self._told(shot) for shot in sorted(played, key=lambda shot: shot.t_strike)]

    @property
    def notice(self) -> str | None:
        """What is to be said of a film that was read: it ended early, or nothing was found in it."""
        if self._is_other_table:
            return OTHER_TABLE
        if self.ended_early or self.shots():
            return self.ended_early
        if self._start_s > 0:
            return (
                f"No further shot was found in this film after {self._start_s:.0f} s, where it was read from."
            )
        return NO_SHOTS

    def lying(self) -> dict[str, Place]:
        """The balls that lie on the table now and have a name, metres."""
        names = self._follower.names()
        return {
            names[thing.key].ball: thing.place
            for thing in self._follower.things
            if thing.place is not None and thing.key in names
        }

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

    @property
    def _is_other_table(self) -> bool:
        """Whether balls are smaller than those of this table would be."""
        sizes = [size for shot in self._follower.shots for size in shot.sizes]
        return len(sizes) >= LEAST_RAN and float(np.median(sizes)) <= SMALL_BALLS

    def _told(self, shot: ReadShot) -> Told:
        most = AT_MOST_SURE if self._is_other_table else 1.0
        values = told(shot, self._follower.names(shot.rack), self._recording, self._spec)
        # Where a ball lies and which pocket it fell into hang on the view; times do not.
        places = ("/before", "/after", "/path", "/facts/potted")
        values["proposed"] = {
            pointer: round(
                most
                * share
                * self._viewpoints.covered
                * (self.view_sure if pointer.startswith(places) else 1.0),
                3,
            )
            for pointer, share in values["proposed"].items()
        }
        return Told(shot.rack, values)

    def _samples(self, first_s: float | None = None) -> list[tuple[float, Bytes]]:
        """Pictures (and times) from all over the beginning of the film, blank ones left out.

        The one at `first_s` comes before all others.
        """
        first, until = self._next, self._index.number_at(self._index.time_s(self._next) + SAMPLED_S)
        wanted = np.linspace(first, max(first, until), SAMPLES).round().astype(int)
        keys = sorted({max(first, self._index.key_frame_before(int(n))) for n in wanted})
        if len(keys) < SAMPLES / 3:
            keys = list(range(first, until + 1, max(1, (until - first) // SAMPLES)))
        if first_s is not None:
            keys.insert(0, self._index.number_at(first_s))
        pictures: list[tuple[float, Bytes]] = []
        for number in keys:
            try:
                seen = small(self._reader.frame(number), self._share)
            except FilmError:
                continue
            pictures.append((self._index.time_s(number), seen))
        if not pictures:
            raise FilmError(f"{self._index.path.name} holds no picture that can be read.")
        light = np.array([float(seen[..., 0].mean()) for _, seen in pictures])
        if (light < DARK).all():
            raise NoTable(f"{self._index.path.name} is dark all through: no table can be seen in it.")
        light -= BLACK
        usual = float(np.median(light[light >= np.median(light)]))
        return [one for one, value in zip(pictures, light, strict=True) if value > BLANK * usual]
