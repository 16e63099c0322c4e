"""A teaching film as a whole: its scenes, its parts, its pictures one after another; written to a file."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import ExitStack, closing
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from pathlib import Path

import numpy as np

from ripasso.drawing.raster import Box, Pixels
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.decoding.sound import RATE_HZ, Samples, blocks, has_sound
from ripasso.film.encoding.film_writer import FilmWriter, Progress
from ripasso.film.errors import FilmError
from ripasso.report.material import Material
from ripasso.report.teaching.pictures import Painter, bare_frame, frame_for
from ripasso.report.teaching.scenes import AnyScene, FilmedShot, Scene, first_film, scenes_of_page
from ripasso.report.teaching.timeline import Segment, run_of, segments_of
from ripasso.review.record.report import ReportPage

#: Films of more frames a second go out with so many; their denominators stay small (30000/1001).
MOST_RATE, DENOMINATOR = 60, 1001


@dataclass(frozen=True)
class TeachingFilm:
    """What is shown when, in what picture, at how many frames a second."""

    segments: tuple[Segment, ...]
    painter: Painter
    rate: Fraction
    has_sound: bool

    @property
    def size(self) -> tuple[int, int]:
        """Width and height, pixels."""
        return self.painter.frame.size

    @property
    def counts(self) -> list[int]:
        """How many pictures each part has; rounded from its ends, so that nothing drifts."""
        ends, at = [0], 0.0
        for segment in self.segments:
            at += segment.length_s
            ends.append(max(ends[-1] + 1, round(at * self.rate)))
        return [end - start for start, end in pairwise(ends)]


def teaching_film(material: Material, page: ReportPage, title: str) -> TeachingFilm:
    """The film of a page. Raises `FilmError` with a sentence where no scene can be shown, and `NotAQuery`."""
    scenes = list(scenes_of_page(material, page))
    index = first_film(scenes)
    if index is None:
        raise FilmError(nothing_to_show(scenes))
    about = material.plain(material.report.title)
    segments = tuple(segments_of(page, title, about, scenes))
    shots = [shot for scene in scenes if isinstance(scene, Scene) for shot in scene.shots]
    is_heard = any(shot.comment is not None for shot in shots)
    is_heard = is_heard or any(has_sound(path) for path in {shot.index.path for shot in shots})
    return TeachingFilm(segments, Painter(frame_for(index, page.diagram, scenes)), rate_of(index), is_heard)


def plain_film(shots: Sequence[FilmedShot]) -> TeachingFilm:
    """Shots one after another as they were filmed, without a stop, a word or a line."""
    scenes = [Scene((shot,)) for shot in shots]
    segments = tuple(run_of(scene) for scene in scenes)
    is_heard = any(has_sound(path) for path in {shot.index.path for shot in shots})
    index = shots[0].index
    return TeachingFilm(segments, Painter(bare_frame(index)), rate_of(index), is_heard)


def rate_of(index: FilmIndex) -> Fraction:
    """Pictures a second of what is made from a film."""
    return Fraction(min(index.frame_rate, MOST_RATE)).limit_denominator(DENOMINATOR)


def nothing_to_show(scenes: list[AnyScene]) -> str:
    """Why a film page has no film."""
    if not scenes:
        return "The film has no scene: Ctrl ⇧ E in Review puts the shot in hand into the report."
    missing = scenes[0]
    return getattr(missing, "sentence", "None of these shots has a film.")


def write_teaching_film(film: TeachingFilm, path: Path, progress: Progress | None = None) -> None:
    """Write a film; raises `FilmError`, or `Cancelled` once it was stopped, and leaves nothing."""
    progress = progress or Progress()
    progress.of = sum(film.counts)
    with _Screen(film) as screen, FilmWriter(path, film.size, film.rate, has_sound=film.has_sound) as writer:
        for segment, count in zip(film.segments, film.counts, strict=True):
            for picture, times in screen.pictures(segment, count):
                writer.picture(picture, times)
                progress.step(times)
            writer.sound_to_here(_heard(segment, film.has_sound))


def still_of(film: TeachingFilm, segment: Segment) -> Pixels:
    """The picture that a card, or a stop, shows."""
    with _Screen(film) as screen:
        return next(screen.pictures(segment, 1))[0]


def _heard(segment: Segment, has_any: bool) -> Samples | None:
    """The comment of a stop, or a film's own sound where it runs at its own speed."""
    if not has_any or not isinstance(segment.scene, Scene):
        return None
    if segment.comment is not None:
        return _sound(segment.comment, 0.0, segment.length_s)
    if segment.kind == "run" and segment.speed == 1.0:
        return _sound(segment.scene.shots[0].index.path, segment.from_s[0], segment.length_s)
    return None


