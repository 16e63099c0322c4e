"""The parts of Review that its helpers work with, so that none of them needs to know the page."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtWidgets import QWidget

from ripasso.ui.actions import ActionBook
from ripasso.ui.background import Background
from ripasso.ui.review.desk import ReviewDesk
from ripasso.ui.review.film_desk import FilmDesk
from ripasso.ui.review.film_hand import FilmHand
from ripasso.ui.review.film_player import FilmPlayer
from ripasso.ui.review.film_view import FilmView
from ripasso.ui.review.picture_desk import PictureDesk
from ripasso.ui.review.shots_view import ShotsView
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.table_view import TableView
from ripasso.ui.workspace import Workspace


@dataclass(frozen=True)
class Parts:
    """Built once by the page. `window` is what dialogs belong to, `refresh` shows everything anew."""

    window: QWidget
    workspace: Workspace
    actions: ActionBook
    desk: ReviewDesk
    film_desk: FilmDesk
    player: FilmPlayer
    pictures: PictureDesk
    shots: ShotsView
    film_hand: FilmHand
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
