"""The same stroke many times, as a player who is not exact plays it: what came of each.

The errors of stroke number i depend on the seed and on i alone: as many threads as there are give the same.
"""

from __future__ import annotations

import math
import os
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from ripasso.core.physics.bed import Bed
from ripasso.core.physics.compiling import compile_
from ripasso.core.physics.contacts import BALL_BALL, CUSHION, JAW, POCKET
from ripasso.core.physics.motion import apart, arrays
from ripasso.core.physics.parameters import Array, Physics
from ripasso.core.physics.players import Spreads
from ripasso.core.physics.search import run
from ripasso.core.physics.strokes import MISCUE, Stroke
from ripasso.core.table.places import Place

#: A ball that was not potted.
ON_TABLE = -1
#: Events of one stroke that are kept; more than any but a break of many balls has.
CAP = 4000
#: The slowest that a stroke gets by an error, as a share of what was wanted.
SLOWEST = 0.1


@dataclass(frozen=True)
class Outcomes:
    """What came of n strokes on m balls: rest (n, m, 2), fate (n, m; a pocket's number or `ON_TABLE`).

    `first` (n,) is the ball met first (-1: none), `cushion` (n,) whether a ball met a cushion after that,
    `cushions` (n,) how many the cue ball met, `ended` (n,) whether all came to rest.
    """

    balls: tuple[str, ...]
    rest: Array
    fate: npt.NDArray[np.int64]
    first: npt.NDArray[np.int64]
    cushion: npt.NDArray[np.bool_]
    cushions: npt.NDArray[np.int64]
    ended: npt.NDArray[np.bool_]

    def potted(self, ball: str) -> npt.NDArray[np.int64]:
        """The pocket's number for each stroke, `ON_TABLE` where the ball was not potted."""
        return self.fate[:, self.balls.index(ball)]


def errors_of(seed: int, count: int) -> Array:
    """Standard normal errors (count, 4) of aim, speed, tip across, tip up; the generator counts."""
    return np.random.Generator(np.random.Philox(key=seed)).standard_normal((count, 4))


def played(stroke: Stroke, spreads: Spreads, errors: Array, physics: Physics) -> Array:
    """The cue ball's start (n, 5: vx, vy, wx, wy, wz) with errors (n, 4); a tip never slips off."""
    phi = stroke.phi + spreads.aim_mrad / 1000 * errors[:, 0]
    speed = stroke.speed * np.maximum(SLOWEST, 1 + spreads.speed * errors[:, 1])
    millimetre = 1e-3 / physics.radius
    a = stroke.a + spreads.tip_across_mm * millimetre * errors[:, 2]
    b = stroke.b + spreads.tip_up_mm * millimetre * errors[:, 3]
    out = np.maximum(1.0, np.hypot(a, b) / max(MISCUE, math.hypot(stroke.a, stroke.b)))
    a, b = a / out, b / out
    sine, cosine = math.sin(stroke.elevation), math.cos(stroke.elevation)
    # More offset is less speed for the same cue.
    share = 1 + physics.mass / physics.cue_mass
    wanted = share + 2.5 * (stroke.a**2 + stroke.b**2)
    speed = speed * wanted / (share + 2.5 * (a * a + b * b))
    turn = 2.5 * speed / (cosine * physics.radius)
    way = phi + math.radians(physics.squirt_deg) * a
    return np.column_stack(
        (
            speed * np.cos(way),
            speed * np.sin(way),
            turn * (a * sine * np.cos(phi) - b * np.sin(phi)),
            turn * (a * sine * np.sin(phi) + b * np.cos(phi)),
            turn * a * cosine,
        )
    )


def repeat(
    layout: Mapping[str, Place],
    starts: Array,
    bed: Bed,
    physics: Physics,
    threads: int | None = None,
) -> Outcomes:
    """Strokes with starts (n, 5) of the cue ball on one layout; raises `ValueError` without a cue ball."""
    if "cue" not in layout:
        raise ValueError("There is no cue ball on the table.")
    balls = tuple(layout)
    places = apart([layout[ball] for ball in balls], physics.radius)
    count = len(starts)
    made = Outcomes(
        balls,
        np.zeros((count, len(balls), 2)),
        np.full((count, len(balls)), ON_TABLE, dtype=np.int64),
        np.full(count, -1, dtype=np.int64),
        np.zeros(count, dtype=np.bool_),
        np.zeros(count, dtype=np.int64),
        np.zeros(count, dtype=np.bool_),
    )
    cue, constants, shape = balls.index("cue"), physics.as_array(), arrays(bed)
    threads = threads or min(2, os.cpu_count() or 1)

    def work(part: slice) -> None:
        _repeat(
            places,
            cue,
            np.ascontiguousarray(starts[part]),
            constants,
            shape,
            bed.contact_m,
            made.rest[part],
            made.fate[part],
            made.first[part],
            made.cushion[part],
            made.cushions[part],
            made.ended[part],
        )

    bounds = np.linspace(0, count, threads + 1).astype(int)
    parts = [slice(int(low), int(high)) for low, high in pairwise(bounds) if high > low]
    if len(parts) <= 1:
        for part in parts:
            work(part)
    else:
        with ThreadPoolExecutor(len(parts)) as pool:
            list(pool.map(work, parts))
    return made


@compile_
def _repeat(  # type: ignore[no-untyped-def]
    places, cue, starts, constants, bed, contact, rest, fate, first, cushion, cushions, ended
):
    """Plays every start and writes what came of it into the arrays."""
    count = places.shape[0]
    states, kinds = np.zeros((count, 7)), np.zeros(count, dtype=np.int64)
    events, logged = np.zeros((CAP, 4)), np.zeros((0, 28))
    for k in range(starts.shape[0]):
        states[:, :2] = places
        states[:, 2:] = 0.0
        states[cue, 2:] = starts[k]
        kinds[:] = 0
        done = run(states, kinds, constants, bed, contact, CAP, events, logged)
        ended[k] = done >= 0
        if done < 0:
            done = -done - 1
        rest[k] = states[:, :2]
        for i in range(done):
            kind, one = int(events[i, 1]), int(events[i, 2])
            if kind == POCKET:
                fate[k, one] = int(events[i, 3])
            elif kind == BALL_BALL and first[k] < 0 and (one == cue or int(events[i, 3]) == cue):
                first[k] = int(events[i, 3]) if one == cue else one
            elif kind == CUSHION or kind == JAW:  # noqa: PLR1714, SIM109  (compiled: a set would be built)
                cushion[k] = cushion[k] or first[k] >= 0
                if one == cue and kind == CUSHION:
                    cushions[k] += 1


def strokes_with_errors(
    stroke: Stroke, spreads: Spreads, physics: Physics, *, seed: int, count: int
) -> Array:
    """Starts (count, 5) of one stroke as a player plays it."""
    return played(stroke, spreads, errors_of(seed, count), physics)


def starts_of(strokes: Sequence[Stroke], physics: Physics) -> Array:
    """Starts (n, 5) of strokes played exactly."""
    return np.array([stroke.struck(physics) for stroke in strokes]).reshape(-1, 5)
