"""The shot in hand in Review, taken to Practice."""

from __future__ import annotations

from datetime import date

from ripasso.core.json_data import JsonObject
from ripasso.review.practice.exercises import exercise_of_shot
from ripasso.review.record.model import Player
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.state.selection import Say

Taken = tuple[JsonObject, Player, str | None, JsonObject | None]


def taken_exercise(controller: ReviewController, say: Say) -> Taken | None:
    """The shot as an exercise of its player, with game and table; None, with a sentence, without one."""
    snapshot, shot = controller.snapshot, controller.shot
    rack = snapshot.rack(shot.rack) if snapshot is not None and shot is not None else None
    if snapshot is None or shot is None or rack is None:
        say("No shot is in hand; F marks a strike and begins one.", "plain")
        return None
    head = snapshot.head
    player = next((one for one in head.players or () if one.id == shot.record.player), None)
    if player is None or player.ghost:
        say("Say first who played this shot: an exercise belongs to a player.", "unsure")
        return None
    values = exercise_of_shot(shot.record, rack.record.number, head, date.today())
    return values, player, head.game, head.table
