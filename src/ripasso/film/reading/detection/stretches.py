"""What of a film is not the match as it ran: stopped pictures, slow motion, shots shown again, cuts.

All of it is proposed, never taken out of the record by the program.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ripasso.core.table.places import Place
from ripasso.film.reading.detection.picture import Bytes
from ripasso.film.reading.motion.shots import ReadShot

#: Every so many pixels of a picture are looked at, and by how much the same picture differs (of 255).
STEP, SAME = 8, 0.02
#: A picture that stands so long is a stop, where fewer than this share of the film's pictures stand anyway.
STANDS_S, OFTEN = 1.0, 0.15
#: How far balls may lie from where they lay for it to be the same shot again, metres.
AGAIN_M = 0.03
#: A shot shown again so many times as long is shown slowly.
SLOWER = 1.25
#: What is shown around a shot that is shown again, seconds.
AROUND_S = 0.5

#: A cue ball meets the first ball about so long after it is struck, seconds (common practice, no source).
FOUND_S = 0.3

Kind = Literal["paused", "slow", "replay", "cut_out"]


@dataclass(frozen=True)
class Stretch:
    """From when to when (seconds) the film shows what; `shows_s` is the strike of the shot shown again."""

    kind: Kind
    start_s: float
    end_s: float
    sure: float
    shows_s: float | None = None


class StandingPictures:
    """Notices pictures that are the same as the one before. A film that always stands says nothing by it."""

    def __init__(self) -> None:
        self._last: Bytes | None = None
        self._last_s = self._since_s = 0.0
        self._frames = self._same = 0
        self._found: list[tuple[float, float]] = []

    def add(self, time_s: float, picture: Bytes) -> None:
        """Take in the next picture (rows, columns, 3)."""
        now = picture[::STEP, ::STEP, 0]
        self._frames += 1
        last = self._last
        if last is not None and float(np.abs(now.astype(np.int16) - last).mean()) <= SAME:
            self._same += 1
        else:
            self._keep(self._last_s)
            self._since_s = time_s
        self._last, self._last_s = now.copy(), time_s

    def _keep(self, until_s: float) -> None:
        if until_s - self._since_s >= STANDS_S:
            self._found.append((self._since_s, until_s))

    def stretches(self) -> list[Stretch]:
        """The stops so far; none where pictures of a still table are always the same."""
        if self._same > OFTEN * self._frames:
            return []
        return [Stretch("paused", a, b, 0.8) for a, b in self._found]


def shown_before(shot: ReadShot, earlier: Sequence[ReadShot]) -> Stretch | None:
    """The stretch in which an earlier shot is shown again, when this is one.

    Balls never lie twice in the same places by themselves: the same layout that plays to the same end is
    the same shot. A shot set up again by hand ends elsewhere.
    """
    for other in reversed(earlier):
        if other is shot or (other.rack != shot.rack and len(other.before) != len(shot.before)):
            continue
        # A replay may begin so near the strike that one ball is still taken for where it was before.
        if _alike(other.before, shot.before, 1) and _alike(other.after, shot.after) and _moved(other):
            longer = (shot.t_rest - shot.t_strike) / max(0.1, other.t_rest - other.t_strike)
            kind: Kind = "slow" if longer > SLOWER else "replay"
            start_s, end_s = max(0.0, shot.t_strike - AROUND_S), shot.t_rest + AROUND_S
            return Stretch(kind, start_s, end_s, 0.85, other.t_strike)
    return None


def without_risen(shot: ReadShot, fallen: Collection[int]) -> None:
    """Take balls out of a shot that had fallen and were seen again in a replay only.

    When the live picture comes back they are gone: that is no second pot, and no contact.
    """
    risen = [key for key, _, _ in shot.potted if key in fallen]
    if not risen:
        return
    shot.potted = [fell for fell in shot.potted if fell[0] not in risen]
    for key in risen:
        shot.before.pop(key, None)
        shot.path.pop(key, None)
    ran_s = min((way[0][0] for way in shot.path.values()), default=shot.t_strike)
    # The jump back to the live picture looked like the strike: it was before the first ball ran.
    shot.t_strike = max(shot.t_strike, ran_s - FOUND_S)
    shot.sure["t_strike"] = min(shot.sure["t_strike"], 0.5)
    if shot.first_contact in risen:
        others = [key for key in shot.path if key != shot.cue]
        shot.first_contact = min(others, key=lambda key: shot.path[key][0][0], default=None)
        shot.sure["first_contact"] = min(shot.sure["first_contact"], 0.5)


def _alike(one: Mapping[int, Place], other: Mapping[int, Place], elsewhere: int = 0) -> bool:
    """The same places, whichever ball is said to lie there; one may be missing on either side."""
    if abs(len(one) - len(other)) > 1 or min(len(one), len(other)) < 2:
        return False
    few, many = sorted((np.array(list(p.values())) for p in (one, other)), key=len)
    away = np.hypot(*(few[:, None, :] - many[None, :, :]).transpose(2, 0, 1)).min(axis=1)
    return int((away > AGAIN_M).sum()) <= elsewhere


def _moved(shot: ReadShot) -> bool:
    """Something else than the cue ball moved: a mere tap of the cue ball tells little."""
    return any(
        key not in shot.after or np.hypot(*np.subtract(shot.after[key], place)) > AGAIN_M
        for key, place in shot.before.items()
        if key != shot.cue
    )
