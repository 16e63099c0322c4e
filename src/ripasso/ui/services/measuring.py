"""Keeps the measures of every session up to date in the background, in memory and in the library."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from operator import is_

from PyQt6.QtCore import QObject, QTimer

from ripasso.core.figures.measure_rows import measure_row
from ripasso.core.json_data import JsonMapping
from ripasso.core.measures.shots import ShotMeasures
from ripasso.review.document.command import LIBRARY
from ripasso.review.document.document import Changed, Document
from ripasso.review.document.signal import Signal
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.measuring.cache import MeasureCache, Request, origin_of
from ripasso.store.errors import LibraryError
from ripasso.store.library import Library
from ripasso.ui.services.background import Background

#: How long typing must pause before a session is measured again.
PAUSE_MS = 400

#: What the stored measures of each rack of a session hang on.
Origins = Mapping[str, tuple[object, ...]]


@dataclass(frozen=True)
class Answer:
    """What was measured of a session, the rows to be stored, and what the racks' rows then hang on."""

    request: Request
    measured: Sequence[ShotMeasures]
    rows: Mapping[str, tuple[str, JsonMapping]]
    origins: Origins


class Measuring(QObject):
    """Follows the document; connect to `measured` for a session whose measures are complete."""

    def __init__(
        self,
        library: Library,
        document: Document,
        book: MeasureCache,
        background: Background,
        say: Callable[[str, str], None],
    ) -> None:
        super().__init__()
        self._library, self._document, self._book = library, document, book
        self._background, self._say = background, say
        self._waiting: list[str] = []
        self._running: str | None = None
        self._origins: dict[str, Origins] = {}
        self.measured: Signal[str] = Signal()
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(PAUSE_MS)
        self._timer.timeout.connect(self._next)
        document.changed.connect(self._follow)

    def begin(self) -> None:
        """Measure what the library holds no measures of."""
        try:
            sessions = self._library.unmeasured()
        except LibraryError as error:
            self._say(str(error), "bad")
            return
        for session in sessions:
            self.want(session)

    def want(self, session: str) -> None:
        """Measure a session as soon as there is time."""
        if session not in self._waiting:
            self._waiting.append(session)
        self._timer.start()

    def close(self) -> None:
        """Measure nothing more, and wait for what is being measured."""
        self._timer.stop()
        self._waiting.clear()
        self._background.close()

    @property
    def busy(self) -> bool:
        """Something is still to be measured."""
        return bool(self._waiting) or self._running is not None

    def _follow(self, change: Changed) -> None:
        if change.command.session != LIBRARY:
            self.want(change.command.session)

    def _next(self) -> None:
        if self._running is not None or not self._waiting:
            return
        session = self._waiting.pop(0)
        snapshot = self._document.known(session)
        library, book = self._library, self._book
        self._running = session
        done = self._origins.get(session, {})
        self._background.run(lambda: _measure(library, book, session, snapshot, done), self._take, self._fail)

    def _take(self, answer: Answer | None) -> None:
        session, self._running = self._running, None
        if answer is not None and session is not None:
            self._book.keep(answer.request, answer.measured)
            # Rows can be computed again; the command that comes next says what is wrong with the library.
            with suppress(LibraryError):
                self._library.keep_measures(session, answer.rows)
                self._origins[session] = answer.origins
        if session is not None:
            self.measured.emit(session)
        self._next()

    def _fail(self, error: Exception) -> None:
        self._running = None
        self._say(f"A session could not be measured: {error}", "bad")
        self._next()


def _measure(
    library: Library, book: MeasureCache, session: str, snapshot: Snapshot | None, done: Origins
) -> Answer | None:
    """In the background: what is not known is computed; rows are made where the stored ones are old.

    A session that is not open (no snapshot) is loaded, and only its old rows are computed. Racks that hang on
    what they hung on when their rows were stored (`done`) are passed over.
    """
    is_open = snapshot is not None
    if snapshot is None:
        found = library.load(session)
        if not found:
            return None
        snapshot = Snapshot(session, found)
    origins = {rack.key: origin_of(snapshot, rack) for rack in snapshot.racks}
    racks = [rack for rack in snapshot.racks if not _is_done(origins[rack.key], done.get(rack.key))]
    whole = book.request(snapshot, racks, everything=True)
    stamps, stored = whole.stamps(), library.measure_stamps(session)
    old = {i for i, key in enumerate(whole.keys) if stored.get(key) != stamps[i]}
    unknown = {i for i in range(len(whole.keys)) if not book.knows(whole, i)} if is_open else set()
    wanted = sorted(old | unknown)
    request = whole.part(wanted)
    measured = request.compute() if wanted else []
    rows = {
        whole.keys[i]: (stamps[i], measure_row(one))
        for i, one in zip(wanted, measured, strict=True)
        if i in old
    }
    return Answer(request, measured, rows, origins if is_open else {})


def _is_done(origin: tuple[object, ...], before: tuple[object, ...] | None) -> bool:
    return before is not None and all(map(is_, origin, before))
