"""Weighs the choices of a rack in the background, a shot after the other, and keeps what was found."""

from __future__ import annotations

from threading import Event
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.vocabulary import rack_word
from ripasso.review.present.weighed_words import rack_given_away
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.services.simulator import prepare

if TYPE_CHECKING:
    from ripasso.core.json_data import JsonObject


class _Bell(QObject):
    """Brings word of a shot from its thread to the window's: how many are done, of how many."""

    weighed = pyqtSignal(int, int)


class WeighingController:
    """Works for the page whose parts it has. Asked again it stops; what was found by then is kept."""

    def __init__(self, context: ReviewContext) -> None:
        self._context = context
        self._stop: Event | None = None
        self._bell = _Bell()
        self._bell.weighed.connect(self._say_how_far)

    @property
    def busy(self) -> bool:
        """A rack is being weighed."""
        return self._stop is not None

    def weigh(self) -> None:
        """Weigh the rack in hand, or stop."""
        context = self._context
        if self._stop is not None:
            self._stop.set()
            return
        snapshot, shot = context.controller.snapshot, context.controller.shot
        if snapshot is None or shot is None:
            context.say("No rack is in hand; its first shot begins one.", "plain")
            return
        stop, rack, bell = context.background.stoppable(), shot.rack, self._bell

        def work() -> dict[str, JsonObject]:
            prepare()
            return _weighed(snapshot, rack, stop, bell)

        self._stop = stop
        name = rack_word(snapshot.head.game or "")
        context.say(f"The choices of this {name} are weighed; again: stop.")
        context.background.run(work, lambda found: self._keep(snapshot.key, rack, found), self._failed)

    def _say_how_far(self, done: int, of: int) -> None:
        if self._stop is not None and not self._stop.is_set():
            self._context.say(f"{done} of {of} choices weighed.")

    def _failed(self, error: Exception) -> None:
        self._stop = None
        self._context.say(f"The choices could not be weighed: {error}", "bad")

    def _keep(self, session: str, rack: str, found: dict[str, JsonObject]) -> None:
        from ripasso.review.planner.weighed_choices import keep_weighed

        self._stop = None
        controller, say = self._context.controller, self._context.say
        if controller.snapshot is None or controller.snapshot.key != session:
            say("The session was left before its choices were weighed; nothing was kept.", "unsure")
            return
        if not found:
            say("Nothing was weighed: a choice needs its intent, its call and the balls before it.", "unsure")
            return
        if controller.perform_session(lambda now: keep_weighed(now, found)):
            now = controller.snapshot.rack(rack)
            told = rack_given_away([row.record for row in now.shots]) if now is not None else None
            say(f"{told}." if told else f"{len(found)} choices weighed.", "good")


def _weighed(snapshot: Snapshot, rack: str, stop: Event, bell: _Bell) -> dict[str, JsonObject]:
    """In a thread: what the program makes of the choices of a rack, by the keys of its shots."""
    from ripasso.review.planner.weighed_choices import (
        choices_of,
        clearings,
        level_of,
        session_spreads,
        told,
        weighed,
    )

    spreads, level = session_spreads(snapshot.head), level_of(snapshot.head)
    choices = choices_of(snapshot, rack)
    kept: dict[str, JsonObject] = {}
    for done, choice in enumerate(choices):
        found = weighed(choice, spreads, lambda: not stop.is_set())
        if stop.is_set():
            break
        if found is not None:
            kept[choice.shot] = told(found, level)
        bell.weighed.emit(done + 1, len(choices))
    if not stop.is_set():
        for shot, clear in clearings(choices, spreads, lambda: not stop.is_set()).items():
            if shot in kept:
                kept[shot]["clear"] = clear
    return kept
