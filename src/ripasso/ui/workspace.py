"""The one object that is built in one place and handed down: what every part of the window works with."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from ripasso.review.document.document import Document
from ripasso.review.measuring.cache import MeasureCache
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import Library, open_library
from ripasso.ui.services.background import Background
from ripasso.ui.services.localization import set_tradition
from ripasso.ui.services.measuring import Measuring
from ripasso.ui.services.messages import Messages
from ripasso.ui.services.renewal import Renewal
from ripasso.ui.services.settings import Settings
from ripasso.ui.theme import Theme


@dataclass(frozen=True)
class Workspace:
    """A library with its document, and the services of the window."""

    library: Library
    document: Document
    messages: Messages
    background: Background
    settings: Settings
    theme: Theme
    measures: MeasureCache
    index: LibraryIndex
    measuring: Measuring
    renewal: Renewal

    def close(self) -> None:
        """End the background work, then close the library."""
        self.measuring.close()
        self.background.close()
        self.library.close()


def build_workspace(library: Path, settings: Path | None, text_scale: float | None = None) -> Workspace:
    """Open a library and everything that works on it; raises `LibraryError`."""
    opened = open_library(library)
    messages = Messages()
    remembered = Settings(settings)
    for notice in (remembered.notice, opened.notice):
        if notice is not None:
            messages.say(notice, "bad")
    document = Document(opened, derived_rows)
    background, measures = Background(messages), MeasureCache()
    theme = Theme(scale=text_scale or remembered.get("text_scale"))
    theme.use(remembered.get("theme"))
    set_tradition("american" if remembered.get("words") == "american" else "british")
    # Of its own: what the pages ask for is forgotten when they are built anew, what is measured is not.
    lasting = Background(messages, 1)
    measuring = Measuring(opened, document, measures, lasting, messages.say)
    return Workspace(
        library=opened,
        document=document,
        messages=messages,
        background=background,
        settings=remembered,
        measures=measures,
        index=LibraryIndex(opened),
        measuring=measuring,
        renewal=Renewal(opened, document, lasting, messages.say, measuring.want),
        theme=theme,
    )
