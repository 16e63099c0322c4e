"""From where the diagram is looked at: turned as the film sees the table, or by its user."""

from __future__ import annotations

from PyQt6.QtGui import QKeySequence

from ripasso.drawing.seats import VIEWING_SIDES, ViewingSide, viewing_side_of
from ripasso.ui.actions import shown_key
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.review.state.keys import POCKET_KEYS


class ViewingSideController:
    """Turns the diagram of a page; the pockets' letters keep the shape that is seen."""

    def __init__(self, context: ReviewContext) -> None:
        self._context = context
        self._seat: ViewingSide = "side"
        self._chosen = False

    def begin(self) -> None:
        """A session is taken in hand: seen from the side until its film says otherwise."""
        self._chosen = False
        self._take("side")

    def turn(self) -> None:
        """Look at the table from the next of its sides."""
        self._chosen = True
        self._take(VIEWING_SIDES[(VIEWING_SIDES.index(self._seat) + 1) % len(VIEWING_SIDES)])

    def sit_at_camera(self) -> None:
        """See the table as the film does, unless its user turned it himself."""
        camera = self._context.film_pointer.camera
        if camera is None or self._chosen:
            return
        spec = self._context.pictures.spec
        seat = viewing_side_of((float(camera.eye[0]), float(camera.eye[1])), spec.length, spec.width)
        if seat != self._seat:
            self._take(seat)

    def _take(self, seat: ViewingSide) -> None:
        self._seat = seat
        keys = POCKET_KEYS[seat]
        for pocket, names in keys.items():
            shortcuts = [QKeySequence(name) for name in names]
            self._context.actions[f"pocket_{pocket}"].setShortcuts(shortcuts)
        self._context.shots.turn(seat, {pocket: shown_key(names[0]) for pocket, names in keys.items()})
