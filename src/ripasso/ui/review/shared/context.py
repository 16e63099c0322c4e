"""The parts of Review that its helpers work with, so that none of them needs to know the page."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtWidgets import QWidget

from ripasso.ui.actions import ActionRegistry
from ripasso.ui.review.film.film_controller import FilmController
from ripasso.ui.review.film.film_player import FilmPlayer
from ripasso.ui.review.film.film_pointer import FilmPointer
from ripasso.ui.review.film.film_view import FilmView
from ripasso.ui.review.shared.shots_view import ShotsView
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.table.picture_controller import PictureController
from ripasso.ui.services.background import Background
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.table_view import TableView
from ripasso.ui.workspace import Workspace


@dataclass(frozen=True)
class ReviewContext:
    """Built once by the page. `window` is what dialogs belong to, `refresh` shows everything anew."""

    window: QWidget
    workspace: Workspace
    actions: ActionRegistry
    controller: ReviewController
    film_controller: FilmController
    player: FilmPlayer
    pictures: PictureController
    shots: ShotsView
    film_pointer: FilmPointer
    refresh: Callable[[], None]

    @property
    def theme(self) -> Theme:
        """Colours and fonts of the window."""
        return self.workspace.theme

    @property
    def background(self) -> Background:
        """The one door to background work."""
        return self.workspace.background

    @property
    def table(self) -> TableView:
        """The diagram."""
        return self.shots.table

    @property
    def film(self) -> FilmView:
        """The film's picture."""
        return self.shots.film

    def say(self, text: str, tone: str = "plain") -> None:
        """A sentence in the one place for messages."""
        self.workspace.messages.say(text, tone)

    def remember(self, name: str, value: object) -> None:
        """Keep a setting."""
        self.workspace.settings.set(name, value)
