"""What can be done with the sessions of the list: begin, import, export, delete, choose a film."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QMessageBox, QWidget

from ripasso.review.document.command import Command
from ripasso.review.document.document import ReadOnly
from ripasso.review.document.edits import Path as ValuePath
from ripasso.review.document.edits import (
    RefusedEdit,
    add_session,
    new_key,
    remove_session,
    replace_session,
    set_values,
)
from ripasso.review.document.signal import Signal
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.rack_start import RackStart, begin_rack
from ripasso.review.language.vocabulary import count
from ripasso.review.record.model import Recording, Session, serialize
from ripasso.review.record.parsing import is_newer
from ripasso.review.recordings.films import add_film
from ripasso.store.errors import LibraryError
from ripasso.store.session_file import SUFFIX, SessionFileError, load_session, save_session
from ripasso.ui.review.rack.rack_start_dialog import MIDDLE, RackStartDialog
from ripasso.ui.services.film_files import remember_film
from ripasso.ui.sessions.details_dialog import DetailsDialog
from ripasso.ui.sessions.film_folder import FilmFolder
from ripasso.ui.sessions.new_session import FILM_FILTER, NewSessionDialog, recording_of
from ripasso.ui.widgets.basics import choose_file, question_box, run_dialog
from ripasso.ui.workspace import Workspace

SESSION_FILTER = f"Ripasso sessions (*{SUFFIX});;All files (*)"


class SessionController:
    """Each command works on the session it is given; dialogs open above `page`.

    `imported` is called with a session that came in, `begun` with one that was made.
    """

    def __init__(self, workspace: Workspace, page: QWidget) -> None:
        self._workspace, self._page = workspace, page
        self.imported: Signal[str] = Signal()
        self.begun: Signal[str] = Signal()
        self.films = FilmFolder(workspace, page)

    def new_session(self, film: Path | None = None) -> None:
        """Ask for a new session, of a film that was given where there is one, and review it."""
        try:
            met = [line.players for line in self._workspace.session_lines()]
        except LibraryError as error:
            self._workspace.messages.say(str(error), "bad")
            return
        dialog = NewSessionDialog(self._workspace.settings, self._workspace.background, met, self._page)
        if film is not None:
            dialog.take_film(film)
        if run_dialog(dialog):
            session = dialog.session()
            if self._run(add_session(session)):
                snapshot = self._workspace.document.session(session.id)
                if dialog.in_the_middle.isChecked() and snapshot is not None:
                    begin = self._begin_rack(snapshot)
                    run_dialog(
                        RackStartDialog(self._workspace.theme, snapshot, begin, None, self._page, kind=MIDDLE)
                    )
                self.begun.emit(session.id)

    def _begin_rack(self, snapshot: Snapshot) -> Callable[[RackStart], bool]:
        def begin(start: RackStart) -> bool:
            try:
                return self._run(begin_rack(snapshot, start))
            except RefusedEdit as error:
                self._workspace.messages.say(str(error), "bad")
                return False

        return begin

    def import_file(self, path: Path) -> str | None:
        """Read a session file into the library; the key of the session when it is there."""
        messages = self._workspace.messages
        try:
            session = load_session(path)
        except SessionFileError as error:
            messages.say(str(error), "bad")
            return None
        if is_newer(session):
            messages.say(f"{path.name} was written by a newer Ripasso; what this one does not know is kept.")
        try:
            there = self._workspace.document.session(session.id)
        except LibraryError as error:
            messages.say(str(error), "bad")
            return None
        if there is None:
            command = add_session(session)
        elif serialize(there.session) == serialize(session):
            messages.say(f"{session.title} is in the library already, and equal.", "good")
            return session.id
        else:
            answer = self._ask_about(there.session, session)
            if answer == "replace":
                command = replace_session(there, session)
            elif answer == "both":
                session = session.model_copy(update={"id": new_key(), "title": f"{session.title} (2)"})
                command = add_session(session)
            else:
                return None
        if not self._run(command):
            return None
        messages.say(f"{session.title} is in the library.", "good")
        self.imported.emit(session.id)
        return session.id

    def _ask_about(self, there: Session, new: Session) -> str:
        """Which of two versions shall stay."""
        text = f"“{there.title}” is in the library already, and the file differs."
        sizes = f"Library: {_size(there)}.\nFile: {_size(new)}."
        question = question_box(self._page, "Import", text, sizes)
        replace = question.addButton("Replace it", QMessageBox.ButtonRole.AcceptRole)
        both = question.addButton("Keep both", QMessageBox.ButtonRole.ActionRole)
        question.addButton("Cancel", QMessageBox.ButtonRole.RejectRole)
        run_dialog(question)
        clicked = question.clickedButton()
        if clicked is replace:
            return "replace"
        return "both" if clicked is both else ""

    def export_file(self, key: str, path: Path) -> None:
        """Write a session to a file."""
        snapshot = self._snapshot(key)
        if snapshot is None:
            return
        try:
            save_session(snapshot.session, path)
        except SessionFileError as error:
            self._workspace.messages.say(str(error), "bad")
        else:
            self._workspace.messages.say(f"{snapshot.head.title} is written to {path.name}.", "good")

    def edit_details(self, key: str) -> None:
        """Change title, date, players and target of a session."""
        snapshot = self._snapshot(key)
        if snapshot is None:
            return
        dialog = DetailsDialog(snapshot, self._page)
        values = dialog.values() if run_dialog(dialog) else {}
        if values and self._run(set_values(snapshot, "session", key, values, "Change the session")):
            self._workspace.messages.say(
                f"{dialog.title_line.text()} is changed; Ctrl+Z takes it back.", "good"
            )

    def choose_film(self, key: str) -> None:
        """Choose the film of a session, a moved one too."""
        folder = self._workspace.settings.get("last_folder")
        path = choose_file(self._page, "Choose the film", folder, FILM_FILTER)
        if path:
            self.attach_film(key, Path(path))

    def attach_film(self, key: str, path: Path) -> None:
        """Put a film to a session in place of the one it had; its marks stay."""
        self._workspace.messages.say(f"{path.name} is looked through.")
        self._workspace.background.run(lambda: recording_of(path), partial(self._take_film, key, path))

    def _take_film(self, key: str, path: Path, found: Recording) -> None:
        remember_film(self._workspace.settings, path)
        snapshot, film = self._snapshot(key), serialize(found)
        if snapshot is None:
            return
        recordings = [serialize(recording) for recording in snapshot.head.recordings or ()]
        place = next((i for i, r in enumerate(recordings) if r.get("file")), len(recordings))
        kept = recordings[place] if place < len(recordings) else {}
        recordings[place : place + 1] = [{**kept, **film, "id": kept.get("id", film["id"])}]
        values: dict[ValuePath, object] = {("recordings",): recordings}
        if self._run(set_values(snapshot, "session", key, values, "Choose the film")):
            self._workspace.messages.say(f"{path.name} is the film of {snapshot.head.title}.", "good")

    def choose_another_film(self, key: str) -> None:
        """Choose one more film of a session: another part, or a second camera."""
        folder = self._workspace.settings.get("last_folder")
        path = choose_file(self._page, "Add a film", folder, FILM_FILTER)
        if path:
            self.add_film(key, Path(path))

    def add_film(self, key: str, path: Path) -> None:
        """Put one more film to a session."""
        self._workspace.messages.say(f"{path.name} is looked through.")

        def take(found: Recording) -> None:
            remember_film(self._workspace.settings, path)
            snapshot = self._snapshot(key)
            if snapshot is None:
                return
            try:
                command = add_film(snapshot, found)
            except RefusedEdit as error:
                self._workspace.messages.say(str(error), "unsure")
                return
            if self._run(command):
                words = f"{path.name} belongs to {snapshot.head.title} now; Alt F shows its films."
                self._workspace.messages.say(words, "good")

        self._workspace.background.run(lambda: recording_of(path), take)

    def fill_demo(self) -> None:
        """Put the demo's sessions into the library."""
        from ripasso.demo.library import fill  # wanted once at the most

        try:
            fill(self._workspace.document)
        except (LibraryError, ReadOnly) as error:
            self._workspace.messages.say(str(error), "bad")

    def choose_import(self) -> None:
        """Ask for a session file and read it."""
        folder = self._workspace.settings.get("last_folder")
        path = choose_file(self._page, "Import a session", folder, SESSION_FILTER)
        if path:
            self._workspace.settings.set("last_folder", str(Path(path).parent))
            self.import_file(Path(path))

    def choose_export(self, key: str) -> None:
        """Ask where to, and write a session there."""
        snapshot = self._snapshot(key)
        if snapshot is None:
            return
        folder = self._workspace.settings.get("last_folder")
        name = "".join(c if c.isalnum() or c in " -" else "" for c in snapshot.head.title).strip()
        suggested = f"{name.replace(' ', '-').lower() or 'session'}{SUFFIX}"
        path = choose_file(self._page, "Export the session", folder, SESSION_FILTER, save=suggested)
        if path:
            self.export_file(key, Path(path))

    def delete(self, key: str) -> None:
        """Ask, and take a session out of the library."""
        snapshot = self._snapshot(key)
        if snapshot is None:
            return
        text = f"Delete “{snapshot.head.title}” with {count(len(snapshot.shots), 'shot')}?"
        hint = "Ctrl+Z brings it back until the window is closed."
        question = question_box(self._page, "Delete a session", text, hint)
        delete = question.addButton("Delete", QMessageBox.ButtonRole.DestructiveRole)
        keep = question.addButton("Cancel", QMessageBox.ButtonRole.RejectRole)
        question.setDefaultButton(keep)
        run_dialog(question)
        if question.clickedButton() is delete:
            self._run(remove_session(snapshot))

    def _snapshot(self, key: str) -> Snapshot | None:
        """A session of the list; None where it cannot be read, which is said."""
        try:
            return self._workspace.document.session(key)
        except LibraryError as error:
            self._workspace.messages.say(str(error), "bad")
            return None

    def _run(self, command: Command) -> bool:
        try:
            self._workspace.document.run(command)
        except (LibraryError, ReadOnly) as error:
            self._workspace.messages.say(str(error), "bad")
            return False
        return True


def _size(session: Session) -> str:
    racks = session.racks or ()
    shots = sum(len(rack.shots or ()) for rack in racks)
    return f"{count(shots, 'shot')} in {count(len(racks), 'rack')}, {session.date or 'no date'}"
