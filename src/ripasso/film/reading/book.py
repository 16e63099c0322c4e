"""The shots of a stretch as they are read: made when the table is calm, complete when no ball is lost."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.table import POCKETS, TableSpec, pocket_centre
from ripasso.core.table.places import Place
from ripasso.film.reading.motion import shots
from ripasso.film.reading.motion.pockets import IN_POCKET_M, NEAR_POCKET_M, pocket_near
from ripasso.film.reading.motion.shots import Left, ReadShot

#: So sure are a carried place behind people, one that was read, a ball that came into sight, the pocket of a
#: lost ball.
CARRIED, READ, APPEARED, GUESSED = 0.85, 0.98, 0.6, 0.4
#: The longest that a ball rolls on when it seems to stand already, seconds.
ROLLS_OUT_S = 0.27
#: What a metre to a pocket counts, in radians off the way there.
FAR_RAD_M = 0.15
#: A ball with so many others this near (radii) stands in a pack.
PACK_RADII, PACKED = 5.0, 3
#: How far ahead of its last place a ball is looked for in a pocket, seconds.
AHEAD_S = 0.15


@dataclass(frozen=True)
class Calm:
    """What is known when the table is calm: places and how sure they are, of before and of now, by keys.

    `begun_s` is when something first ran, `moved_s` when something last did; `appeared` came into sight.
    """

    rack: int
    cue: int | None
    begun_s: float
    moved_s: float
    before: Mapping[int, tuple[Place, float]]
    after: Mapping[int, tuple[Place, float]]
    appeared: frozenset[int]


class ShotBook:
    """Keeps the shots; the last one may wait for a ball that somebody stands before."""

    def __init__(self, spec: TableSpec) -> None:
        self._spec = spec
        self.shots: list[ReadShot] = []
        self.pending: ReadShot | None = None

    def add(
        self, calm: Calm, lefts: Sequence[Left], is_hidden: Callable[[Place], bool], seen: float = 1.0
    ) -> list[ReadShot]:
        """A shot from the balls that left their places; empty while one of them is lost.

        `seen` is the share of the frames that showed the table.
        """
        cue = next((left for left in lefts if left.key == calm.cue), None)
        others = [left for left in lefts if left is not cue]
        t_strike, sure_strike = shots.strike_of(cue, others, calm.begun_s)
        shot = ReadShot(calm.rack, t_strike, t_strike, {}, {}, calm.cue, seen=seen)
        shot.before = {key: place for key, (place, _) in calm.before.items()}
        shot.sure_before = {key: sure for key, (_, sure) in calm.before.items()}
        for left in lefts:
            if left.end is None:
                self._fell_or_lost(shot, left, is_hidden)
        rest_s, sure_rest = shots.rest_of(lefts, [t for _, _, t in shot.potted], t_strike)
        # What still rolled when all seemed to stand comes to rest soon.
        shot.t_rest = max(t_strike, min(rest_s, calm.moved_s + ROLLS_OUT_S))
        shot.after = {key: place for key, (place, _) in calm.after.items()}
        shot.sure_after = {
            key: min(sure, APPEARED) if key in calm.appeared else sure
            for key, (_, sure) in calm.after.items()
        }
        shot.first_contact, shot.contact_s, sure_contact = shots.first_contact(cue, others)
        in_order = sorted(lefts, key=lambda left: left.gone_s)
        shot.left_in_order = [left.key for left in in_order]
        self._add_ways(shot, lefts)
        shot.sure |= {"t_strike": sure_strike, "t_rest": sure_rest}
        shot.sure["first_contact"] = sure_contact if cue is not None else GUESSED
        self.shots.append(shot)
        if shot.lost:
            self.pending = shot
            return []
        return [shot]

    def _fell_or_lost(self, shot: ReadShot, left: Left, is_hidden: Callable[[Place], bool]) -> None:
        """A ball that is no more: it fell, or somebody stands before it."""
        if left.track is None:
            shot.lost[left.key] = None
            return
        last = left.track.last
        pocket, away = pocket_near(self._spec, last.place)
        if away < IN_POCKET_M:
            shot.potted.append((left.key, pocket, last.time_s))
            shot.sure[f"potted{left.key}"] = 0.97
            return
        ahead = left.track.expected(last.time_s + AHEAD_S)
        near, then_away = pocket_near(self._spec, ahead)
        may_fall = away < NEAR_POCKET_M and then_away < away
        in_sight = not is_hidden(last.place)
        sure = 0.8 if in_sight else GUESSED
        shot.lost[left.key] = (near, last.time_s + 0.1, sure) if may_fall else None

    def _add_ways(self, shot: ReadShot, lefts: Sequence[Left]) -> None:
        for left in lefts:
            if left.track is None or len(left.track.points) < 3:
                continue
            points = left.track.points
            shot.sizes += (left.track.size,)
            shot.path[left.key] = shots.simple_path(points)
            touched = shots.cushions_touched(self._spec, points)
            if left.key == shot.cue:
                shot.cushions = touched
            if touched:
                shot.to_cushion[left.key] = touched[0][1]

    def found_again(self, key: int, place: Place, moved_s: float | None = None) -> None:
        """A ball that was lost in the last shot lies there: so it did when the shot was over.

        `moved_s` is when it was last seen to move, None when it was not.
        """
        shot = self.pending
        if shot is None or key not in shot.lost:
            return
        del shot.lost[key]
        shot.after[key] = place
        shot.sure_after[key] = CARRIED
        if moved_s is not None:
            shot.t_rest = max(shot.t_rest, moved_s)
        shot.sure["t_rest"] = min(shot.sure["t_rest"], APPEARED)

    def rolled_on(self, key: int, place: Place, moved_s: float) -> None:
        """A ball of the last shot rolled on from where it came into sight, until `moved_s`."""
        shot = self.shots[-1] if self.shots else None
        if shot is not None and key in shot.after:
            shot.after[key] = place
            shot.t_rest = max(shot.t_rest, moved_s)

    def close_pending(self) -> list[ReadShot]:
        """What is still lost when the next shot comes has fallen, as far as anybody can tell."""
        shot, self.pending = self.pending, None
        if shot is None:
            return []
        for key, guess in sorted(shot.lost.items()):
            if guess is None and self._stood_in_pack(shot, key):
                continue  # no way leads out of the pack: others hide it
            pocket, time_s, sure = guess or (
                self._likely_pocket(shot, key, shot.before[key]),
                shot.t_rest,
                GUESSED,
            )
            shot.potted.append((key, pocket, time_s))
            shot.sure[f"potted{key}"] = sure
        shot.lost = {}
        return [shot]

    def _stood_in_pack(self, shot: ReadShot, key: int) -> bool:
        """Whether so many balls stood about a ball before a shot that they can hide it."""
        near = PACK_RADII * self._spec.ball_radius
        others = [place for other, place in shot.before.items() if other != key]
        away = [float(np.hypot(*np.subtract(place, shot.before[key]))) for place in others]
        return sum(gap < near for gap in away) >= PACKED

    def fell_behind(self, key: int, same_s: float, place: Place) -> None:
        """A ball is gone that somebody stood before in the last shot: it fell then, as far as is known."""
        shot = self.shots[-1] if self.shots else None
        if shot is None or key not in shot.after or not same_s < shot.t_rest or shot.after[key] != place:
            return
        del shot.after[key]
        shot.potted.append((key, self._likely_pocket(shot, key, place), shot.t_rest))
        shot.sure[f"potted{key}"] = GUESSED
        if shot.first_contact is None:
            shot.first_contact, shot.sure["first_contact"] = key, GUESSED

    def lay_there_before(self, rack: int, key: int, place: Place) -> None:
        """A ball that comes into sight without having moved lay there in all shots of its rack."""
        for shot in self.shots:
            if shot.rack == rack and key not in shot.before:
                shot.before[key] = shot.after[key] = place
                shot.sure_before[key] = shot.sure_after[key] = APPEARED

    def met(self, rack: int) -> list[tuple[int, frozenset[int]]]:
        """The balls that were met first in the shots of a rack, each with those that lay there besides."""
        return [
            (shot.first_contact, frozenset(shot.before) - {shot.first_contact, shot.cue})
            for shot in self.shots
            if shot.rack == rack and shot.first_contact is not None
        ]

    def lying_at(self, time_s: float, place: Place, within_s: float) -> tuple[int, int] | None:
        """The rack and the key of the ball that lies at a place when a shot begins or is over."""
        for shot in self.shots:
            for layout, at in ((shot.before, shot.t_strike), (shot.after, shot.t_rest)):
                if abs(at - time_s) > within_s:
                    continue
                for key, there in layout.items():
                    if np.hypot(*np.subtract(there, place)) < self._spec.ball_radius:
                        return shot.rack, key
        return None

    def _likely_pocket(self, shot: ReadShot, key: int, place: Place) -> str:
        """Where a ball went from its place that nobody saw fall: the pocket it ran towards when last seen."""
        way = shot.path.get(key) or [(0.0, *place)]
        (_, x0, y0), (_, x1, y1) = way[max(0, len(way) - 2)], way[-1]
        costs = {}
        for pocket in POCKETS:
            to = np.subtract(pocket_centre(self._spec, pocket), (x1, y1))
            off = float(np.arctan2(to[1], to[0]) - np.arctan2(y1 - y0, x1 - x0))
            turned = abs((off + np.pi) % (2 * np.pi) - np.pi) if (x0, y0) != (x1, y1) else 0.0
            costs[pocket] = turned + FAR_RAD_M * float(np.hypot(*to))
        return min(costs, key=lambda pocket: costs[pocket])
