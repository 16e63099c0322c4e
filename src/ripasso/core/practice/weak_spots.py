"""Weak spots: what a slice of a player's shots costs, in racks in a hundred, with difficulty taken out.

Of pots: what the player's own aim over all of them makes of the same balls, less what was made, shrunk
towards nothing by the count, times how often the slice comes up in a rack. Of position: the chance that is
lost beyond the player's own average. Of decisions: what choices gave away, where that was worked out.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from ripasso.core.figures.facts import Facts, Flags, Ints
from ripasso.core.figures.player_stats import pots, potting
from ripasso.core.figures.slices import groups_of
from ripasso.core.inference.estimates import Floats

#: Ways to cut pots and positions, alone and in pairs.
POT_SLICES = (
    *("cut", "cut_side", "distance", "stroke", "spin_cut", "delivery", "method", "cushion", "pressure"),
)
POT_PAIRS = (("cut", "cut_side"), ("cut", "distance"))
POSITION_SLICES = ("cushions", "crossing", "stroke", "stroke_pace", "distance")
DECISION_SLICES = ("intent", "phase")
#: A slice's shots beside so many that are as on average; fewer shots than `LEAST` are no slice.
SHRINK, LEAST = 20.0, 8
#: A weakness is told where it is at least so many standard errors beyond chance.
BEYOND = 1.0


@dataclass(frozen=True)
class WeakSpot:
    """One slice: what it is of (pot, position, decision), its ways and groups, its counts and its cost.

    `expected` is the sum of chances of pots (of position and decision the sum of values on the average);
    `cost` are racks in a hundred; `shots` are places in the facts, `failed` those of them that went wrong.
    """

    kind: str
    slices: tuple[tuple[str, str], ...]
    made: float
    of: int
    expected: float
    cost: float
    shots: Ints
    failed: Ints

    @property
    def sort_key(self) -> tuple[float, int, str]:
        """The dearest first; of equal ones the one with more shots."""
        return (-self.cost, -self.of, str(self.slices))


def weak_spots(facts: Facts, person: str, most: int = 12) -> list[WeakSpot]:
    """The dearest weak spots of a player; a slice inside a dearer one of the same shots is left out."""
    own, places = facts.by_person(facts.equal("person", person))
    if not len(own):
        return []
    racks = _racks(own)
    found = [
        one
        for one in (*_of_pots(own, racks), *_of_positions(own, racks), *_of_decisions(own, racks))
        if one.cost > 0
    ]
    found.sort(key=lambda one: one.sort_key)
    kept: list[WeakSpot] = []
    for one in found:
        if all(_are_others(one, dearer) for dearer in kept):
            kept.append(one)
        if len(kept) == most:
            break
    return [_placed(one, places) for one in kept]


def _are_others(one: WeakSpot, other: WeakSpot) -> bool:
    """Less than half of the shots of the smaller one are in both."""
    if one.kind != other.kind:
        return True
    both = len(np.intersect1d(one.shots, other.shots, assume_unique=True))
    return both < 0.5 * min(len(one.shots), len(other.shots))


def _placed(one: WeakSpot, places: Ints) -> WeakSpot:
    return WeakSpot(
        one.kind, one.slices, one.made, one.of, one.expected, one.cost, places[one.shots], places[one.failed]
    )


def _racks(own: Facts) -> int:
    """In how many racks the player struck."""
    pairs = np.stack((own.ints("session"), own.ints("rack")))
    return max(1, int(np.unique(pairs, axis=1).shape[1]))


def _slices(own: Facts, ways: tuple[str, ...]) -> Iterator[tuple[tuple[tuple[str, str], ...], Flags]]:
    for way in ways:
        for group, mask in groups_of(own, way).items():
            yield ((way, group),), mask


def _pairs(own: Facts) -> Iterator[tuple[tuple[tuple[str, str], ...], Flags]]:
    for first, second in POT_PAIRS:
        others = groups_of(own, second)
        for group, mask in groups_of(own, first).items():
            for other, further in others.items():
                yield ((first, group), (second, other)), mask & further


def _of_pots(own: Facts, racks: int) -> Iterator[WeakSpot]:
    among = pots(own) & own.flags("free")
    chance = _own_chances(own, among)
    down = own.flags("down")
    for slices, mask in (*_slices(own, POT_SLICES), *_pairs(own)):
        mine = mask & among
        of = int(mine.sum())
        if of < LEAST:
            continue
        expected, made = float(chance[mine].sum()), int((mine & down).sum())
        error = float(np.sqrt((chance[mine] * (1 - chance[mine])).sum()))
        cost = _cost(expected - made, error, of, racks)
        shots, failed = np.flatnonzero(mine), np.flatnonzero(mine & ~down)
        yield WeakSpot("pot", slices, made, of, expected, cost, shots, failed)


def _own_chances(own: Facts, among: Flags) -> Floats:
    """What the player's own aim, over all of these pots, makes of each; the level's where it is not told."""
    left, right = own.numbers("left_mrad"), own.numbers("right_mrad")
    spread = potting(own)[0].mrad
    if spread is None:
        chance = np.nan_to_num(own.numbers("chance"))
    else:
        with np.errstate(invalid="ignore"):
            chance = np.nan_to_num(ndtr(right / spread) + ndtr(left / spread) - 1)
    # The sum of the chances is what was made: a slice is compared with the others, not with the level.
    total, made = float(chance[among].sum()), int((own.flags("down") & among).sum())
    factor = made / total if total > 0 else 1.0
    return np.clip(chance * factor, 0.0, 1.0)


def _cost(missing: float, error: float, of: int, racks: int) -> float:
    """Racks in a hundred; 0 where it is not told from chance."""
    if missing <= BEYOND * error:
        return 0.0
    shrunk = missing / of * of / (of + SHRINK)
    return 100 * shrunk * of / racks


def _of_positions(own: Facts, racks: int) -> Iterator[WeakSpot]:
    loss = own.numbers("loss")
    yield from _of_values(own, racks, "position", loss, own.flags("made"), POSITION_SLICES)


def _of_decisions(own: Facts, racks: int) -> Iterator[WeakSpot]:
    given = own.numbers("given_choice")
    everything = np.ones(len(own), dtype=np.bool_)
    yield from _of_values(own, racks, "decision", given, everything, DECISION_SLICES)


def _of_values(
    own: Facts, racks: int, kind: str, values: Floats, among: Flags, ways: tuple[str, ...]
) -> Iterator[WeakSpot]:
    """Slices in which more is lost than on the player's average."""
    known = among & ~np.isnan(values)
    if known.sum() < LEAST:
        return
    average, spread = float(values[known].mean()), float(values[known].std())
    for slices, mask in _slices(own, ways):
        mine = mask & known
        of = int(mine.sum())
        if of < LEAST:
            continue
        total, usual = float(values[mine].sum()), average * of
        cost = _cost(total - usual, spread * np.sqrt(of), of, racks)
        worst = np.flatnonzero(mine & (np.nan_to_num(values) > max(average, 0.0)))
        yield WeakSpot(kind, slices, total, of, usual, cost, np.flatnonzero(mine), worst)
