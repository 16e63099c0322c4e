"""Which ball a shot was meant for, and whether it fell as meant."""

from __future__ import annotations

from ripasso.core.rules import ShotScore
from ripasso.review.record.model import Shot

POT_INTENTS = ("pot", "two_way")


def meant_at_all(shot: Shot) -> bool:
    """Whether a ball was meant to be potted: by the intent, or because one was called."""
    return shot.intent in POT_INTENTS or (shot.call is not None and shot.call.ball is not None)


def meant_ball(shot: Shot, judged: ShotScore | None) -> str | None:
    """The ball a pot was meant for: called, else the only ball on, else the ball hit first."""
    if shot.call and shot.call.ball:
        return shot.call.ball
    on = judged.balls_on if judged else ()
    if len(on) == 1:
        return on[0]
    first = shot.facts.first_contact if shot.facts else None
    if first is not None and (not on or first in on):
        return first
    return None


def meant_ball_down(shot: Shot, judged: ShotScore | None) -> bool:
    """The meant ball fell into the meant pocket (any pocket where none was called or recorded)."""
    ball = meant_ball(shot, judged)
    pocket = shot.call.pocket if shot.call else None
    fallen = (shot.facts.potted if shot.facts else None) or ()
    return any(p.ball == ball and (not pocket or not p.pocket or p.pocket == pocket) for p in fallen)
