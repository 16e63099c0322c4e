"""Commands for what is in hand in Review: run them, undo them, follow where they happened; no window."""

from __future__ import annotations

from collections.abc import Callable

from ripasso.core.table.placing import ImpossiblePlace
from ripasso.review.document.command import Command
from ripasso.review.document.document import Changed, Document, ReadOnly
from ripasso.review.document.edits import RefusedEdit
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.store.errors import LibraryError
from ripasso.ui.review.state.selection import Say, Selection


class CommandController(Selection):
    """A selection whose shot and session can be changed; what cannot be is said in a sentence."""

    def __init__(self, document: Document, say: Say) -> None:
        super().__init__(document, say)
        document.changed.connect(self._follow)

    def perform(self, build: Callable[[Snapshot, ShotRow], Command]) -> bool:
        """Do a command for the shot in hand; what cannot be is said in a sentence."""
        snapshot, shot = self.snapshot, self.shot
        if snapshot is None or shot is None:
            self._say("No shot is in hand; F marks a strike and begins one.", "plain")
            return False
        try:
            command = build(snapshot, shot)
        except (RefusedEdit, ImpossiblePlace) as error:
            self._say(str(error), "unsure")
            return False
        return self._run(command)

    def perform_session(self, build: Callable[[Snapshot], Command]) -> bool:
        """Do a command for the session in hand; what cannot be is said in a sentence."""
        snapshot = self.snapshot
        if snapshot is None:
            return False
        try:
            command = build(snapshot)
        except RefusedEdit as error:
            self._say(str(error), "bad")
            return False
        return self._run(command)

    def perform_other(self, command: Command) -> bool:
        """Do a command of any session."""
        return self._run(command)

    def undo(self) -> None:
        """Undo the last command of the window, whatever it was."""
        self._history(self._document.undo, "There is nothing to undo.", "Undone")

    def redo(self) -> None:
        """Redo what was undone last."""
        self._history(self._document.redo, "There is nothing to redo.", "Redone")

    def _run(self, command: Command) -> bool:
        try:
            self._document.run(command)
        except (LibraryError, ReadOnly) as error:
            self._say(str(error), "bad")
            return False
        return True

    def _history(self, move: Callable[[], Command | None], nothing: str, done: str) -> None:
        try:
            command = move()
        except (LibraryError, ReadOnly) as error:
            self._say(str(error), "bad")
            return
        if command is None:
            self._say(nothing, "plain")
            return
        there = self._document.session(command.session)
        words = f"{done}: {command.label[:1].lower()}{command.label[1:]}"
        if there is not None and command.session != self._session:
            words += f", in {there.head.title}"
            self._go_where(command, there)
        self._say(f"{words}.", "plain")

    def _go_where(self, command: Command, there: Snapshot) -> None:
        """What happened to a shot of another session is shown there."""
        shots = [c.key for c in command.changes if c.table == "shot" and there.shot(c.key) is not None]
        if shots and self._session is not None:
            self.open(command.session, shots[0])

    def _follow(self, change: Changed) -> None:
        """Keep the selection where the change happened, and drop what is gone."""
        if change.command.session != self._session:
            return
        snapshot = self.snapshot
        if snapshot is None:
            self.close()
            return
        if change.cause != "done":
            # A shot that came back is where the change happened; those that only moved up are not.
            touched = [c for c in change.command.changes if c.table == "shot" and snapshot.shot(c.key)]
            touched.sort(key=lambda c: c.before is not None)
            here = touched[0].key if touched else None
            if any(c.key == self._shot and c.before is not None for c in touched):
                here = self._shot  # it happened here, and in the shot beside
            if here is not None and here != self._shot:
                self._choose(here)
                return
        if self._shot is None or snapshot.shot(self._shot) is None:
            self._choose(snapshot.shots[-1].key if snapshot.shots else None)
            return
        self.changed.emit(None)
