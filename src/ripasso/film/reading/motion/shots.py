"""A shot from what was followed: when the cue ball left, when all balls lay still, what happened between."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from ripasso.core.geometry.timed_way import few_places
from ripasso.core.table import TableSpec, cushion_gaps
from ripasso.core.table.places import Place
from ripasso.film.reading.motion.tracks import Point, Track

#: A ball nearer to a cushion than this beside its radius, that then goes away from it, touched it.
AT_CUSHION_M = 0.022
#: From how far from its last place the end of a ball's way is read, metres: less is noise, more another way.
END_M = (0.012, 0.2)
#: The longest that a ball may roll on below what can be seen.
TAIL_S = 0.6
#: A strike is sure when the cue ball was seen to within this of it, seconds.
SHARP_S = 0.12
#: Two balls that leave within this of one another may have left in either order, seconds.
TOGETHER_S = 0.05
#: A ball was seen to leave when it was seen to lie there so shortly before, seconds.
SEEN_TO_LEAVE_S = 0.3
#: The slowest that a cue ball goes to the ball that it meets, metres a second (common practice, no source).
SLOWEST_M_S = 0.6


@dataclass
class ReadShot:
    """What was read of one shot; balls are keys of things. `sure` holds the confidence of each value.

    Times in seconds, places in metres. `after` lacks potted balls and those that were lost from sight;
    `lost` holds the pocket, the time and the confidence with which such a ball may have fallen.
    """

    rack: int
    t_strike: float
    t_rest: float
    before: dict[int, Place]
    after: dict[int, Place]
    cue: int | None
    potted: list[tuple[int, str, float]] = field(default_factory=list)
    first_contact: int | None = None
    cushions: list[tuple[str, float]] = field(default_factory=list)
    to_cushion: dict[int, float] = field(default_factory=dict)
    path: dict[int, list[tuple[float, float, float]]] = field(default_factory=dict)
    contact_s: float | None = None
    left_in_order: list[int] = field(default_factory=list)  # who moved, the first one first
    sizes: tuple[float, ...] = ()  # of the balls that ran, beside those of this table
    seen: float = 1.0  # the share of frames since the last calm that showed the table
    sure: dict[str, float] = field(default_factory=dict)
    sure_after: dict[int, float] = field(default_factory=dict)
    sure_before: dict[int, float] = field(default_factory=dict)
    lost: dict[int, tuple[str, float, float] | None] = field(default_factory=dict)


@dataclass(frozen=True)
class Left:
    """A thing that moved in a shot: from where, until when it was seen there, when first it was gone."""

    key: int
    place: Place
    same_s: float
    gone_s: float
    track: Track | None
    end: Place | None


def strike_of(cue: Left | None, others: Sequence[Left], first_seen_s: float) -> tuple[float, float]:
    """When the cue ball was struck, and how sure that is."""
    if cue is None:
        starts = [left.gone_s for left in others] or [first_seen_s]
        return min(starts), 0.3
    seen_s = cue.track.first.time_s if cue.track else cue.gone_s
    early, late = cue.same_s, min(cue.gone_s, seen_s) if cue.gone_s > cue.same_s else seen_s
    late = max(early, min(late, first_seen_s if first_seen_s >= early else late))
    if late - early <= SHARP_S:
        return (early + late) / 2, 0.97
    guess, before_contact = _rolled_back(cue), _before_contact(cue, others, seen_s)
    early = max(early, before_contact)
    if guess is not None:
        guess = max(guess, before_contact)
    # An object ball cannot have left before the cue ball.
    latest = min([left.gone_s for left in others if left.gone_s > early] + [max(late, seen_s)])
    if guess is None:
        return (early + latest) / 2, 0.5 if latest - early > 0.5 else 0.85
    return float(np.clip(guess, early, latest)), 0.9 if seen_s - guess < 0.35 else 0.75


def _before_contact(cue: Left, others: Sequence[Left], seen_s: float) -> float:
    """When the cue ball was struck at the earliest that came into sight only after its first contact.

    What it lost in the contact is not known, but its way there is, and hardly anybody plays slower.
    """
    seen = [left for left in others if left.gone_s - left.same_s < SEEN_TO_LEAVE_S and left.gone_s < seen_s]
    if not seen:
        return -math.inf
    first = min(seen, key=lambda left: left.gone_s)
    return first.same_s - math.dist(cue.place, first.place) / SLOWEST_M_S


def struck_first(lefts: Sequence[Left]) -> int | None:
    """The ball that left before all others did, None where that was not seen."""
    if not lefts:
        return None
    first = min(lefts, key=lambda left: left.gone_s)
    is_clear = all(left.same_s >= first.gone_s - TOGETHER_S for left in lefts if left is not first)
    return first.key if is_clear and first.gone_s - first.same_s < SEEN_TO_LEAVE_S else None


def _rolled_back(cue: Left) -> float | None:
    """When a ball that came into sight on its way left its place, from its speed there."""
    if cue.track is None or len(cue.track.points) < 4:
        return None
    points = cue.track.points[: min(8, len(cue.track.points))]
    times = np.array([p.time_s for p in points])
    places = np.array([p.place for p in points])
    velocity = np.polyfit(times - times[0], places, 1)[0]
    speed = float(np.hypot(*velocity))
    way = float(np.hypot(*(places[0] - cue.place)))
    if speed < 0.05:
        return None
    # A ball slows down as it goes: by a tenth of its weight at most while it slides, by little after.
    earlier = np.sqrt(speed**2 + 2 * 0.25 * way)
    return float(times[0] - 2 * way / (speed + earlier))


def rest_of(lefts: Sequence[Left], potted_s: Sequence[float], least_s: float) -> tuple[float, float]:
    """When the last ball stopped, and how sure that is."""
    ends, sure = [least_s, *potted_s], 0.97
    for left in lefts:
        if left.end is None or left.track is None:
            continue
        stop, is_sharp = _stopped(left.track.points, left.end)
        ends.append(stop)
        if not is_sharp and stop >= max(ends) - 0.2:
            sure = 0.6
    return max(ends), sure


def _stopped(points: Sequence[Point], end: Place) -> tuple[float, bool]:
    """When a ball reached its last place: the root of its distance falls evenly as it rolls out."""
    times = np.array([p.time_s for p in points])
    # The last points say better than a picture taken apart where the ball is seen to stand.
    tail = np.array([p.place for p in points if p.time_s > times[-1] - 0.15])
    settled = np.median(tail, axis=0)
    near_end = float(np.hypot(*(settled - end))) < 0.03
    target = settled if near_end else np.array(end)
    away = np.hypot(*(np.array([p.place for p in points]) - target).T)
    moving = np.flatnonzero(away > END_M[0])
    if not len(moving):
        return float(times[0]), False
    last = int(moving[-1])
    seen_to_stop = near_end and times[-1] - times[last] > 0.1
    use = [i for i in range(max(0, last - 40), last + 1) if END_M[0] < away[i] < END_M[1]]
    if len(use) >= 4:
        slope, at = np.polyfit(times[use] - times[last], np.sqrt(away[use]), 1)
        if slope < -1e-3:
            return float(times[last] + np.clip(-at / slope, 0, TAIL_S)), seen_to_stop
    return float(times[last]), seen_to_stop


def cushions_touched(spec: TableSpec, points: Sequence[Point]) -> list[tuple[str, float]]:
    """The cushions (name, time) that a followed ball came back from."""
    found: list[tuple[str, float]] = []
    for cushion in ("head", "foot", "left", "right"):
        gaps = np.array([cushion_gaps(spec, p.place)[cushion] for p in points])
        times = np.array([p.time_s for p in points])
        near = gaps < spec.ball_radius + AT_CUSHION_M
        for first, last in _runs(near):
            i = first + int(np.argmin(gaps[first : last + 1]))
            came = gaps[max(0, i - 4)] - gaps[i] if i > 0 else 0.0
            goes = gaps[min(len(gaps) - 1, i + 4)] - gaps[i]
            if came > 0.006 and goes > 0.003:
                found.append((cushion, float(times[i])))
    return sorted(found, key=lambda touched: touched[1])


def _runs(flags: np.ndarray) -> list[tuple[int, int]]:
    """First and last places of the stretches that hold."""
    edges = np.flatnonzero(np.diff(np.concatenate(([False], flags, [False])).astype(int)))
    return [(int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def first_contact(cue: Left | None, others: Sequence[Left]) -> tuple[int | None, float | None, float]:
    """The ball that the cue ball met first, when, and how sure that is."""
    if not others:
        return None, None, 0.6
    order = sorted(others, key=lambda left: (left.same_s + left.gone_s) / 2)
    first = order[0]
    when = (first.same_s + first.gone_s) / 2
    vague = first.gone_s - first.same_s > 0.3
    close = [
        left
        for left in order[1:]
        if (left.same_s + left.gone_s) / 2 - when < TOGETHER_S or left.same_s < when
    ]
    if close and cue is not None and cue.track is not None:
        way = cue.track.points
        nearest = min([first, *close], key=lambda left: _nearest_pass(way, left.place))
        return nearest.key, when, 0.7
    if close and cue is not None:
        # Nobody saw the way there: of those that left together the nearest was met.
        nearest = min([first, *close], key=lambda left: math.dist(left.place, cue.place))
        return nearest.key, when, 0.6
    if vague:
        return first.key, when, 0.6
    return first.key, when, 0.7 if close else 0.96


def _nearest_pass(points: Sequence[Point], place: Place) -> float:
    """How soon a ball's way comes near a place: the earliest of its nearest points counts."""
    away = np.hypot(*(np.array([p.place for p in points]) - place).T)
    return float(np.argmin(np.where(away < away.min() + 0.02, 0, 1)) + away.min())


def simple_path(points: Sequence[Point], within_m: float = 0.004) -> list[tuple[float, float, float]]:
    """A ball's way as few points (s, m, m), none of those left out farther than `within_m` from it."""
    few = few_places([(p.time_s, *p.place) for p in points], within_m)
    return [(round(time_s, 3), round(float(x), 4), round(float(y), 4)) for time_s, x, y in few]
