"""What diagram and film do with the mouse: the same gestures, in places on the table."""

from __future__ import annotations

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
