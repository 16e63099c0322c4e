"""A ball placed by hand is carried on through the film: looked for in the background, then proposed."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from ripasso.core.table import table_spec
from ripasso.core.table.places import Place
from ripasso.film.calibration.moving import camera_at
from ripasso.review.language.vocabulary import count
from ripasso.review.recordings.carried_balls import LaterLayout, carry_ball, later_layouts, moment_of
from ripasso.review.recordings.views import recording_of, view_at
from ripasso.review.table.layouts import When, recorded
from ripasso.ui.review.shared.context import ReviewContext

if TYPE_CHECKING:
    from ripasso.film.carrying import Lies, Looked

#: How sure a ball is that was seen at its place again; and one that something hid for a while.
SEEN, HIDDEN = 0.95, 0.6


class CarryingController:
    """Works for the page whose parts it has."""

    def __init__(self, context: ReviewContext) -> None:
        self._context = context
        self._asked: int | None = None
        context.pictures.placed.connect(self._placed)

    def _placed(self, what: tuple[When, str]) -> None:
        """A ball was placed in the shot in hand: later layouts that lack it are looked at."""
        when, ball = what
        context = self._context
        shot, snapshot = context.controller.shot, context.controller.snapshot
        index = context.player.index
        place = (recorded(shot, when) or {}).get(ball) if shot is not None else None
        if snapshot is None or shot is None or index is None or place is None:
            return
        now_s, recording = moment_of(shot, when), recording_of(snapshot.head, shot.record.recording)
        layouts = later_layouts(snapshot, shot.key, when, ball, place)
        shown = context.film_controller.recording
        if now_s is None or not layouts or recording is None or shown is None or shown.id != recording.id:
            return
        radius_m = table_spec(snapshot.head.table).ball_radius

        def looked(time_s: float) -> Looked:
            from ripasso.film.carrying import Looked

            view = view_at(recording, time_s)
            return Looked(time_s, camera_at(view, time_s), view)

        def work() -> list[Lies]:
            from ripasso.film.carrying import still_there

            later = [looked(layout.time_s) for layout in layouts]
            return still_there(index, place, radius_m, looked(now_s), later)

        if self._asked is not None:
            context.background.forget(self._asked)
        self._asked = context.background.run(
            work, lambda found: self._carry(snapshot.key, ball, place, layouts, found)
        )

    def _carry(
        self, session: str, ball: str, place: Place, layouts: Sequence[LaterLayout], found: Sequence[Lies]
    ) -> None:
        self._asked = None
        controller = self._context.controller
        if controller.snapshot is None or controller.snapshot.key != session:
            return
        sure = _carried(layouts, found)
        if sure and controller.perform_session(lambda now: carry_ball(now, sure, ball, place)):
            layouts_word = count(len(sure), "later layout")
            self._context.say(f"Ball {ball} lies there still in {layouts_word}: proposed there.", "good")


def _carried(layouts: Sequence[LaterLayout], found: Sequence[Lies]) -> list[tuple[LaterLayout, float]]:
    """The layouts up to the last that shows the ball before one that shows bare cloth, with sureness.

    Nothing is played between the end of a shot and the next strike: seen there the ball lies here as well.
    """
    from ripasso.film.carrying import Lies

    kept: list[tuple[LaterLayout, float]] = []
    waiting: list[tuple[LaterLayout, float]] = []
    for layout, lies in zip(layouts, found, strict=True):
        if lies is Lies.GONE:
            break
        waiting.append((layout, SEEN if lies is Lies.THERE else HIDDEN))
        follows_seen = layout.when == "before" and len(waiting) == 1 and kept
        if lies is Lies.THERE or follows_seen:
            kept += waiting
            waiting = []
    return kept
