"""The pictures of a teaching film: the film with lines in it, the table beside or below, words under it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ripasso.drawing.primitives import Drawing
from ripasso.drawing.raster import Box, Pixels, line_px, put_drawing, put_text, text_size
from ripasso.drawing.seats import ViewingSide, extent
from ripasso.film.decoding.index import FilmIndex
from ripasso.report.teaching.scenes import AnyScene, FilmedShot, Scene
from ripasso.report.teaching.timeline import Kind, said_at
from ripasso.review.record.report import Diagram
from ripasso.style.palette import PAPER, soft_share

#: Shares of the picture's height: letters, the margin of words, the table below.
LETTERS, MARGIN, TABLE_BELOW = 0.033, 0.016, 0.5
SMALLEST_LETTERS_PX = 13
#: Letters of a card's title, in those of captions.
CARD_TITLE = 1.7
GROUND, WORDS, QUIET = PAPER["film"], PAPER["film_ink"], PAPER["side_ink"]


@dataclass(frozen=True)
class Frame:
    """The picture of a teaching film: where films, table and words lie in it (pixels)."""

    film: Box
    table: Box | None
    words: Box
    size: tuple[int, int]
    letters_px: int

    def boxes(self, shots: int) -> list[Box]:
        """Where the films of one shot, or of two side by side, lie."""
        if shots == 1:
            return [self.film]
        half = self.film.width // 2
        return [Box(self.film.left + place * half, self.film.top, half, self.film.height) for place in (0, 1)]

    def word_boxes(self, shots: int) -> list[Box]:
        """Where the words of each lie."""
        part = self.words.width // shots
        return [
            Box(self.words.left + i * part, self.words.top, part, self.words.height) for i in range(shots)
        ]


def frame_for(index: FilmIndex, diagram: Diagram | None, scenes: Sequence[AnyScene]) -> Frame:
    """The picture for a film's size, with room for the longest caption; its sides are even."""
    width, height = index.width - index.width % 2, index.height - index.height % 2
    letters = max(SMALLEST_LETTERS_PX, round(LETTERS * height))
    margin = max(4, round(MARGIN * height))
    shown = [scene for scene in scenes if isinstance(scene, Scene)]
    table = shown[0].shots[0].table_before if shown and diagram is not None else None
    table_px = (0, 0)
    if table is not None and diagram == "beside":
        across, up = extent(table, "end")
        table_px = (_even(height * across / up), height)
    elif table is not None:
        table_px = (width, _even(TABLE_BELOW * height))
    whole = width + (table_px[0] if diagram == "beside" else 0)
    lines = 1
    for scene in shown:
        for shot in scene.shots:
            room = whole // len(scene.shots) - 2 * margin
            lines = max(lines, *(len(_wrapped(text, letters, room)) for text in (shot.said, shot.outcome)))
    words = _even((1 + lines) * line_px(letters) + 2 * margin)
    film = Box(0, 0, width, height)
    box = None
    below = 0
    if table is not None and diagram == "beside":
        box = Box(width, 0, *table_px)
    elif table is not None:
        box, below = Box(0, height, *table_px), table_px[1]
    return Frame(film, box, Box(0, height + below, whole, words), (whole, height + below + words), letters)


def bare_frame(index: FilmIndex) -> Frame:
    """The picture of a film alone."""
    width, height = index.width - index.width % 2, index.height - index.height % 2
    film = Box(0, 0, width, height)
    return Frame(film, None, Box(0, height, width, 0), (width, height), SMALLEST_LETTERS_PX)


def _even(value: float) -> int:
    return 2 * round(value / 2)


class Painter:
    """Makes the pictures of one teaching film."""

    def __init__(self, frame: Frame) -> None:
        self.frame = frame

    @cached_property
    def ground(self) -> Pixels:
        """An empty picture."""
        width, height = self.frame.size
        colour = tuple(int(GROUND[i : i + 2], 16) for i in (5, 3, 1))
        return np.full((height, width, 3), colour, dtype=np.uint8)

    def card(self, title: str, words: str) -> Pixels:
        """Words alone, in the middle."""
        picture, frame = self.ground.copy(), self.frame
        large, small = round(CARD_TITLE * frame.letters_px), frame.letters_px
        room = round(0.8 * frame.size[0])
        lines = [(line, large, WORDS) for line in _wrapped(title, large, room)]
        lines += [(line, small, QUIET) for line in _wrapped(words, small, room)]
        top = (frame.size[1] - sum(line_px(size) for _line, size, _colour in lines)) / 2
        for line, size, colour in lines:
            width, _height = text_size(line, size)
            put_text(picture, line, ((frame.size[0] - width) / 2, top), size, colour)
            top += line_px(size)
        return picture

    def around(self, scene: Scene, kind: Kind) -> Pixels:
        """Everything but the films: words and the table."""
        picture, frame = self.ground.copy(), self.frame
        boxes = frame.word_boxes(len(scene.shots)) if frame.words.height else []
        for shot, box in zip(scene.shots, boxes, strict=False):
            self._put_words(picture, said_at(kind, shot), box)
        if frame.table is not None:
            self._put_tables(picture, scene.shots, frame.table, kind)
        return picture

    def _put_words(self, picture: Pixels, said: tuple[str, str], box: Box) -> None:
        size = self.frame.letters_px
        margin = max(4, round(MARGIN * self.frame.film.height))
        left, top = box.left + margin, box.top + margin
        put_text(picture, said[0], (left, top), size, QUIET, bold=False)
        for line in _wrapped(said[1], size, box.width - 2 * margin):
            top += line_px(size)
            put_text(picture, line, (left, top), size, WORDS)

    def _put_tables(self, picture: Pixels, shots: Sequence[FilmedShot], box: Box, kind: Kind) -> None:
        is_beside = box.left > 0
        seat: ViewingSide = "end" if is_beside else "side"
        for place, shot in enumerate(shots):
            part = box
            if len(shots) > 1 and is_beside:
                part = Box(box.left, box.top + place * (box.height // 2), box.width, box.height // 2)
            elif len(shots) > 1:
                part = Box(box.left + place * (box.width // 2), box.top, box.width // 2, box.height)
            drawing = shot.table_after if kind == "came" else shot.table_before
            put_drawing(picture, drawing, part, PAPER.__getitem__, soft_share, seat)

    def put_film(self, picture: Pixels, pixels: Pixels, box: Box, lines: Drawing | None = None) -> None:
        """A film's picture (already of its box's size) in its place, with lines over it."""
        picture[box.rows, box.columns] = pixels
        if lines is not None:
            put_drawing(picture, lines, box, PAPER.__getitem__, soft_share)

    def lines(self, shot: FilmedShot, kind: Kind) -> Drawing | None:
        """What lies over a film while it stops."""
        return shot.came if kind == "came" else shot.meant


def _wrapped(text: str, size_px: int, room_px: int) -> list[str]:
    """A text in lines that fit; a word that is longer than a line stands alone."""
    lines: list[str] = []
    for word in text.split():
        if lines and text_size(f"{lines[-1]} {word}", size_px)[0] <= room_px:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    return lines or [""]
