"""What became of balls between two calms: which moved, which rolled on, which are found again or gone."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.film.reading.book import ShotBook
from ripasso.film.reading.detection.colours import Look
from ripasso.film.reading.detection.discs import Seen
from ripasso.film.reading.detection.scene import State, Thing
from ripasso.film.reading.identity.matching import mover_of
from ripasso.film.reading.motion.shots import Left, struck_first
from ripasso.film.reading.motion.tracks import Track
from ripasso.film.reading.motion.trajectories import Mover

#: A ball is taken to have left a place if its track begins within this of it, metres.
BEGAN_M = 0.09
#: What moved less than this, in ball radii, lay still.
MOVED_RADII = 0.15
#: A ball that creeps on, so slowly that it seems to stand, comes no farther than this, in ball radii.
CREPT_RADII = 2.0
#: A ball that nobody struck is off the table when its place has been bare for this long, seconds.
TAKEN_S = 1.5


@dataclass(frozen=True)
class Found:
    """A ball at rest as it is seen now, with what it was before; None for one that is new."""

    seen: Seen
    look: Look | None
    thing: Thing | None


def origin_of(track: Track, resting: Sequence[Thing]) -> int | None:
    """The thing that left its place just where and when a track begins."""
    left = {thing.key: thing.place for thing in resting if thing.state is not State.SAME and thing.place}
    away = {key: math.dist(track.first.place, place) for key, place in left.items()}
    nearest = min(away, key=lambda key: away[key], default=None)
    return nearest if nearest is not None and away[nearest] < BEGAN_M else None


def moved(balls: Sequence[Found], radius_m: float) -> list[Mover]:
    """The balls that lie elsewhere than before."""
    known = [(ball.thing, ball.seen) for ball in balls if ball.thing is not None]
    return [mover_of(thing, seen.place) for thing, seen in known if _lies_elsewhere(thing, seen, radius_m)]


def rolled_on(book: ShotBook, balls: Sequence[Found], moved_s: float) -> None:
    """Nothing was struck: what runs ran before, and has come to rest now."""
    for ball in balls:
        if ball.thing is not None:
            book.rolled_on(ball.thing.key, ball.seen.place, moved_s)


def crept_on(book: ShotBook, balls: Sequence[Found], radius_m: float, time_s: float) -> None:
    """What lies a little farther than where it seemed to come to rest just now was rolling still, slowly."""
    for ball in balls:
        if ball.thing is None or ball.thing.place is None:
            continue
        way = math.dist(ball.seen.place, ball.thing.place)
        if MOVED_RADII * radius_m < way < CREPT_RADII * radius_m:
            book.rolled_on(ball.thing.key, ball.seen.place, time_s)


def found_again(book: ShotBook, balls: Sequence[Found], moved_s: float | None) -> Iterator[int]:
    """Enter those that were away and are there again; `moved_s` is when they ran, None without a strike."""
    for ball in balls:
        if ball.thing is not None and ball.thing.place is None:
            book.found_again(ball.thing.key, ball.seen.place, moved_s)
            yield ball.thing.key


def taken_away(book: ShotBook, gone: Sequence[Thing], time_s: float, was_struck: bool) -> list[Mover]:
    """What is gone has no place from now on; after a strike it ran."""
    movers = []
    for thing in gone:
        if was_struck:
            movers.append(mover_of(thing, None))
        elif time_s - thing.same_s < TAKEN_S:
            continue  # a hand, a cue, somebody's shadow: it may show again
        elif thing.was_hidden and thing.place is not None:
            book.fell_behind(thing.key, thing.same_s, mover_of(thing, None).place)
        thing.place = None
    return movers


def credit_strike(things: Sequence[Thing], lefts: Sequence[Left]) -> None:
    """What moved first was struck, what moved later was not: so a cue ball shows itself."""
    first = struck_first(lefts)
    if first is None:
        return
    moved_keys = {left.key for left in lefts}
    for thing in things:
        if thing.key in moved_keys:
            thing.struck += 1 if thing.key == first else -1


def _lies_elsewhere(thing: Thing, seen: Seen, radius_m: float) -> bool:
    if thing.place is None:
        return False
    way = float(np.hypot(seen.place[0] - thing.place[0], seen.place[1] - thing.place[1]))
    return way > MOVED_RADII * radius_m
