"""What somebody sees of a simulated stroke: the ball met first, and who met a cushion."""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.core.physics.motion import Motion


@dataclass(frozen=True)
class Contacts:
    """The ball met first (None: none), and the object balls that met a cushion.

    `cushion_after`: any ball met one after the first contact; `cue_driven`: the cue ball did.
    """

    first: str | None
    driven: frozenset[str]
    cushion_after: bool
    cue_driven: bool


def contacts_of(motion: Motion) -> Contacts:
    """The contacts of a stroke; the jaws of pockets count as cushions."""
    first: str | None = None
    driven: set[str] = set()
    after = False
    cue_driven = False
    for event in motion.events:
        if event.kind == "ball_ball" and "cue" in event.balls and first is None:
            first = next(ball for ball in event.balls if ball != "cue")
        elif event.kind in ("cushion", "jaw"):
            after = after or first is not None
            cue_driven = cue_driven or (first is not None and event.balls[0] == "cue")
            driven |= {event.balls[0]} - {"cue"}
    return Contacts(first, frozenset(driven), after, cue_driven)
