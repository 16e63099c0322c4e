"""The shot in hand in Review, or a kept layout, taken to Plan."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from ripasso.core.table import table_spec
from ripasso.review.language.vocabulary import clock, rack_word
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.present.describing import shot_title
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.people import person_key
from ripasso.review.recordings.views import view_at
from ripasso.review.table.layouts import balls_of, score_of_shot, seen_ways, shown
from ripasso.review.table.settings import table_feel
from ripasso.ui.plan.taken import Taken
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.state.selection import Say

if TYPE_CHECKING:
    from ripasso.ui.review.page.page import ReviewPage


def taken_shot(controller: ReviewController, say: Say) -> Taken | None:
    """The layout before the shot in hand and what was meant; None, with a sentence, without one."""
    snapshot, shot = controller.snapshot, controller.shot
    if snapshot is None or shot is None:
        say("No shot is in hand; F marks a strike and begins one.", "plain")
        return None
    layout = shown(snapshot, shot, "before")
    if "cue" not in layout or len(layout) < 2:
        say("Place the balls before the shot first ([): a plan begins from them.", "unsure")
        return None
    judged = score_of_shot(snapshot, shot)
    on = tuple(ball for ball in (judged.balls_on if judged else ()) if ball in layout)
    record = shot.record
    call = None
    if record.call is not None and record.call.ball in layout and record.call.pocket is not None:
        call = (record.call.ball, record.call.pocket)
    game = snapshot.head.game or "nine_ball"
    rack = snapshot.rack(shot.rack)
    where = f"{rack_word(game).capitalize()} {rack.record.number}, " if rack is not None else ""
    told = shot_title(record, judged, game)
    title = f"{where}{told[:1].lower()}{told[1:]}" if where else told
    spec = table_spec(snapshot.head.table)
    zone = record.plan.zone if record.plan is not None else None
    return Taken(
        game,
        spec,
        layout,
        on,
        call,
        snapshot.key,
        shot.key,
        title,
        seen_ways(record),
        core_zone(zone, layout, spec) if zone is not None else None,
        person_key(snapshot.head, record.player) if record.player is not None else None,
        table_feel(snapshot.head),
    )


def taken_frame(review: ReviewPage, say: Say) -> Callable[[], Taken] | None:
    """What finds the balls in the picture of the film that is on show; heavy: for a thread.

    None, with a sentence, without a film or a game. The work raises `NoTable` or `FilmError`.
    """
    snapshot, recording = review.controller.snapshot, review.film_controller.recording
    index, picture = review.player.index, review.player.picture
    if snapshot is None or recording is None or index is None or picture is None:
        say("No shot is in hand; F marks a strike and begins one.", "plain")
        return None
    game = snapshot.head.game
    if game is None:
        say("Say first which game this is: the balls follow from it.", "unsure")
        return None
    number, spec, time_s = picture.number, review.pictures.spec, index.time_s(picture.number)
    view, feel = view_at(recording, time_s), table_feel(snapshot.head)

    def work() -> Taken:
        from ripasso.film.calibration.moving import camera_at
        from ripasso.film.reading.layout_in_frame import layout_in_frame

        layout = layout_in_frame(index, number, game, spec, camera_at(view, time_s))
        title = f"The film at {clock(time_s)}"
        return Taken(game, spec, layout, (), None, "", "", title, feel=feel)

    return work


def taken_layout(kept: KeptLayout, game: str) -> Taken | None:
    """A kept layout, of a game where it says none; None without the cue ball and another one."""
    layout = balls_of(kept.layout)
    if "cue" not in layout or len(layout) < 2:
        return None
    return Taken(kept.game or game, table_spec(kept.table), layout, (), None, "", "", kept.title)
