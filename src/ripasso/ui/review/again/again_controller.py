"""Playing a shot again: which set is in hand, what is counted, on film or beside it."""

from __future__ import annotations

from typing import Any

from ripasso.core.geometry.zones import distance_outside
from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.table import table_spec
from ripasso.review.document.edits import REMOVE, Path, set_values
from ripasso.review.document.signal import Signal
from ripasso.review.entry.attempts import (
    NotAChange,
    add_attempt_set,
    add_set_of_layout,
    attempt_set,
    change_words,
    corrected_attempt,
    ranked,
    read_change,
    remove_attempt_set,
    rested_at,
    said_of_attempt,
    set_of_shot,
    toggled_criterion,
    toggled_relaxed,
    with_attempt,
    without_last,
)
from ripasso.review.language.vocabulary import count
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.model import serialize
from ripasso.review.record.practice import Attempt, AttemptSet
from ripasso.ui.review.again.again_page import AgainPage
from ripasso.ui.review.shared.context import ReviewContext


class AgainController:
    """Works for the page whose parts it has."""

    def __init__(self, context: ReviewContext, page: AgainPage) -> None:
        self._context, self._page = context, page
        self._key: str | None = None
        #: Emitted when the last set of the session is deleted.
        self.emptied: Signal[None] = Signal()
        self._changes: list[JsonObject] = []
        #: The place of an earlier attempt that is looked at; None: the next one is counted.
        self._chosen: int | None = None
        page.counted.connect(self.count)
        page.criterion.connect(self._criterion)
        page.relaxed.connect(lambda: self._set(lambda m: toggled_relaxed(m, self._here), "Grant an attempt"))
        page.stepped.connect(self._step)
        page.said.connect(self._say_words)
        page.rested.connect(self._rest)
        page.renamed.connect(lambda text: self._values({("title",): text}, "Rename a set of attempts"))
        page.uncounted.connect(self._uncounted)
        page.took_back.connect(lambda: self._set(without_last, "Take an attempt back"))
        page.deleted.connect(self._delete)
        page.changed.connect(self._change)
        page.added.connect(self._add_criterion)
        page.chosen.connect(self._choose)
        page.weighed.connect(self._weigh)
        page.limited.connect(lambda text: self._values({("own_limits",): text or REMOVE}, "Say own limits"))

    @property
    def made(self) -> AttemptSet | None:
        """The set in hand."""
        snapshot = self._context.controller.snapshot
        return attempt_set(snapshot, self._key) if snapshot is not None and self._key else None

    def begin(self) -> bool:
        """Take the shot in hand again: the set it was made into, or a new one. False: there is none."""
        controller = self._context.controller
        snapshot, shot = controller.snapshot, controller.shot
        if snapshot is None:
            return False
        key = set_of_shot(snapshot, shot.key) if shot is not None else None
        if key is None and shot is not None:
            if not controller.perform_session(lambda now: add_attempt_set(now, shot.key)):
                return False
            snapshot = controller.snapshot
            key = snapshot.attempt_sets[-1][0] if snapshot is not None else None
        if key is None and snapshot is not None and snapshot.attempt_sets:
            key = snapshot.attempt_sets[-1][0]
        if key is None:
            self._context.say("No shot is in hand that could be played again.")
            return False
        self._key, self._changes, self._chosen = key, [], None
        self.refresh()
        return True

    def begin_with(self, kept: KeptLayout) -> bool:
        """Count attempts at a kept layout: in the session's set of it, or in a new one."""
        controller = self._context.controller

        def found() -> str | None:
            sets = controller.snapshot.attempt_sets if controller.snapshot is not None else ()
            return next((key for key, one in sets if one.from_layout == kept.id), None)

        if found() is None and not controller.perform_session(lambda now: add_set_of_layout(now, kept)):
            return False
        self._key, self._changes, self._chosen = found(), [], None
        self.refresh()
        return self._key is not None

    def refresh(self) -> None:
        """Show the set in hand as it stands."""
        snapshot, made = self._context.controller.snapshot, self.made
        if snapshot is None or made is None:
            return
        if self._chosen is not None and self._chosen >= len(made.attempts or ()):
            self._chosen = None
        self._page.show_set(made, ranked(snapshot), table_spec(snapshot.head.table), self._chosen)
        self._page.show_pending(
            change_words(Attempt.model_validate({"number": 1, "changed": self._as_tuple()}))
        )

    def _as_tuple(self) -> tuple[JsonMapping, ...]:
        return tuple(self._changes)

    def count(self, success: bool, miss: str = "", film: tuple[str, float] | None = None) -> None:
        """One attempt more, a success or not; where an earlier one is looked at, it is corrected."""
        earlier = self._chosen
        if earlier is not None and film is None:
            words = f"Correct attempt {earlier + 1}"
            self._set(lambda made: corrected_attempt(made, earlier, success, miss or None), words)
            return
        changes = list(self._changes)
        done = self._set(
            lambda made: with_attempt(made, success, film, changes, miss or None),
            "Count a success" if success else "Count a failure",
        )
        if done:
            self._changes = []
            self.refresh()

    def count_on_film(self, success: bool) -> None:
        """An attempt at the frame on screen, for the set of the shot in hand or the last one."""
        moment = self._context.film_controller.moment()
        if self.made is None and not self.begin():
            return
        if moment is None:
            return
        self.count(success, film=(moment.recording, moment.t))
        made = self.made
        if made is not None:
            done = sum(one.outcome == "success" for one in made.attempts or ())
            words = f"{made.title}: {done} of {count(len(made.attempts or ()), 'attempt')}"
            self._context.say(f"{words}, this one at {moment.t:.1f} s.", "good" if success else "plain")

    def _criterion(self, place: int) -> None:
        made = self.made
        criteria = (made.criteria if made else None) or ()
        if 0 <= place < len(criteria):
            here = self._here
            self._set(lambda one: toggled_criterion(one, criteria[place].id, here), "Say a criterion")

    @property
    def _here(self) -> int:
        """The attempt that is spoken of: the one looked at, else the last."""
        return -1 if self._chosen is None else self._chosen

    def _step(self, by: int) -> None:
        """Look at an earlier attempt; behind the last one counting goes on."""
        made = self.made
        attempts = len((made.attempts if made else None) or ())
        place = (attempts if self._chosen is None else self._chosen) + by
        self._chosen = place if 0 <= place < attempts else None
        self.refresh()

    def _say_words(self, text: str) -> None:
        made = self.made
        if made is None or not made.attempts or not text.strip():
            return
        try:
            values = said_of_attempt(made, self._here, text)
        except NotAChange as error:
            self._context.say(str(error), "unsure")
            return
        self._values(values, "Say it of an attempt")

    def _rest(self, place: tuple[float, float]) -> None:
        made = self.made
        if made is None or not made.attempts:
            self._context.say("Count an attempt first; then click where the cue ball stopped.")
            return
        inside = self._inside(made, place)
        self._values(rested_at(made, self._here, place, inside), "Place where an attempt came to rest")

    def _inside(self, made: AttemptSet, place: tuple[float, float]) -> dict[str, bool]:
        """Which areas among the criteria a place lies in."""
        snapshot = self._context.controller.snapshot
        spec = table_spec(snapshot.head.table if snapshot else None)
        balls = {ball: (float(p[0]), float(p[1])) for ball, p in (made.layout or {}).items()}
        found = {}
        for criterion in made.criteria or ():
            zone = core_zone(criterion.zone, balls, spec) if criterion.zone is not None else None
            if zone is not None:
                found[criterion.id] = distance_outside(zone, place) == 0
        return found

    def _uncounted(self, text: str) -> None:
        if text and not text.isdecimal():
            self._context.say("How many before is a number, such as 3.", "unsure")
            return
        number = int(text or 0)
        self._values({("before_count",): number or REMOVE}, "Say how many attempts nobody counted")

    def _change(self, text: str) -> None:
        if not text.strip():
            return
        try:
            self._changes.append(read_change(text))
        except NotAChange as error:
            self._context.say(str(error), "unsure")
            return
        self.refresh()

    def _add_criterion(self, text: str) -> None:
        made = self.made
        if made is None:
            return
        if made.attempts:
            self._context.say("Criteria are fixed before the first attempt.", "unsure")
            return
        listed = [serialize(one) for one in made.criteria or ()]
        listed.append({"id": f"c{len(listed) + 1}", "text": text})
        self._values({("criteria",): listed}, "Fix a criterion")

    def _weigh(self, text: str) -> None:
        try:
            weight: object = float(text) if text else REMOVE
        except ValueError:
            self._context.say("A weight is a number, such as 3.", "unsure")
            return
        self._values({("context_weight",): weight}, "Weigh the situation")

    def _delete(self) -> None:
        """Delete the set in hand with its attempts; the one of most weight is taken in hand next."""
        key = self._key
        if key is None or not self._context.controller.perform_session(
            lambda now: remove_attempt_set(now, key)
        ):
            return
        self._context.say("The attempts at this shot are deleted; Ctrl Z brings them back.", "plain")
        snapshot = self._context.controller.snapshot
        left = ranked(snapshot) if snapshot is not None else ()
        self._key, self._changes = (left[0].key if left else None), []
        if left:
            self.refresh()
        else:
            self.emptied.emit(None)

    def _choose(self, row: int) -> None:
        snapshot = self._context.controller.snapshot
        lines = ranked(snapshot) if snapshot is not None else ()
        if 0 <= row < len(lines):
            self._key, self._changes, self._chosen = lines[row].key, [], None
            self.refresh()
            self._page.setFocus()

    def _set(self, values: Any, words: str) -> bool:
        made = self.made
        return made is not None and self._values(values(made), words)

    def _values(self, values: dict[Path, object], words: str) -> bool:
        key = self._key
        if key is None or not values:
            return False
        done = self._context.controller.perform_session(
            lambda now: set_values(now, "attempt_set", key, values, words)
        )
        self.refresh()
        return done
