"""Exact decoding: frames by number, forward from the nearest point from which decoding can begin."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import av
from av.error import FFmpegError

from ripasso.film.decoding.index import FilmIndex
from ripasso.film.errors import FilmError


class FilmReader:
    """Decodes one film. Not for use from two threads at once; `close` it when done."""

    def __init__(self, index: FilmIndex) -> None:
        self.index = index
        try:
            self._container = av.open(str(index.path), metadata_errors="replace")
        except (FFmpegError, OSError) as error:
            raise FilmError(f"{index.path.name} cannot be opened any more.") from error
        self._stream = self._container.streams.video[0]
        self._stream.thread_type = "AUTO"
        self._frames: Iterator[Any] | None = None
        self._next: int | None = None  # number of the frame that decoding gives next

    def close(self) -> None:
        """Close the file."""
        self._frames = None
        self._container.close()

    @property
    def position(self) -> int | None:
        """The frame that decoding gives next, None before the first."""
        return self._next

    def frame(self, number: int) -> Any:
        """The decoded picture (an `av.VideoFrame`) of a frame; raises `FilmError`."""
        for at, frame in self.frames(number, number):
            if at == number:
                return frame
        raise FilmError(f"Frame {number} of {self.index.path.name} cannot be decoded.")

    def frames(self, first: int, last: int) -> Iterator[tuple[int, Any]]:
        """Decode up to `last`; yields frames as they come, from some number at or before `first` on.

        The frames before `first` come along because decoding begins at a key frame.
        """
        if not 0 <= first <= last < len(self.index):
            raise FilmError(f"{self.index.path.name} has no frame {first}.")
        if not self._continues_to(first):
            self._seek(first)
        while True:
            numbered = self._decode_next()
            if numbered is None:
                return
            self._next = numbered[0] + 1
            yield numbered
            if numbered[0] >= last:
                return

    def _continues_to(self, number: int) -> bool:
        """Whether going on from here is the shortest way to `number`."""
        if self._frames is None or self._next is None or self._next > number:
            return False
        return self.index.key_frame_before(number) <= self._next

    def _seek(self, number: int) -> None:
        """Place the decoder before `number`: at its key frame, or an earlier one where that lands late."""
        key = self.index.key_frame_before(number)
        while True:
            try:
                self._container.seek(int(self.index.pts[key]), backward=True, stream=self._stream)
            except FFmpegError as error:
                raise FilmError(f"{self.index.path.name} cannot be searched at frame {number}.") from error
            self._frames = self._container.decode(self._stream)
            self._next = None
            landed = self._decode_next(keep=True)
            if landed is None or landed[0] <= number:
                return
            if key == 0:
                return
            key = self.index.key_frame_before(key - 1)

    def _decode_next(self, *, keep: bool = False) -> tuple[int, Any] | None:
        """The next frame with its number; None at the end. `keep`: it will be given again."""
        assert self._frames is not None
        try:
            for frame in self._frames:
                if frame.pts is None:
                    continue
                number = self.index.number_of(frame.pts)
                if number is None:
                    continue
                if keep:
                    self._frames = _chained(frame, self._frames)
                    self._next = number
                return number, frame
        except FFmpegError as error:
            self._frames = None
            raise FilmError(f"{self.index.path.name} is damaged near here.") from error
        self._frames = None
        return None


def _chained(first: Any, rest: Iterator[Any]) -> Iterator[Any]:
    yield first
    yield from rest
