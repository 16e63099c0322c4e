"""Exact decoding: frames by number, forward from the nearest point from which decoding can begin."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from typing import Any

from ripasso.film.decoding.frame import Frame
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.opening import DECODING_ERRORS, open_container
from ripasso.film.errors import FilmError


class FilmReader:
    """Decodes one film. Not for use from two threads at once; `close` it when done."""

    def __init__(self, index: FilmIndex) -> None:
        self.index = index
        self._next: int | None = None  # number of the frame that decoding gives next
        self._frames: Iterator[Any] | None = None
        self._open()

    def _open(self) -> None:
        name = self.index.path.name
        try:
            self._container = open_container(self.index.path)
            if not self._container.streams.video:
                raise FilmError(f"{name} has changed: it holds no picture any more.")
            self._stream: Any = self._container.streams.video[0]
            self._stream.thread_type = "AUTO"
        except DECODING_ERRORS as error:
            raise FilmError(f"{name} cannot be opened any more.") from error

    def close(self) -> None:
        """Close the file."""
        self._frames = None
        self._container.close()

    @property
    def position(self) -> int | None:
        """The frame that decoding gives next, None before the first."""
        return self._next

    def frame(self, number: int) -> Frame:
        """The decoded picture of a frame; raises `FilmError`."""
        for at, frame in self.frames(number, number):
            if at == number:
                return frame
        raise FilmError(f"Frame {number} of {self.index.path.name} cannot be decoded.")

    def frames(self, first: int, last: int) -> Iterator[tuple[int, Frame]]:
        """Decode up to `last`; yields frames as they come, from some number at or before `first` on.

        The frames before `first` come along because decoding begins at a key frame.
        """
        if not 0 <= first <= last < len(self.index):
            raise FilmError(f"{self.index.path.name} has no frame {first}.")
        if not self._continues_to(first):
            self._seek(first)
        size = (self.index.width, self.index.height)
        while self._frames is not None:
            numbered = self._decode_next()
            if numbered is None:
                return
            self._next = numbered[0] + 1
            yield numbered[0], Frame(numbered[1], self.index.turns, size)
            if numbered[0] >= last:
                return

    def _continues_to(self, number: int) -> bool:
        """Whether going on from here is the shortest way to `number`."""
        if self._frames is None or self._next is None or self._next > number:
            return False
        return self.index.key_frame_before(number) <= self._next

    def _seek(self, number: int) -> None:
        """Place the decoder before `number`: at its key frame, or an earlier one where that lands late.

        Where no search lands before it, decoding begins with the film.
        """
        key = self.index.key_frame_before(number)
        while True:
            if any(self._land(stamp, number) for stamp in self.index.seek_stamps(key)):
                return
            if key <= self.index.key_frames[0]:
                break
            key = self.index.key_frame_before(key - 1)
        self.close()
        self._open()
        self._next = None
        self._frames = self._container.decode(self._stream)

    def _land(self, stamp: int, number: int) -> bool:
        """Search for a time stamp; whether decoding goes on from there to `number`."""
        try:
            self._container.seek(stamp, backward=True, stream=self._stream)
        except DECODING_ERRORS:
            return False
        self._frames = self._container.decode(self._stream)
        self._next = None
        # What cannot be decoded there is told when it is reached from further back.
        with suppress(FilmError):
            landed = self._decode_next(keep=True)
            return landed is not None and landed[0] <= number
        return False

    def _decode_next(self, *, keep: bool = False) -> tuple[int, Any] | None:
        """The next frame with its number; None at the end. `keep`: it will be given again."""
        try:
            for frame in self._frames or ():
                number = self._number_of(frame)
                if number is None:
                    continue
                if keep and self._frames is not None:
                    self._frames = _chained(frame, self._frames)
                    self._next = number
                return number, frame
        except DECODING_ERRORS as error:
            self._frames = None
            raise FilmError(f"{self.index.path.name} is damaged near here.") from error
        self._frames = None
        return None

    def _number_of(self, frame: Any) -> int | None:
        """The number of a decoded frame; None for one that the index does not know."""
        if not self.index.is_counted:
            return self.index.number_of(frame.pts) if frame.pts is not None else None
        if frame.key_frame and frame.pts is not None:
            return self.index.number_of(frame.pts)
        if self._next is None or self._next >= len(self.index):
            return None  # nothing to count from
        return self._next


def _chained(first: Any, rest: Iterator[Any]) -> Iterator[Any]:
    yield first
    yield from rest
