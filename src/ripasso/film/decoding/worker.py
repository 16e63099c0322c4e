"""One thread decodes a film: the frame asked for first, then those ahead, then the group before.

The window never waits: it takes a picture from the cache, or is told when the one it wants is there.
"""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Callable

from ripasso.film.decoding.cache import BUDGET_BYTES, Picture, PictureCache
from ripasso.film.decoding.frame import Frame
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.errors import FilmError

AHEAD = 24  # frames decoded ahead of the one in sight
BEHIND = 48  # frames kept ready for stepping back
WAITING = 16  # decoded frames held unscaled on the way to the wanted one

__all__ = ["FilmWorker", "Picture"]


class FilmWorker:
    """Decodes one film in its own thread.

    `on_picture` and `on_error` are called from that thread: with the picture that was wanted last, and
    with a sentence.
    """

    def __init__(
        self,
        index: FilmIndex,
        on_picture: Callable[[Picture], None],
        on_error: Callable[[str], None],
        budget_bytes: int = BUDGET_BYTES,
    ) -> None:
        self.index = index
        self._on_picture = on_picture
        self._on_error = on_error
        self._cache = PictureCache(budget_bytes)
        self._size = (index.width, index.height)
        self._wanted: int | None = None
        self._centre = 0
        self._closed = False
        self._unreadable: set[int] = set()
        self._wake = threading.Condition()
        self._thread = threading.Thread(target=self._run, name=f"film {index.path.name}", daemon=True)
        self._thread.start()

    def resize(self, width: int, height: int) -> None:
        """Decode to pictures of at most this size in pixels from now on, the film's shape kept."""
        scale = min(width / self.index.width, height / self.index.height, 1.0)
        size = (max(2, int(self.index.width * scale)), max(2, int(self.index.height * scale)))
        with self._wake:
            if size != self._size:
                self._size = size
                self._cache.clear()
                self._wake.notify()

    @property
    def held_bytes(self) -> int:
        """What the decoded pictures take of their budget."""
        with self._wake:
            return self._cache.held_bytes

    def picture(self, number: int) -> Picture | None:
        """The picture of a frame when it is decoded already."""
        with self._wake:
            return self._cache.get(number)

    def want(self, number: int) -> Picture | None:
        """Ask for a frame: given at once when it is decoded, else `on_picture` brings it.

        Only the frame wanted last is brought; the reading ahead follows it.
        """
        number = max(0, min(number, len(self.index) - 1))
        with self._wake:
            self._centre = number
            picture = self._cache.get(number)
            self._wanted = None if picture else number
            self._wake.notify()
            return picture

    def close(self) -> None:
        """Stop the thread and close the film."""
        with self._wake:
            self._closed = True
            self._wake.notify()
        self._thread.join()

    def _run(self) -> None:
        try:
            reader = FilmReader(self.index)
        except FilmError as error:
            self._on_error(str(error))
            return
        try:
            while True:
                with self._wake:
                    span = self._next_span()
                    while span is None and not self._closed:
                        self._wake.wait()
                        span = self._next_span()
                    if self._closed or span is None:
                        return
                self._decode(reader, *span)
        finally:
            reader.close()

    def _next_span(self) -> tuple[int, int] | None:
        """The frames to decode next: the wanted one, then those ahead, then those behind."""
        if self._wanted is not None and self._wanted not in self._unreadable:
            return (self._wanted, self._wanted)
        capacity = self._cache.capacity(self._size[0] * self._size[1] * 4)
        last = min(len(self.index) - 1, self._centre + min(AHEAD, capacity // 3))
        first = max(0, self._centre - min(BEHIND, capacity // 3))
        for number in range(self._centre, last + 1):
            if self._is_missing(number):
                return (number, last)
        for number in range(self._centre - 1, first - 1, -1):
            if self._is_missing(number):
                start = max(first, self.index.key_frame_before(number))
                return (start, number)
        return None

    def _is_missing(self, number: int) -> bool:
        return number not in self._cache and number not in self._unreadable

    def _decode(self, reader: FilmReader, first: int, last: int) -> None:
        """Decode a span into the cache, unless something else is wanted meanwhile."""
        reached = first - 1
        # Frames on the way to the wanted one are scaled only when that one is out.
        waiting: deque[tuple[int, Frame]] = deque(maxlen=WAITING)
        try:
            for number, frame in reader.frames(first, last):
                reached = number
                if self._is_before_the_wanted(number, last):
                    waiting.append((number, frame))
                else:
                    self._keep(number, frame)
                if self._is_overtaken(first, last):
                    return
        except FilmError as error:
            self._give_up(max(first, reached + 1), last, str(error))
            return
        if reached < last:
            self._give_up(max(first, reached + 1), last, f"{self.index.path.name} ends early.")
        while waiting and not self._is_overtaken(first, last):
            self._keep(*waiting.pop())

    def _is_before_the_wanted(self, number: int, last: int) -> bool:
        with self._wake:
            return self._wanted is not None and number < self._wanted <= last

    def _is_overtaken(self, first: int, last: int) -> bool:
        """Whether another frame is wanted than this span will bring, or the span is far from it by now."""
        with self._wake:
            if self._closed:
                return True
            if self._wanted is not None:
                return not first <= self._wanted <= last
            return last < self._centre - BEHIND or first > self._centre + AHEAD

    def _keep(self, number: int, frame: Frame) -> None:
        """Scale a decoded frame into the cache where it is of use, and bring it when it is wanted."""
        with self._wake:
            size = self._size
            near = -BEHIND <= number - self._centre <= AHEAD and number not in self._cache
            if not near and number != self._wanted:
                return
        picture = Picture(number, self.index.time_s(number), frame.pixels("bgra", size))
        with self._wake:
            if size != self._size:
                return
            self._cache.put(picture, self._centre)
            brings = self._wanted == number
            if brings:
                self._wanted = None
        if brings:
            self._on_picture(picture)

    def _give_up(self, first: int, last: int, sentence: str) -> None:
        with self._wake:
            self._unreadable.update(range(first, last + 1))
            told = self._wanted is not None and first <= self._wanted <= last
            if told:
                self._wanted = None
        if told:
            self._on_error(sentence)
