"""A second shot beside the one in hand: its film stands as far from its strike as the first one does."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ripasso.film import Picture
from ripasso.ui.review.film.film_player import FilmPlayer
from ripasso.ui.review.film.film_view import FilmView
from ripasso.ui.services.background import Background
from ripasso.ui.theme import Theme


@dataclass(frozen=True)
class Pinned:
    """A shot on film: where it is, when it was struck, and what it is in words."""

    film: Path
    strike_s: float
    words: str


class SideBySideView(QWidget):
    """Shows a pinned shot; `follow` brings it to the same time since the strike."""

    def __init__(self, theme: Theme, background: Background) -> None:
        super().__init__()
        self.view = FilmView(theme)
        self.view.setAccessibleName("Film of the shot beside")
        self.player = FilmPlayer(background, self)
        self.pinned: Pinned | None = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.view, 1)
        self.view.resized.connect(self.player.resize)
        self.player.shown.connect(self._show)
        self.player.failed.connect(self.view.show_words)
        self.setVisible(False)

    def pin(self, shot: Pinned) -> None:
        """Show this shot from now on, at its strike."""
        self.pinned = shot
        self.view.set_title(shot.words)
        self.view.show_words("The film is being opened")
        self.setVisible(True)
        self.player.open(shot.film, shot.strike_s)

    def put_away(self) -> None:
        """No shot beside any more."""
        self.pinned = None
        self.setVisible(False)
        self.player.close()

    def follow(self, since_strike_s: float) -> None:
        """The shot in hand is so many seconds after its strike (before it: less than 0)."""
        if self.pinned is not None:
            self.player.seek(self.pinned.strike_s + since_strike_s)

    def _show(self, picture: Picture) -> None:
        self.view.show_picture(picture, late=self.player.late)
