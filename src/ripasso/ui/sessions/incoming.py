"""Files that come into the window: named on the command line, chosen for a session, or dropped."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QWidget

from ripasso.ui.services.film_files import FILM_SUFFIXES
from ripasso.ui.sessions.page import SessionsPage

SESSION_SUFFIX = ".json"


def _usable(event: QDropEvent) -> list[Path]:
    """The films, session files and folders among what is dragged; only what is on this machine."""
    data = event.mimeData()
    urls = data.urls() if data is not None else []
    paths = [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]
    return [p for p in paths if p.suffix.lower() in (SESSION_SUFFIX, *FILM_SUFFIXES) or p.is_dir()]


class DroppedFiles(QObject):
    """Takes files that are dropped onto a window; `dropped` brings their paths."""

    dropped = pyqtSignal(list)

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        window.setAcceptDrops(True)
        window.installEventFilter(self)

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        if not isinstance(event, QDropEvent):
            return False
        paths = _usable(event)
        if paths:
            event.acceptProposedAction()
        if paths and not isinstance(event, QDragEnterEvent) and event.type() == QEvent.Type.Drop:
            self.dropped.emit(paths)
        return True


@dataclass(frozen=True)
class Under:
    """What is under review: its session (None: nothing is seen), to open one there, to show it anew."""

    review: Callable[[], str | None]
    open: Callable[[str], None]
    refresh: Callable[[], None]


class IncomingFiles:
    """What a window does with files: `sessions` takes them in, `under` says what is under review."""

    def __init__(self, window: QWidget, sessions: Callable[[], SessionsPage], under: Under) -> None:
        self._sessions, self._under = sessions, under
        self._drops = DroppedFiles(window)
        self._drops.dropped.connect(self.take)

    def import_session(self, path: Path) -> None:
        """Import a session file, and review it."""
        key = self._sessions().controller.import_file(path)
        if key is not None:
            self._under.open(key)

    def choose_film(self) -> None:
        """Ask for the film of the session under review."""
        session, page = self._under.review(), self._sessions()
        if session is not None:
            page.refresh()
            page.choose(session)
            page.controller.choose_film(session)
            self._under.refresh()

    def add_film(self) -> None:
        """Ask for one more film of the session under review."""
        session = self._under.review()
        if session is not None:
            self._sessions().controller.choose_another_film(session)
            self._under.refresh()

    def take(self, paths: list[Path]) -> None:
        """Sessions are imported; films belong to the session under review, else one begins with the first.

        Each film of a folder becomes a session.
        """
        for folder in [path for path in paths if path.is_dir()]:
            self._sessions().controller.films.take(folder)
        paths = [path for path in paths if not path.is_dir()]
        films = [path for path in paths if path.suffix.lower() != SESSION_SUFFIX]
        for path in paths:
            if path not in films:
                self.import_session(path)
        controller = self._sessions().controller
        if films and self._under.review() is None:
            controller.new_session(films.pop(0))
        session = self._under.review()
        if session is None:
            return
        for path in films:
            controller.add_film(session, path)
