"""The whole way of each ball that moved: pieces of tracks, one after the other, that can be one ball's."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.reading.motion.meetings import set_right
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
    pieces = sorted((t for t in followed if len(t.points) >= 2), key=lambda t: t.first.time_s)
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
    if off > JOINS_M + (FASTEST * max(0.0, gap) if free else 0.6):
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
