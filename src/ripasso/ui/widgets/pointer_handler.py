"""What diagram and film do with the mouse: the same gestures, in places on the table."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

from ripasso.core.table.places import Place


class PointerHandler(Protocol):
    """Takes gestures. Without a tool in it (`looking`) clicks mean balls and pockets, drags move balls."""

    @property
    def looking(self) -> bool:
        """No tool is in hand."""
        ...

    def grasp(self, place: Place, *, reach_m: float = 0.0) -> bool:
        """A drag begins: whether it takes something along."""
        ...

    def press(self, place: Place, *, also: bool = False, reach_m: float = 0.0) -> None:
        """The button goes down; `reach_m` is how near to a ball is on it, where balls are drawn large."""
        ...

    def move(self, place: Place) -> None:
        """The mouse is dragged."""
        ...

    def release(self, place: Place) -> None:
        """The button goes up."""
        ...

    def hover(self, place: Place) -> None:
        """The mouse moves, its button up."""
        ...

    def finish(self) -> None:
        """What was begun is complete."""
        ...


class ClickHandler:
    """A hand that only clicks: `clicked` is called with the place."""

    looking = False

    def __init__(self, clicked: Callable[[Place], object]) -> None:
        self._clicked = clicked

    def grasp(self, _place: Place, *, reach_m: float = 0.0) -> bool:
        """Nothing is dragged."""
        return False

    def press(self, place: Place, *, also: bool = False, reach_m: float = 0.0) -> None:
        """A click at a place."""
        self._clicked(place)

    def move(self, _place: Place) -> None:
        """Nothing."""

    def release(self, _place: Place) -> None:
        """Nothing."""

    def hover(self, _place: Place) -> None:
        """Nothing."""

    def finish(self) -> None:
        """Nothing."""
