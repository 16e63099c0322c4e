"""One small mechanism for change notices: a document announces, windows connect."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")


class Signal(Generic[T]):
    """Calls its listeners, in the order they came, with what happened."""

    def __init__(self) -> None:
        self._listeners: list[Callable[[T], None]] = []

    def connect(self, listener: Callable[[T], None]) -> Callable[[], None]:
        """Add a listener; the returned function takes it away again."""
        self._listeners.append(listener)

        def disconnect() -> None:
            if listener in self._listeners:
                self._listeners.remove(listener)

        return disconnect

    def mark(self) -> Callable[[], None]:
        """A function that takes away every listener that comes from now on, for a window built anew."""
        kept = list(self._listeners)

        def disconnect() -> None:
            self._listeners[:] = [one for one in self._listeners if one in kept]

        return disconnect

    def emit(self, what: T) -> None:
        """Announce once. A listener that leaves meanwhile is not called any more."""
        for listener in list(self._listeners):
            if listener in self._listeners:
                listener(what)
