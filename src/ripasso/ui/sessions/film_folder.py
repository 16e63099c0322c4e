"""A folder of films becomes sessions: one for each that no session has yet, with the same choices."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from ripasso.film import FilmError
from ripasso.review.document.document import ReadOnly
from ripasso.review.document.edits import add_session, new_key
from ripasso.review.language.vocabulary import count
from ripasso.review.record.model import Recording, Session
from ripasso.store.errors import LibraryError
from ripasso.ui.services.film_files import FILM_SUFFIXES, remember_film
from ripasso.ui.sessions.new_session import NewSessionDialog, recording_of
from ripasso.ui.widgets.basics import run_dialog
from ripasso.ui.workspace import Workspace


@dataclass(frozen=True)
class LookedThrough:
    """The films of a folder that are new, and the sentences about those that cannot be read."""

    new: tuple[tuple[Path, Recording], ...]
    known: int
    refused: tuple[str, ...]


def films_in(folder: Path) -> list[Path]:
    """The films that lie in a folder, by name; raises `OSError`."""
    return sorted(
        path for path in folder.iterdir() if path.suffix.lower() in FILM_SUFFIXES and path.is_file()
    )


def look_through(films: Sequence[Path], known: Collection[str]) -> LookedThrough:
    """What each film is; `known` are the hashes of the films that sessions have. A film twice counts once."""
    seen, new, refused, there = set(known), [], [], 0
    for path in films:
        try:
            found = recording_of(path)
        except FilmError as error:
            refused.append(str(error))
            continue
        mark = getattr(found.fingerprint, "hash", None)  # an older record says it in one word
        if mark is not None and mark in seen:
            there += 1
            continue
        seen |= {mark} if mark is not None else set()
        new.append((path, found))
    return LookedThrough(tuple(new), there, tuple(refused))


def session_of(like: Session, path: Path, recording: Recording) -> Session:
    """A session like another one, of a film: its name is the title, the day it was written the date."""
    day = date.fromtimestamp(path.stat().st_mtime).isoformat()
    return like.model_copy(
        update={"id": new_key(), "title": path.stem, "date": day, "recordings": (recording,)}
    )


class FilmFolder:
    """Asks for a folder and for what its sessions have in common, and begins them."""

    def __init__(self, workspace: Workspace, page: QWidget) -> None:
        self._workspace, self._page = workspace, page

    def choose(self) -> None:
        """Ask for the folder."""
        start = self._workspace.settings.get("last_folder")
        dialog = QFileDialog(self._page, "Choose a folder of films", start)
        dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
        dialog.setFileMode(QFileDialog.FileMode.Directory)
        if run_dialog(dialog):
            self.take(Path(dialog.selectedFiles()[0]))

    def take(self, folder: Path) -> None:
        """Look through the films of a folder in the background, then ask."""
        say = self._workspace.messages.say
        try:
            films = films_in(folder)
            known = {film.hash for film in self._workspace.library.films() if film.hash}
        except (OSError, LibraryError) as error:
            say(str(error) if isinstance(error, LibraryError) else f"{folder.name} cannot be read.", "bad")
            return
        if not films:
            say(f"There is no film in {folder.name}.", "unsure")
            return
        say(f"{count(len(films), 'film')} of {folder.name} looked through.")
        self._workspace.background.run(
            lambda: look_through(films, known), lambda found: self._ask(folder, found), takes_minutes=True
        )

    def _ask(self, folder: Path, found: LookedThrough) -> None:
        """What the sessions have in common; then they begin."""
        say = self._workspace.messages.say
        for sentence in found.refused:
            say(sentence, "unsure")
        if not found.new:
            if found.known:
                say(f"Every film of {folder.name} has its session already.", "unsure")
            return
        try:
            met = [line.players for line in self._workspace.session_lines()]
        except LibraryError as error:
            say(str(error), "bad")
            return
        dialog = NewSessionDialog(self._workspace.settings, self._workspace.background, met, self._page)
        dialog.for_films(folder.name, len(found.new))
        if run_dialog(dialog):
            self._begin(folder, found, dialog.session())

    def _begin(self, folder: Path, found: LookedThrough, like: Session) -> None:
        say = self._workspace.messages.say
        for path, recording in found.new:
            try:
                self._workspace.document.run(add_session(session_of(like, path, recording)))
            except (LibraryError, ReadOnly, OSError) as error:
                say(str(error), "bad")
                return
            remember_film(self._workspace.settings, path)
        there = f"; {count(found.known, 'film')} had one already" if found.known else ""
        words = f"{count(len(found.new), 'session')} begun with the films of {folder.name}{there}."
        say(f"{words} Ctrl L in each reads its film.", "good")
