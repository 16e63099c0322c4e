"""The one object that is built in one place and handed down: what every part of the window works with."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from ripasso.review.language.localization import set_tradition
from ripasso.store.opening import LibraryFile, check_whole, is_large, open_file
from ripasso.store.session_list import SessionLine, session_lines
from ripasso.ui.services.background import Background
from ripasso.ui.services.memory import Heap
from ripasso.ui.services.messages import Messages
from ripasso.ui.services.settings import Settings
from ripasso.ui.theme import Theme

if TYPE_CHECKING:
    from ripasso.review.document.document import Derived, Document
    from ripasso.review.document.snapshot import Snapshot
    from ripasso.review.measuring.cache import MeasureCache
    from ripasso.statistics.library_index import LibraryIndex
    from ripasso.store.library import Library
    from ripasso.ui.services.drafts import NoteDrafts
    from ripasso.ui.services.measuring import Measuring
    from ripasso.ui.services.renewal import Renewal


class Workspace:
    """A library with its document, and the services of the window.

    The list of sessions needs the file, the settings and the theme. The document and all that works on it is
    made when it is first asked for, and its packages are loaded then.
    """

    def __init__(self, file: LibraryFile, settings: Settings, messages: Messages, theme: Theme) -> None:
        self.file = file
        self.settings = settings
        self.messages = messages
        self.theme = theme
        self.background = Background(messages)
        # Of its own: what the pages ask for is forgotten when they are built anew, what is measured is not.
        self.lasting = Background(messages, 1)
        #: Asked where the library shall be kept when it is not at its place any more.
        self.place_asker: Callable[[str], Path | None] = lambda _sentence: None
        self._followers: list[Callable[[Document], None]] = []

    @property
    def path(self) -> Path:
        """The library's file."""
        return self.library.path if "library" in self.__dict__ else self.file.path

    @property
    def read_only(self) -> bool:
        """True when nothing can be written."""
        return self.file.lock is None

    def session_lines(self) -> list[SessionLine]:
        """The list of sessions; raises `LibraryError`."""
        return session_lines(self.path)

    @cached_property
    def library(self) -> Library:
        """The library behind the document."""
        from ripasso.store.library import Library

        made = Library(self.file)
        made.on_damage = lambda sentence: self.messages.say(sentence, "bad")
        made.ask_place = self._ask_place
        return made

    @cached_property
    def drafts(self) -> NoteDrafts:
        """The notes that are being typed."""
        from ripasso.ui.services.drafts import NoteDrafts

        return NoteDrafts(self.library, self.document, self.messages)

    def _ask_place(self, sentence: str) -> Path | None:
        return self.place_asker(sentence)

    def back_up(self) -> None:
        """Look through a large library and keep today's copy, in the background; an empty one needs none."""
        from ripasso.store.file.backups import back_up

        path = self.path

        def work() -> object:
            if is_large(path):
                check_whole(path)
            return back_up(path, date.today()) if session_lines(path) else None

        if not self.read_only:
            self.lasting.run(work, lambda _made: None)

    @cached_property
    def document(self) -> Document:
        """The document; whoever wanted to follow it is told when it is made."""
        from ripasso.review.document.document import Document

        made = self.__dict__["document"] = Document(self.library, _derive)
        while self._followers:
            self._followers.pop(0)(made)
        return made

    def when_document(self, follow: Callable[[Document], None]) -> None:
        """Call `follow` with the document: at once, or as soon as it is made."""
        if "document" in self.__dict__:
            follow(self.document)
        else:
            self._followers.append(follow)

    @cached_property
    def measures(self) -> MeasureCache:
        """The measures in memory."""
        from ripasso.review.measuring.cache import MeasureCache

        return MeasureCache()

    @cached_property
    def index(self) -> LibraryIndex:
        """The columns of statistics of the whole library."""
        from ripasso.statistics.library_index import LibraryIndex

        return LibraryIndex(self.library)

    def read_ahead(self) -> None:
        """Read the columns in the background: the first search and the first figures find them there."""
        self.lasting.run(self.index.read, lambda _facts: None, lambda _error: None)

    @cached_property
    def measuring(self) -> Measuring:
        """What measures in the background."""
        from ripasso.ui.services.measuring import Measuring

        say = self.messages.say
        return Measuring(self.library, self.document, self.measures, self.lasting, say)

    @cached_property
    def renewal(self) -> Renewal:
        """What brings figures of an older program up to date."""
        from ripasso.ui.services.renewal import Renewal

        say = self.messages.say
        return Renewal(self.library, self.document, self.lasting, say, self.measuring.want)

    def close(self) -> None:
        """End the background work, then close the library."""
        if "measuring" in self.__dict__:
            self.measuring.close()
        self.lasting.close()
        self.background.close()
        if "library" in self.__dict__:
            self.library.close()
        else:
            self.file.release()


def build_workspace(library: Path, settings: Path | None, text_scale: float | None = None) -> Workspace:
    """Open a library for the window; raises `LibraryError`."""
    Heap.prepare(library)
    file = open_file(library)
    messages = Messages()
    remembered = Settings(settings)
    for notice in (remembered.notice, file.notice):
        if notice is not None:
            messages.say(notice, "bad")
    theme = Theme(scale=text_scale or remembered.get("text_scale"))
    theme.use(remembered.get("theme"))
    set_tradition("american" if remembered.get("words") == "american" else "british")
    return Workspace(file, remembered, messages, theme)


def _derive(snapshot: Snapshot, before: Derived | None) -> Derived:
    """What follows from a record for the library; its packages are loaded with the first command."""
    from ripasso.statistics.rows.shot_rows import derived_rows

    return derived_rows(snapshot, before)


def load_document_packages() -> None:
    """Load what the document needs: large packages, in a thread while the window is seen already."""
    from ripasso.review.measuring import cache
    from ripasso.store import library

    assert cache and library


def load_service_packages() -> None:
    """Load what the services behind the document need besides, and what Statistics and Report work with."""
    import PyQt6.QtPdfWidgets
    import PyQt6.QtPrintSupport
    import scipy.optimize
    import scipy.special

    from ripasso.report import writing
    from ripasso.statistics import answers, library_index
    from ripasso.ui.services import measuring, renewal

    assert answers and library_index and measuring and renewal and writing
    assert scipy.optimize and scipy.special and PyQt6.QtPdfWidgets and PyQt6.QtPrintSupport