def _sound(path: Path, start_s: float, length_s: float) -> Samples:
    wanted = round(length_s * RATE_HZ)
    made = np.zeros((wanted, 2), np.int16)
    for time_s, samples in blocks(path, start_s):
        first = round((time_s - start_s) * RATE_HZ)
        if first >= wanted:
            break
        part = samples[max(0, -first) : wanted - first]
        made[max(0, first) : max(0, first) + len(part)] = part
    return made


class _Screen:
    """Takes the pictures of films as they are wanted; each side has a reader of its own."""

    def __init__(self, film: TeachingFilm) -> None:
        self._film, self._painter = film, film.painter
        self._open = ExitStack()
        self._readers: dict[tuple[Path, int], FilmReader] = {}

    def __enter__(self) -> _Screen:
        return self

    def __exit__(self, *_error: object) -> None:
        self._open.close()

    def pictures(self, segment: Segment, count: int) -> Iterator[tuple[Pixels, int]]:
        """The pictures of a part, each with how often it is shown."""
        scene, painter = segment.scene, self._painter
        if segment.kind == "card" or not isinstance(scene, Scene):
            yield painter.card(segment.title, segment.words), count
            return
        picture = painter.around(scene, segment.kind)
        boxes = painter.frame.boxes(len(scene.shots))
        if segment.kind != "run":
            for place, (shot, box) in enumerate(zip(scene.shots, boxes, strict=True)):
                number = shot.index.number_at(segment.from_s[place])
                fitted = box.fitted(shot.index.width, shot.index.height)
                pixels = next(self._moving(shot.index, place, [number], fitted))
                painter.put_film(picture, pixels, fitted, painter.lines(shot, segment.kind))
            yield picture, count
            return
        yield from self._running(segment, scene.shots, boxes, picture, count)

    def _running(
        self, segment: Segment, shots: tuple[FilmedShot, ...], boxes: list[Box], picture: Pixels, count: int
    ) -> Iterator[tuple[Pixels, int]]:
        step = segment.speed / float(self._film.rate)
        fitted = [
            box.fitted(shot.index.width, shot.index.height) for shot, box in zip(shots, boxes, strict=True)
        ]
        moving = []
        for place, shot in enumerate(shots):
            start = segment.from_s[place]
            numbers = [shot.index.number_at(start + i * step) for i in range(count)]
            moving.append(self._moving(shot.index, place, numbers, fitted[place]))
        for pixels in zip(*moving, strict=True):
            for part, box in zip(pixels, fitted, strict=True):
                self._painter.put_film(picture, part, box)
            yield picture, 1

    def _moving(self, index: FilmIndex, place: int, numbers: list[int], box: Box) -> Iterator[Pixels]:
        """The pictures of these frames, in order, of a box's size; the last one stays where one lacks."""
        frames = self._reader(index, place).frames(numbers[0], numbers[-1])
        at, frame, pixels = -1, None, None
        for number in numbers:
            while at < number:
                following = next(frames, None)
                if following is None:
                    break
                at, frame, pixels = *following, None
            if frame is None:
                raise FilmError(f"Frame {number} of {index.path.name} cannot be decoded.")
            if pixels is None:
                pixels = frame.pixels("bgr24", (box.width, box.height))
            yield pixels

    def _reader(self, index: FilmIndex, place: int) -> FilmReader:
        key = (index.path, place)
        if key not in self._readers:
            self._readers[key] = self._open.enter_context(closing(FilmReader(index)))
        return self._readers[key]
