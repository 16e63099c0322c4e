"""From where the diagram is looked at: turned as the film sees the table, or by its user."""

from __future__ import annotations

from PyQt6.QtGui import QKeySequence

from ripasso.drawing.seats import SEATS, Seat, seat_of
from ripasso.ui.actions import shown_key
from ripasso.ui.review.keys import POCKET_KEYS
from ripasso.ui.review.parts import Parts


class Seating:
    """Turns the diagram of a page; the pockets' letters keep the shape that is seen."""

    def __init__(self, parts: Parts) -> None:
        self._parts = parts
        self._seat: Seat = "side"
        self._chosen = False

    def begin(self) -> None:
        """A session is taken in hand: seen from the side until its film says otherwise."""
        self._chosen = False
        self._take("side")

    def turn(self) -> None:
        """Look at the table from the next of its sides."""
        self._chosen = True
        self._take(SEATS[(SEATS.index(self._seat) + 1) % len(SEATS)])

    def sit_at_camera(self) -> None:
        """See the table as the film does, unless its user turned it himself."""
        camera = self._parts.film_hand.camera
        if camera is None or self._chosen:
            return
        spec = self._parts.pictures.spec
        seat = seat_of((float(camera.eye[0]), float(camera.eye[1])), spec.length, spec.width)
        if seat != self._seat:
            self._take(seat)

    def _take(self, seat: Seat) -> None:
        self._seat = seat
        keys = POCKET_KEYS[seat]
        for pocket, names in keys.items():
            shortcuts = [QKeySequence(name) for name in names]
            self._parts.actions[f"pocket_{pocket}"].setShortcuts(shortcuts)
        self._parts.shots.turn(seat, {pocket: shown_key(names[0]) for pocket, names in keys.items()})
