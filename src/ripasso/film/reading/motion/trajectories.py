"""The whole way of each ball that moved: pieces of tracks, one after the other, that can be one ball's."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.reading.motion.meetings import CLEARLY, MET_M, SHORTLY_S, set_right
from ripasso.film.reading.motion.pockets import IN_POCKET_M, pocket_near
from ripasso.film.reading.motion.tracks import UNLIKE, Colour, Point, Track, unlike

#: How fast a ball may go out of sight, and how long, in m/s and s.
FASTEST, HIDDEN_S = 9.0, 4.0
#: How far off its last place a piece may begin without any time passing, metres.
JOINS_M = 0.08
#: What a second out of sight, and unlike colours (0 to `UNLIKE`), cost in metres.
GAP_M, COLOUR_M = 0.25, 0.003
#: A piece at least so long that begins where a ball left its place is that ball's, metres.
LEFT_M = 0.1
#: Balls that lay this near may be taken for one another as they meet.
BESIDE_M = 0.12
#: Where more balls moved than this a pack was opened: nobody sees which of them left where.
FEW = 4
#: How much earlier than the end of the last piece the next may begin, seconds.
OVERLAP_S = 0.1


@dataclass(frozen=True)
class Mover:
    """A ball that moved: its key, colours, where it lay, until when it was seen there, where it lies now."""

    key: int
    colour: Colour
    place: Place
    same_s: float
    end: Place | None
    was_hidden: bool


def ways(movers: Sequence[Mover], tracks: Sequence[Track], spec: TableSpec | None = None) -> dict[int, Track]:
    """One track for each ball whose way was seen, by its key.

    With the table the way of a ball that is gone ends in the first pocket it reaches.
    """
    followed = set_right(tracks, {mover.key: (mover.place, mover.colour) for mover in movers})
    long_enough = [piece for piece in followed if len(piece.points) >= 2]
    pieces = sorted(with_origins(long_enough, movers), key=lambda t: t.first.time_s)
    at: dict[int, tuple[Place, float]] = {m.key: (m.place, m.same_s) for m in movers}
    taken: dict[int, list[Track]] = {m.key: [] for m in movers}
    gone, fallen = {mover.key for mover in movers if mover.end is None}, set[int]()
    left: set[int | None] = set()
    if len(movers) <= FEW:
        colours = {mover.key: mover.colour for mover in movers}
        left = {piece.origin for piece in pieces if piece.span_m > LEFT_M and _left(piece, colours)}
    for piece in pieces:
        costs = [
            (_cost(piece, mover, *at[mover.key], bool(taken[mover.key])), mover.key)
            for mover in movers
            # A ball that was seen to leave begins its way there, with no other piece.
            if (taken[mover.key] or mover.key not in left or piece.origin == mover.key)
            and mover.key not in fallen
        ]
        cost, key = min(costs, default=(np.inf, -1))
        if cost < np.inf:
            taken[key].append(piece)
            at[key] = (piece.last.place, piece.last.time_s)
            if spec is not None and key in gone and pocket_near(spec, piece.last.place)[1] < IN_POCKET_M:
                fallen.add(key)
    return {key: _joined(own) for key, own in taken.items() if own}


def with_origins(pieces: Sequence[Track], movers: Sequence[Mover]) -> list[Track]:
    """The pieces, with another origin where two balls that lay close by met before any picture tells them
    apart.

    A piece that was followed from one's place may be the other one's, where another piece that begins just
    then is rather the way of the first.
    """
    lay = {mover.key: mover for mover in movers}
    return [
        replace(piece, origin=_whose(piece, lay[piece.origin], movers, pieces))
        if piece.origin in lay
        else piece
        for piece in pieces
    ]


def _whose(piece: Track, own: Mover, movers: Sequence[Mover], pieces: Sequence[Track]) -> int:
    """The ball whose way begins with a piece at the place of one: its own, or one that lay beside it."""
    others = [t for t in pieces if t is not piece and t.origin is None and _begin_together(piece, t)]
    for ball in movers:
        if ball is own or math.dist(ball.place, own.place) >= BESIDE_M:
            continue
        if any(_unlike(piece, ball, t, own) + CLEARLY < _unlike(piece, own, t, ball) for t in others):
            return ball.key
    return own.key


def _begin_together(one: Track, other: Track) -> bool:
    away = math.dist(one.first.place, other.first.place)
    return away < MET_M and abs(one.first.time_s - other.first.time_s) < SHORTLY_S


def _unlike(piece: Track, ball: Mover, other: Track, other_ball: Mover) -> float:
    """How unlike two pieces are to the balls whose ways they are said to be."""
    return unlike(piece.first_colour, ball.colour) + unlike(other.first_colour, other_ball.colour)


def _left(piece: Track, colours: Mapping[int, Colour]) -> bool:
    """Whether a piece is that of the ball that lay where it begins: another may go on from there."""
    if piece.origin is None or piece.origin not in colours:
        return False
    return unlike(piece.first_colour, colours[piece.origin]) < UNLIKE


def _cost(piece: Track, mover: Mover, place: Place, since_s: float, has_begun: bool) -> float:
    """What it costs to say that a piece goes on a ball's way; infinite where it cannot be."""
    gap = piece.first.time_s - since_s
    off_colour = unlike(piece.first_colour, mover.colour)
    left_here = piece.origin == mover.key and not has_begun
    if gap < -OVERLAP_S or gap > HIDDEN_S or off_colour > (2 if left_here else 1) * UNLIKE:
        return float("inf")
    off = float(np.hypot(piece.first.place[0] - place[0], piece.first.place[1] - place[1]))
    # A ball that lay in sight is seen to leave: its way begins where it lay.
    free = has_begun or mover.was_hidden
    joins_m = BESIDE_M if left_here else JOINS_M
    if off > joins_m + (FASTEST * max(0.0, gap) if free else 0.6):
        return float("inf")
    cost = off + GAP_M * max(0.0, gap) + COLOUR_M * off_colour
    if left_here and off_colour < UNLIKE:
        cost -= 1.0
    if mover.end is not None and np.hypot(*np.subtract(piece.last.place, mover.end)) < JOINS_M:
        cost -= 0.3
    return cost


def _joined(pieces: Sequence[Track]) -> Track:
    points: list[Point] = []
    for piece in pieces:
        points += [p for p in piece.points if not points or p.time_s > points[-1].time_s]
    return Track(points, pieces[-1].colour, pieces[0].origin, size=pieces[-1].size)
