"""Where two balls met their tracks may have been exchanged: colours on both sides of a meeting tell."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from ripasso.core.table.places import Place
from ripasso.film.reading.motion.tracks import Colour, Point, Track, unlike

#: A ball that leaves its place was met by one that was this near shortly before, metres and seconds.
MET_M, SHORTLY_S = 0.2, 0.12
#: So many points on each side of a meeting tell a colour, taken from at most so many.
LEAST, TELL = 4, 15
#: By how much less unlike both balls must be when their ways are exchanged (light, two colours twice).
CLEARLY = 25.0


def set_right(tracks: Sequence[Track], rests: Mapping[int, tuple[Place, Colour]]) -> list[Track]:
    """The tracks with those exchanged that went on as the ball they met.

    `rests` are the places and colours of balls at rest, by their keys. Tracks that are changed are new ones.
    """
    found = list(tracks)
    for met in tracks:
        key = _left_by(met, tracks, rests)
        if key is None or len(met.points) < LEAST:
            continue
        for i, other in enumerate(found):
            if other is met or met not in found or not _meets(other, met):
                continue
            before = [p for p in other.points if p.time_s < met.first.time_s]
            after = [p for p in other.points if p.time_s >= met.first.time_s]
            if min(len(before), len(after)) < LEAST:
                continue
            if _is_exchanged(before, after, met.points, rests[key][1]):
                found[i] = replace(other, points=[*before, *met.points])
                found[found.index(met)] = replace(met, points=after, origin=key)
    return found


def _left_by(met: Track, tracks: Sequence[Track], rests: Mapping[int, tuple[Place, Colour]]) -> int | None:
    """The ball that left its place where a track begins: seen to, or near there and seen to leave nowhere."""
    if met.origin is not None:
        return met.origin if met.origin in rests else None
    seen = {track.origin for track in tracks}
    away = {key: math.dist(place, met.first.place) for key, (place, _) in rests.items() if key not in seen}
    nearest = min(away, key=lambda key: away[key], default=None)
    return nearest if nearest is not None and away[nearest] < MET_M else None


def _meets(one: Track, other: Track) -> bool:
    """Whether a track was near where another one began just then."""
    start = other.first
    near = [p for p in one.points if abs(p.time_s - start.time_s) < SHORTLY_S]
    return any(math.dist(p.place, start.place) < MET_M for p in near)


def _is_exchanged(
    before: Sequence[Point], after: Sequence[Point], met: Sequence[Point], rest: Colour
) -> bool:
    came, went, left = _colour(before[-TELL:]), _colour(after[:TELL]), _colour(met[:TELL])
    as_followed = unlike(came, went) + unlike(left, rest)
    exchanged = unlike(came, left) + unlike(went, rest)
    return exchanged + CLEARLY < as_followed


def _colour(points: Sequence[Point]) -> Colour:
    light, blue, red = np.median([point.colour for point in points], axis=0)
    return float(light), float(blue), float(red)
