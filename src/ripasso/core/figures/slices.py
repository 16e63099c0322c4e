"""Ways to cut a player's shots into groups: by cut, distance, spin, pressure; any two can be crossed.

Each way gives the shots of every group as a mask, in the order in which the groups are read. Groups without
shots are left out; a shot of which the thing is not known is in none.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np

from ripasso.core.figures.facts import UNKNOWN, Facts, Flags

Groups = dict[str, Flags]
#: Bands of the cut (degrees) and of both legs together (of the table's length); the lower end belongs to one.
CUT_BANDS = ((0, 15), (15, 30), (30, 45), (45, 60), (60, np.inf))
DISTANCE_BANDS = ((0, 0.25), (0.25, 0.5), (0.5, 0.75), (0.75, 1.0), (1.0, np.inf))
PHASES = ("opening", "middle", "last")
#: A cut of less is straight, degrees (the one-key band of the format).
STRAIGHT_DEG = 5.0
#: A ball whose edge is nearer to a cushion than half a ball of pool is next to it, metres.
NEXT_TO_M = 57.15e-3 / 2


def band_word(low: float, high: float) -> str:
    """Such as "15-30", "60+"."""
    return f"{low:g}+" if np.isinf(high) else f"{low:g}-{high:g}"


def _within(values: np.ndarray, low: float, high: float) -> Flags:
    with np.errstate(invalid="ignore"):
        inside: Flags = (values >= low) & (values < high)
    return inside


def _cut(facts: Facts) -> Groups:
    cut = np.abs(facts.numbers("cut_deg"))
    return {band_word(low, high): _within(cut, low, high) for low, high in CUT_BANDS}


def signed_cuts(facts: Facts) -> Groups:
    """Bands of the cut with its side, from the thinnest to the right to the thinnest to the left."""
    cut = facts.numbers("cut_deg")
    found: Groups = {}
    for low, high in reversed(CUT_BANDS[1:]):
        found[f"-{band_word(low, high)}"] = _within(-cut, low, high)
    found["0"] = _within(np.abs(cut), 0, CUT_BANDS[0][1])
    for low, high in CUT_BANDS[1:]:
        found[band_word(low, high)] = _within(cut, low, high)
    return {key: mask for key, mask in found.items() if mask.any()}


def _cut_side(facts: Facts) -> Groups:
    cut = facts.numbers("cut_deg")
    return {
        "left": _within(cut, STRAIGHT_DEG, np.inf),
        "straight": _within(np.abs(cut), 0, STRAIGHT_DEG),
        "right": _within(-cut, STRAIGHT_DEG, np.inf),
    }


def _distance(facts: Facts) -> Groups:
    share = (facts.numbers("cue_travel") + facts.numbers("object_travel")) / facts.numbers("table_length")
    return {band_word(100 * low, 100 * high): _within(share, low, high) for low, high in DISTANCE_BANDS}


def _texts(name: str, order: Sequence[str] = ()) -> Callable[[Facts], Groups]:
    def groups(facts: Facts) -> Groups:
        found = facts.values(name)
        return {value: found[value] for value in order if value in found} if order else found

    return groups


def _sorted_texts(name: str) -> Callable[[Facts], Groups]:
    return lambda facts: dict(sorted(facts.values(name).items()))


def _words(name: str) -> Callable[[Facts], Groups]:
    return lambda facts: facts.words(name)


def second_half(facts: Facts) -> Flags:
    """Shots in the second half of their session's racks."""
    sessions, racks = facts.ints("session"), facts.ints("rack")
    if not len(facts):
        return np.zeros(0, dtype=np.bool_)
    last = np.zeros(int(sessions.max()) + 1)
    # A session's shots follow one another: one number for each row of them is compared, not each shot's.
    begins = np.concatenate([[0], np.flatnonzero(np.diff(sessions)) + 1])
    np.maximum.at(last, sessions[begins], np.maximum.reduceat(racks, begins))
    late: Flags = racks > last[sessions] / 2
    return late


def _half(facts: Facts) -> Groups:
    late = second_half(facts)
    return {"first_half": ~late, "second_half": late}


def _cushion(facts: Facts) -> Groups:
    gap = facts.numbers("ball_to_cushion")
    return {"next_to_cushion": _within(gap, 0, NEXT_TO_M), "free": _within(gap, NEXT_TO_M, np.inf)}


def _cushions(facts: Facts) -> Groups:
    count = facts.ints("cushions")
    return {"0": count == 0, "1": count == 1, "2": count == 2, "3+": count >= 3}


def _crossing(facts: Facts) -> Groups:
    way = facts.numbers("crossing_deg")
    return {"along": _within(way, 0, 20), "between": _within(way, 20, 50), "across": _within(way, 50, 91)}


def _hand(facts: Facts) -> Groups:
    known = facts.ints("visit") != UNKNOWN
    hand = facts.flags("in_hand")
    return {"in_hand": known & hand, "as_it_lay": known & ~hand}


_WAYS: Mapping[str, Callable[[Facts], Groups]] = {
    "cut": _cut,
    "cut_side": _cut_side,
    "distance": _distance,
    "pocket": _texts("target"),
    "stroke": _texts("stroke"),
    "stroke_pace": _texts("stroke_pace", ("dead", "soft", "medium", "firm", "power")),
    "spin_cut": _texts("spin_cut", ("outside", "none", "inside")),
    "spin_rail": _texts("spin_rail", ("running", "none", "neither", "check")),
    "delivery": _words("delivery"),
    "method": _words("methods"),
    "cushion": _cushion,
    "cushions": _cushions,
    "crossing": _crossing,
    "hand": _hand,
    "pressure": _words("pressure"),
    "standing": _texts("standing", ("ahead", "level", "behind")),
    "phase": _texts("phase", PHASES),
    "half": _half,
    "opponent": _sorted_texts("opponent"),
    "table": _sorted_texts("table"),
    "date": _sorted_texts("date"),
    "tag": _words("tags"),
}
#: The ways to cut, in the order in which they are offered.
SLICES = tuple(_WAYS)


def groups_of(facts: Facts, name: str) -> Groups:
    """The groups of one way to cut, those with shots."""
    return {key: mask for key, mask in _WAYS[name](facts).items() if mask.any()}
