"""What Review does with films besides showing them: look through, find a lost one, loop, keep one beside."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu

from ripasso.film import FilmIndex
from ripasso.film.decoding.overview import CACHE, Overview
from ripasso.film.finding import find_film
from ripasso.review.recordings.film_parts import clips_of
from ripasso.ui.review.film.film_sound import FilmSound
from ripasso.ui.review.film.films_dialog import FilmsDialog, FilmTools
from ripasso.ui.review.film.light import Light, LightDialog
from ripasso.ui.review.film.side_by_side import SideBySideView
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.widgets.basics import pop_up, run_dialog, whole_window


class FilmViewController:
    """Works for the page whose parts it has."""

    def __init__(self, context: ReviewContext, beside: SideBySideView, add_film: Callable[[], None]) -> None:
        self._add_film = add_film
        self._context, self._beside = context, beside
        #: In which light each film is looked at while the program runs.
        self._lights: dict[Path, Light] = {}

    def toggle_window(self) -> None:
        """The film in a window of its own, and back."""
        context = self._context
        if not context.film_controller.has_film:
            context.say("There is no film here for a window of its own.")
            return
        actions = [*context.window.actions(), *whole_window(context.window).actions()]
        context.shots.toggle_film_window(actions)

    def choose_light(self) -> None:
        """Ask in which light the film on show is looked at."""
        context, index = self._context, self._context.player.index
        if index is None:
            context.say("There is no film open whose light could be changed.")
            return

        def change(light: Light) -> None:
            self._lights[index.path] = light
            context.film.show_light(light)

        run_dialog(LightDialog(self._lights.get(index.path, Light()), change, whole_window(context.film)))

    def follow(self) -> None:
        """Another frame is on screen: the shot beside follows."""
        since = self._context.film_controller.since_strike()
        if since is not None:
            self._beside.follow(since)

    def look_through(self, index: FilmIndex) -> None:
        """Small pictures and loudness for the strip, in the background; another film ends it."""

        def is_wanted() -> bool:
            return self._context.player.index is index

        def show(found: Overview) -> None:
            if is_wanted():
                self._context.shots.transport.strip.show_overview(found)

        self._context.shots.transport.strip.show_overview(None)
        self._context.film.show_light(self._lights.get(index.path, Light()))
        # A film that cannot be looked through has said so when it was opened; its strip stays bare.
        self._context.background.run(lambda: CACHE.of(index, is_wanted), show, lambda _error: None)

    def look_for_film(self) -> None:
        """A film that is not where it was is looked for, in the background, near where films are."""
        lost, recording = self._context.film_controller.lost_film(), self._context.film_controller.recording
        if lost is None or recording is None:
            return
        wanted, path = lost
        library, last = (
            self._context.workspace.path.parent,
            self._context.workspace.settings.get("last_folder"),
        )
        folders = [path.parent, library, *([Path(last)] if last else []), path.parent.parent]

        def found(at: Path | None) -> None:
            still = self._context.film_controller.recording
            if at is not None and still is not None and still.id == recording.id:
                self._context.film_controller.found_at(recording.id, at)

        self._context.background.run(lambda: find_film(wanted, folders), found)

    def loop(self) -> None:
        """Play the shot in hand again and again, or go on."""
        self._context.film_controller.toggle_loop()
        self._context.shots.transport.strip.show_loop(self._context.player.loop)

    def toggle_sound(self, sound: FilmSound) -> None:
        """Hear films, or not; remembered."""
        sound.on = not sound.on
        self._context.workspace.settings.set("sound", sound.on)
        if not sound.on:
            sound.stop()
        elif self._context.player.playing and self._context.player.time_s is not None:
            self._context.player.seek(self._context.player.time_s)
        self._context.say("The film is heard at its own speed." if sound.on else "The film is silent.")

    def other_camera(self) -> None:
        """Another film of the session, at the same moment where the two run together."""
        self._context.film_controller.other_camera()
        self._context.refresh()

    def show_films(self) -> None:
        """The films of the session."""
        context = self._context
        if context.controller.snapshot is None:
            return
        to = context.film_controller

        def show(film: str) -> None:
            to.choose(film)
            context.refresh()

        tools = FilmTools(
            lambda: context.controller.snapshot,
            context.controller.perform_session,
            show,
            to.shown,
            lambda: to.left,
            self._add_film,
        )
        run_dialog(FilmsDialog(context.theme, tools, context.window))

    def show_clips(self) -> QMenu | None:
        """Offer every place on film that shows the shot in hand: itself, a second camera, replays."""
        controller, film_controller = self._context.controller, self._context.film_controller
        clips = (
            clips_of(controller.snapshot, controller.shot.key)
            if controller.snapshot and controller.shot
            else ()
        )
        if not clips:
            self._context.say("No place on film shows this shot; F marks its strike, ⇧O says a replay.")
            return None
        menu = QMenu(self._context.window)
        title = menu.addSection("This shot on film")
        assert title is not None
        for number, clip in enumerate(clips, start=1):
            action = menu.addAction(f"&{number}  {clip.text}")
            if action is not None:
                action.triggered.connect(lambda _checked=False, one=clip: film_controller.play_clip(one))
        pop_up(menu, self._context.shots.transport.mapToGlobal(QPoint(8, 0)))
        return menu

    def keep_beside(self) -> None:
        """Keep the shot in hand beside the others; pressed again it goes."""
        if self._beside.pinned is not None:
            self._beside.put_away()
            return
        pinned = self._context.film_controller.pinned()
        if pinned is None:
            self._context.say("A shot beside needs a film that is open, and a marked strike.")
            return
        self._beside.pin(pinned)
        self._context.say("Kept beside: go to another shot; both are stepped together.")
