"""Balls on their way: from frame to frame what is of a ball's size and nearest to where it should be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.table.places import Place

#: How far off its expected place a ball may be found: metres, and a share of its way in that time.
GATE_M, GATE_SHARE = 0.05, 0.6
#: How long a ball may be out of sight before its track ends, seconds.
UNSEEN_S = 0.4
#: A track's speed is taken over this time, seconds; over the second where the picture is full of grain.
SPEED_S, GRAINY_SPEED_S = 0.12, 0.4
#: What moves less than this in the time of `SPEED_S`, in ball radii, stands.
STANDS_RADII = 0.12
#: What moves less than so many times what it trembles stands as well; over so many points that is taken.
JITTERS, JITTER_POINTS = 2.0, 12
#: A blob so many times as large as a track's usual one is two balls; over so many points a first look goes.
MERGED, FIRST_POINTS = 1.6, 8
#: A track is at a place within so many ball radii, and seen now within so many seconds.
HERE_RADII, NOW_S = 1.5, 0.1
#: Unlike colours (light, two colours twice, 0 to 255) cost as much as this many metres each.
COLOUR_M = 0.0015
#: Colours more unlike than this are those of two balls: where they meet, the one does not go on as the other.
UNLIKE = 100.0

#: Light and two colours twice, 0 to 255 of each.
Colour = tuple[float, float, float]


def unlike(one: Colour, other: Colour) -> float:
    """How unlike two colours are."""
    return sum(abs(a - b) for a, b in zip(one, other, strict=True))


@dataclass(frozen=True)
class Blob:
    """A thing of a ball's size in one frame: where a ball would lie, its colours, its size in discs."""

    place: Place
    colour: Colour
    size: float


@dataclass(frozen=True)
class Point:
    """A tracked ball in one frame."""

    number: int
    time_s: float
    place: Place
    size: float
    colour: Colour


@dataclass
class Track:
    """A ball followed over frames; `origin` is the thing that left its place where the track began."""

    points: list[Point]
    colour: Colour
    origin: int | None = None
    ended: bool = False
    size: float = 1.0  # of its disc, as it usually is

    @property
    def first(self) -> Point:
        """Where it was first seen."""
        return self.points[0]

    @property
    def last(self) -> Point:
        """Where it was last seen."""
        return self.points[-1]

    @property
    def first_colour(self) -> Colour:
        """What it looked like where it was first seen alone: later it may have run into others."""
        alone = [point.colour for point in self.points if point.size <= MERGED * self.size]
        light, blue, red = np.median(alone[:FIRST_POINTS] or [self.colour], axis=0)
        return float(light), float(blue), float(red)

    def velocity(self, over_s: float = SPEED_S) -> tuple[float, float]:
        """Metres a second over the last frames; nothing for a track of one point."""
        last = self.last
        for point in reversed(self.points[:-1]):
            before = point
            if last.time_s - point.time_s >= over_s:
                break
        else:
            if len(self.points) < 2:
                return 0.0, 0.0
        passed = max(1e-3, last.time_s - before.time_s)
        return (last.place[0] - before.place[0]) / passed, (last.place[1] - before.place[1]) / passed

    def expected(self, time_s: float) -> Place:
        """Where it should be at a time, if nothing meets it."""
        passed = time_s - self.last.time_s
        vx, vy = self.velocity()
        return self.last.place[0] + vx * passed, self.last.place[1] + vy * passed

    def moves(self, radius_m: float) -> bool:
        """Whether it moves at its last point: more than the picture's grain makes any still ball move."""
        vx, vy = self.velocity()
        jitter = JITTERS * self._jitter_m()
        if jitter <= STANDS_RADII * radius_m:
            return float(np.hypot(vx, vy)) * SPEED_S > STANDS_RADII * radius_m
        # Where the picture trembles more than that, only a longer time tells a slow ball from a still one.
        vx, vy = self.velocity(GRAINY_SPEED_S)
        way = float(np.hypot(vx, vy)) * GRAINY_SPEED_S
        return way > max(jitter, STANDS_RADII * radius_m * GRAINY_SPEED_S / SPEED_S)

    def _jitter_m(self) -> float:
        """How far points are off an even way, metres: what is left of them in second differences."""
        places = np.array([point.place for point in self.points[-JITTER_POINTS:]])
        if len(places) < 4:
            return 0.0
        bends = np.abs(np.diff(places, n=2, axis=0))
        return float(np.hypot(*np.median(bends, axis=0)))

    @property
    def span_m(self) -> float:
        """How far from its first place it ever was."""
        x, y = self.first.place
        return max(float(np.hypot(p.place[0] - x, p.place[1] - y)) for p in self.points)


