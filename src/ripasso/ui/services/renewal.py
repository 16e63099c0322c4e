"""Rows that another version of the program derived are brought up to date in the background."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from ripasso.review.document.document import Derived, Document
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.vocabulary import count
from ripasso.statistics.rows.shot_rows import FIGURES_VERSION, derived_rows
from ripasso.store.errors import LibraryError
from ripasso.store.library import Library
from ripasso.ui.services.background import Background


class Renewal(QObject):
    """Renews one session after the other; `renewed` is called with each."""

    def __init__(
        self,
        library: Library,
        document: Document,
        background: Background,
        say: Callable[[str, str], None],
        renewed: Callable[[str], None],
    ) -> None:
        super().__init__()
        self._library, self._document, self._background = library, document, background
        self._say, self._renewed = say, renewed
        self._waiting: list[str] = []
        self._total = 0

    @property
    def busy(self) -> bool:
        """Something is still to be renewed."""
        return bool(self._waiting)

    def begin(self) -> None:
        """Look for old rows, and renew them."""
        if not self._library.read_only:
            self._background.run(lambda: self._library.outdated(FIGURES_VERSION), self._start)

    def _start(self, sessions: list[str]) -> None:
        self._waiting, self._total = sessions, len(sessions)
        if sessions:
            self._say(f"The figures of {count(len(sessions), 'session')} are brought up to date.", "plain")
            self._next()

    def _next(self) -> None:
        if not self._waiting:
            self._say(f"The figures of {count(self._total, 'session')} are up to date.", "good")
            return
        session = self._waiting[0]
        snapshot, changes = self._document.known(session), self._library.changes(session)
        self._background.run(
            lambda: self._derive(session, snapshot),
            lambda derived: self._keep(session, derived, changes),
            self._fail,
        )

    def _derive(self, session: str, snapshot: Snapshot | None) -> Derived | None:
        if snapshot is None:
            rows = self._library.load(session)
            snapshot = Snapshot(session, rows) if rows else None
        return derived_rows(snapshot) if snapshot is not None else None

    def _keep(self, session: str, derived: Derived | None, changes: int) -> None:
        # A session that was changed meanwhile has been derived anew with that change.
        if derived is not None and changes == self._library.changes(session):
            try:
                self._document.keep(derived)
            except LibraryError as error:
                self._fail(error)
                return
        self._waiting.pop(0)
        self._renewed(session)
        self._next()

    def _fail(self, error: Exception) -> None:
        self._waiting.clear()
        self._say(f"Figures could not be brought up to date: {error}", "bad")
