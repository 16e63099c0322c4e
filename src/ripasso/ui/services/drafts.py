"""Notes that are being typed: stored with every key, taken up again when the program was ended meanwhile."""

from __future__ import annotations

from ripasso.review.document.document import Document
from ripasso.review.document.edits import REMOVE, Path, set_values
from ripasso.review.language.vocabulary import count
from ripasso.store.errors import LibraryError
from ripasso.store.library import Library
from ripasso.ui.services.messages import Messages

NOTE = "note:"


class NoteDrafts:
    """Keeps the note of a shot while it is typed."""

    def __init__(self, library: Library, document: Document, messages: Messages) -> None:
        self._library, self._document, self._messages = library, document, messages
        self._said = False

    def keep(self, session: str, shot: str, text: str) -> None:
        """Store what is typed so far; what is wrong with the disk is said once."""
        try:
            self._library.keep_draft(session, NOTE + shot, text)
        except LibraryError as error:
            if not self._said:
                self._messages.say(str(error), "bad")
            self._said = True
        else:
            self._said = False

    def forget(self, shot: str) -> None:
        """The note is kept, or left as it was."""
        try:
            self._library.forget_draft(NOTE + shot)
        except LibraryError as error:
            self._messages.say(str(error), "bad")

    def take_up(self, session: str) -> None:
        """Keep what was being typed in a session when the program ended, each note a step of undo."""
        if self._library.read_only:
            return
        try:
            drafts = self._library.drafts(session)
            taken = sum(self._take(session, place, text) for place, text in drafts.items())
        except LibraryError as error:
            self._messages.say(str(error), "bad")
            return
        if taken:
            self._messages.say(f"Kept as it was being typed: {count(taken, 'note')}.", "good")

    def _take(self, session: str, place: str, text: str) -> bool:
        """Keep one draft as the note of its shot; whether that changed anything."""
        key, snapshot, note = place.removeprefix(NOTE), self._document.session(session), text.strip()
        row = snapshot.shot(key) if snapshot is not None else None
        done = False
        if snapshot is not None and row is not None and note != (row.record.note or ""):
            values: dict[Path, object] = {("note",): note or REMOVE}
            done = self._document.run(set_values(snapshot, "shot", key, values, "Write a note"))
        self._library.forget_draft(place)
        return done
