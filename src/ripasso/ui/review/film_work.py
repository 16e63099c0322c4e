"""What Review does with films besides showing them: look through, find a lost one, loop, keep one beside."""

from __future__ import annotations

from pathlib import Path

from ripasso.film import FilmIndex
from ripasso.film.finding import find_film
from ripasso.film.overview import Overview, overview
from ripasso.ui.review.beside import Beside
from ripasso.ui.review.parts import Parts


class FilmWork:
    """Works for the page whose parts it has."""

    def __init__(self, parts: Parts, beside: Beside) -> None:
        self._parts, self._beside = parts, beside

    def follow(self) -> None:
        """Another frame is on screen: the shot beside follows."""
        since = self._parts.film_desk.since_strike()
        if since is not None:
            self._beside.follow(since)

    def look_through(self, index: FilmIndex) -> None:
        """Small pictures and loudness for the strip, in the background; another film ends it."""

        def is_wanted() -> bool:
            return self._parts.player.index is index

        def show(found: Overview) -> None:
            if is_wanted():
                self._parts.shots.transport.strip.show_overview(found)

        self._parts.shots.transport.strip.show_overview(None)
        # A film that cannot be looked through has said so when it was opened; its strip stays bare.
        self._parts.background.run(lambda: overview(index, is_wanted), show, lambda _error: None)

    def look_for_film(self) -> None:
        """A film that is not where it was is looked for, in the background, near where films are."""
        lost, recording = self._parts.film_desk.lost_film(), self._parts.film_desk.recording
        if lost is None or recording is None:
            return
        wanted, path = lost
        library, last = (
            self._parts.workspace.library.path.parent,
            self._parts.workspace.settings.get("last_folder"),
        )
        folders = [path.parent, library, *([Path(last)] if last else []), path.parent.parent]

        def found(at: Path | None) -> None:
            still = self._parts.film_desk.recording
            if at is not None and still is not None and still.id == recording.id:
                self._parts.film_desk.found_at(recording.id, at)

        self._parts.background.run(lambda: find_film(wanted, folders), found)

    def loop(self) -> None:
        """Play the shot in hand again and again, or go on."""
        self._parts.film_desk.toggle_loop()
        self._parts.shots.transport.strip.show_loop(self._parts.player.loop)

    def keep_beside(self) -> None:
        """Keep the shot in hand beside the others; pressed again it goes."""
        if self._beside.pinned is not None:
            self._beside.put_away()
            return
        pinned = self._parts.film_desk.pinned()
        if pinned is None:
            self._parts.say("A shot beside needs a film that is open, and a marked strike.")
            return
        self._beside.pin(pinned)
        self._parts.say("Kept beside: go to another shot; both are stepped together.")