class Tracker:
    """Follows all blobs of one stretch of film."""

    def __init__(self, radius_m: float) -> None:
        self._radius_m = radius_m
        self.active: list[Track] = []
        self.ended: list[Track] = []

    def add(self, number: int, time_s: float, blobs: Sequence[Blob]) -> list[Track]:
        """Take in the blobs of a frame; returns the tracks that began."""
        costs = [
            (self._cost(track, blob, time_s), i, j)
            for i, track in enumerate(self.active)
            for j, blob in enumerate(blobs)
        ]
        taken_tracks: set[int] = set()
        taken_blobs: set[int] = set()
        for cost, i, j in sorted(costs):
            if cost == np.inf:
                break
            if i in taken_tracks or j in taken_blobs:
                continue
            taken_tracks.add(i)
            taken_blobs.add(j)
            self._extend(self.active[i], blobs[j], number, time_s)
        begun = [
            Track([Point(number, time_s, blob.place, blob.size, blob.colour)], blob.colour, size=blob.size)
            for j, blob in enumerate(blobs)
            if j not in taken_blobs
        ]
        self._end_old(time_s)
        self.active += begun
        return begun

    def moving(self) -> list[Track]:
        """The tracks that move now."""
        return [track for track in self.active if track.moves(self._radius_m)]

    def fastest(self, time_s: float, within_s: float) -> float:
        """The highest speed (m/s) of what was seen within so long before a time."""
        now = [track for track in self.active if time_s - track.last.time_s < within_s]
        return max((float(np.hypot(*track.velocity())) for track in now), default=0.0)

    def is_fresh(self, time_s: float, within_s: float) -> bool:
        """Whether something just began that may be a ball on its way: where a ball has left its place."""
        return any(
            track.origin is not None
            and time_s - track.first.time_s < within_s
            and time_s - track.last.time_s < within_s
            for track in self.active
        )

    def stands(self, place: Place, time_s: float, since_s: float) -> bool:
        """Whether what is followed at a place has been there for a while; so has what is not followed."""
        near = [
            track
            for track in self.active
            if np.hypot(*np.subtract(track.last.place, place)) < HERE_RADII * self._radius_m
            and time_s - track.last.time_s < NOW_S
        ]
        return not near or any(time_s - track.first.time_s >= since_s for track in near)

    def clear(self) -> None:
        """Forget everything: the shot is over."""
        self.active, self.ended = [], []

    def _cost(self, track: Track, blob: Blob, time_s: float) -> float:
        x, y = track.expected(time_s)
        off = float(np.hypot(blob.place[0] - x, blob.place[1] - y))
        still = float(np.hypot(blob.place[0] - track.last.place[0], blob.place[1] - track.last.place[1]))
        passed = time_s - track.last.time_s
        way = float(np.hypot(*track.velocity())) * passed
        if len(track.points) == 1:
            way = 8.0 * passed  # nothing is known of its speed yet
        if min(off, still) > GATE_M + GATE_SHARE * way:
            return float("inf")
        off_colour = unlike(track.colour, blob.colour)
        if off_colour > UNLIKE:
            return float("inf")
        return min(off, 1.5 * still) + COLOUR_M * off_colour

    @staticmethod
    def _extend(track: Track, blob: Blob, number: int, time_s: float) -> None:
        track.points.append(Point(number, time_s, blob.place, blob.size, blob.colour))
        if blob.size > MERGED * track.size:
            return  # two balls in one: it says nothing of the one
        mixed = tuple(0.8 * a + 0.2 * b for a, b in zip(track.colour, blob.colour, strict=True))
        track.colour = (mixed[0], mixed[1], mixed[2])
        track.size += 0.2 * (blob.size - track.size)

    def _end_old(self, time_s: float) -> None:
        kept = []
        for track in self.active:
            if time_s - track.last.time_s > UNSEEN_S:
                track.ended = True
                self.ended.append(track)
            else:
                kept.append(track)
        self.active = kept
