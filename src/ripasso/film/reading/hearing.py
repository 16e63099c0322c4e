"""The strike of a shot by its sound: sharper than a frame, and heard where somebody hides the ball."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.film.decoding.sound import Click
from ripasso.film.reading.motion.shots import ReadShot

#: How far off a click may be, seconds: of a sharp strike, and before and after a vague one.
NEAR_S, VAGUE_S = 0.08, (0.9, 0.3)
#: A strike seen so surely is sharp.
SHARP = 0.95
#: How sure a strike is that was both seen and heard, and one that was heard where it was not well seen.
SEEN_AND_HEARD, HEARD = 0.98, 0.92


def window(shot: ReadShot) -> tuple[float, float]:
    """From when to when the strike may be heard."""
    before, after = (NEAR_S, NEAR_S) if shot.sure["t_strike"] >= SHARP else VAGUE_S
    return max(0.0, shot.t_strike - before), shot.t_strike + after


def hear(shot: ReadShot, clicks: Sequence[Click]) -> bool:
    """Move the strike of a shot to its click, where there is one in its window; True when it moved.

    A sharp strike takes the nearest click. A vague one takes the first of those half as loud as the loudest:
    the tip comes before the balls that meet.
    """
    early, late = window(shot)
    heard = [click for click in clicks if early <= click.time_s <= late]
    if not heard:
        return False
    if shot.sure["t_strike"] >= SHARP:
        click = min(heard, key=lambda one: abs(one.time_s - shot.t_strike))
        shot.sure["t_strike"] = SEEN_AND_HEARD
    else:
        loudest = max(one.loud for one in heard)
        click = next(one for one in heard if one.loud >= loudest / 2)
        shot.sure["t_strike"] = max(shot.sure["t_strike"], HEARD if len(heard) < 4 else 0.8)
    shot.t_strike = click.time_s
    return True
