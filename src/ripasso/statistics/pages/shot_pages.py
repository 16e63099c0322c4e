"""Pages of figures about single shots: potting, position, habits. Each figure has its shots.

To add a row: a line in the page's function, and its group in `SHOT_PAGES`.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import UNKNOWN, YES, Facts, Flags
from ripasso.core.figures.slices import groups_of
from ripasso.core.inference.estimates import mean, quantile
from ripasso.review.language.translation import noop, tr
from ripasso.statistics.pages.figures import Figure
from ripasso.statistics.pages.lines import (
    EACH,
    Line,
    PageKind,
    averaged,
    by_group,
    degrees,
    ends,
    metres,
    millimetres,
    points,
    rated,
)

#: The ways to cut that have rows of their own under Potting, with their titles.
POTS_BY = {
    "cut": "By cut",
    "cut_side": "By side of the cut",
    "distance": "By distance, of the table's length",
    "pocket": "By pocket",
    "cushion": "By the ball's place",
    "delivery": "By delivery",
    "method": "By method",
    "stroke_pace": "By pace of the stroke",
    "spin_cut": "By side spin",
    "spin_rail": noop("By side at the next cushion"),
}
#: What may change whether a pot is missed thick.
THICK_BY = {
    "cut_side": "Missed thick, by side of the cut",
    "stroke_pace": "Missed thick, by pace of the stroke",
    "spin_cut": "Missed thick, by side spin",
}


def _potting(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    tried, made = of.pots(facts), facts.flags("made")
    yield "pots", tr("Pots"), tr("All pots"), rated(places, tried, made)
    for key, text, mask in zip(
        ("long", "long_to_ball", "long_to_pocket"),
        (tr("Long pots"), "– long to the ball", "– long to the pocket"),
        of.long_masks(facts),
        strict=True,
    ):
        yield key, tr("Pots"), text, rated(places, mask, made)
    spread, beside = of.potting(facts)
    among = places[tried & facts.flags("free")]
    words = (
        "not enough"
        if spread.mrad is None
        else f"{spread.mrad:.2f} mrad{ends(spread.low_mrad, spread.high_mrad, 2)}"
    )
    yield "aim_spread", "Against the level", "Aim spread, less is better", Figure(among, words=words)
    above = "nothing" if beside.above is None else f"{beside.above:+.1f}{ends(beside.low, beside.high, 0)}"
    yield "above", "Against the level", tr("Pots above expected"), Figure(among, words=above)
    for name, title in POTS_BY.items():
        yield from by_group(facts, places, name, tr(title), tried, made)
    failed = tried & facts.flags("failed")
    said = failed & facts.equal("contact", "thick", "thin")
    for key, text in (("thick", "Thick, of those said"), ("thin", "Thin, of those said")):
        if said.any():
            yield f"missed_{key}", tr("Missed pots"), text, rated(places, said, facts.equal("contact", key))
    for way, title in THICK_BY.items():
        for key, group, text, figure in by_group(
            facts, places, way, title, said, facts.equal("contact", "thick")
        ):
            yield f"thick_{key}", group, text, figure


def _position(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    made = facts.flags("made")
    known_zone, hit = made & (facts.ints("zone") != UNKNOWN), facts.ints("zone") == YES
    group = "Zone and aim point"
    yield "zone", group, "Zone hit", rated(places, known_zone, hit)
    for key, text, values, find in (
        ("distance_median", "Off the aim point, median", "distance", lambda v: quantile(v, 0.5)),
        ("distance_p90", "Off the aim point, nine in ten within", "distance", lambda v: quantile(v, 0.9)),
        ("along", "Along the last leg, + long", "along", mean),
        ("across", "Across it, + left", "across", mean),
    ):
        numbers = facts.numbers(values)
        known = made & ~np.isnan(numbers)
        words = millimetres(find(numbers[known]))
        figure = Figure(places[known], words=words, values=numbers[known], each=EACH[millimetres])
        yield key, group, text, figure
    yield from by_group(facts, places, "cushions", tr("Zone hit, by cushions planned"), known_zone, hit)
    yield from by_group(facts, places, "stroke", "Zone hit, by kind of stroke", known_zone, hit)
    along = facts.numbers("along")
    for kind, mask in groups_of(facts, "stroke").items():
        if (made & mask & ~np.isnan(along)).any():
            title = "Along the last leg, by kind of stroke, + long"
            yield (
                f"along {kind}",
                title,
                kind.replace("_", " "),
                averaged(places, made & mask, along, millimetres),
            )
    yield from _sides(facts, places, made)
    yield from _angles(facts, places, made)
    yield from _travel(facts, places, made)
    for key, text in (("loss", "Chance lost by position"), ("leave", "Chance left to whoever plays next")):
        numbers = facts.numbers(key)
        yield key, "What it cost", text, averaged(places, made, numbers, points)


def _sides(facts: Facts, places: np.ndarray, made: Flags) -> Iterator[Line]:
    known = made & (~facts.equal("side", ""))
    title = "Side of the next ball's line"
    for key, text in (("right_side", "Right side"), ("wrong_side", "Wrong side"), ("straight", "Straight")):
        yield f"side_{key}", title, text, rated(places, known, facts.equal("side", key))
    title = "Not on the wrong side, by the way across the line"
    yield from by_group(facts, places, "crossing", title, known, ~facts.equal("side", "wrong_side"))


def _angles(facts: Facts, places: np.ndarray, made: Flags) -> Iterator[Line]:
    miss, title = facts.numbers("angle_miss"), "Angle left, against the one wanted"
    wanted = made & ~np.isnan(miss)
    if not wanted.any():
        return
    yield "angle_kept", title, "As wanted", rated(places, wanted, miss == 0)
    yield "angle_straight", title, "Too straight", rated(places, wanted, miss < 0)
    yield "angle_steep", title, "Too steep", rated(places, wanted, miss > 0)
    yield "angle_off", title, "Off the band, mean", averaged(places, wanted, np.abs(miss), degrees)


def _travel(facts: Facts, places: np.ndarray, made: Flags) -> Iterator[Line]:
    way, title = facts.numbers("travel"), tr("Way of the cue ball")
    least = facts.numbers("travel_least")
    if (made & ~np.isnan(least)).any():
        yield (
            "travel_least",
            title,
            "Where it is not drawn, at least, mean",
            averaged(places, made, least, metres),
        )
    if not (made & ~np.isnan(way)).any():
        return
    yield "travel", title, "Mean", averaged(places, made, way, metres)
    share = way / facts.numbers("table_length")
    zone, hit = made & (facts.ints("zone") != UNKNOWN), facts.ints("zone") == YES
    with np.errstate(invalid="ignore"):
        bands = (
            ("short", "Zone hit, up to half a table", share < 0.5),
            ("middle", "Zone hit, half a table to one", (share >= 0.5) & (share < 1)),
            ("far", "Zone hit, more than a table", share >= 1),
        )
    for key, text, mask in bands:
        if (zone & mask).any():
            yield f"travel_{key}", title, text, rated(places, zone & mask, hit)


def _habits(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    tried, made = of.pots(facts), facts.flags("made")
    marked = of.after_mask(facts, facts.known("unforced"))
    yield "after_error", "After an error", "The next three shots", rated(places, tried & marked, made)
    yield "after_rest", "After an error", tr("All other pots"), rated(places, tried & ~marked, made)
    gap = of.after_error(facts)[2]
    if gap.difference is not None and gap.low is not None and gap.high is not None:
        ends = (round(100 * value) for value in (gap.difference, gap.low, gap.high))
        words = "{:+d} ({:+d} to {:+d})".format(*ends).replace("-", "−")
        clear = gap.low > 0 or gap.high < 0
        text = "Difference, points" if clear else "Difference, points: not enough to tell"
        yield "after_gap", "After an error", text, Figure(places[tried], words=words)
    test = of.streaks(facts)
    said = {None: "not enough to tell", False: "no more than by chance", True: "in streaks"}[test.streaky]
    yield "streaks", "In streaks", tr("Pots in a row"), Figure(places[tried], words=said)
    hard = tried & (np.nan_to_num(facts.numbers("chance"), nan=1.0) < 0.5)
    miscued = facts.words("causes").get("miscue", np.zeros(len(facts), dtype=np.bool_))
    lost = facts.equal("position", "lost")
    for key, text, mask in (
        ("after_hard", "After a hard ball that went in", of.next_mask(facts, hard & made)),
        ("after_lost", "After a lost position", of.next_mask(facts, lost & made)),
        ("after_miscue", "The next three shots after a miscue", of.after_mask(facts, miscued)),
    ):
        yield key, "By the ball before", text, rated(places, tried & mask, made)
    recovered = of.next_mask(facts, lost & made) & hard
    yield "recovery", "By the ball before", "Hard balls after a lost position", rated(places, recovered, made)


SHOT_PAGES: Mapping[str, PageKind] = {
    "potting": PageKind(
        noop("Potting"),
        _potting,
        (
            noop("Pots"),
            "Against the level",
            *POTS_BY.values(),
            noop("Missed pots"),
            *THICK_BY.values(),
        ),
    ),
    "position": PageKind(
        "Position",
        _position,
        (
            "Zone and aim point",
            noop("Zone hit, by cushions planned"),
            "Zone hit, by kind of stroke",
            "Along the last leg, by kind of stroke, + long",
            "Side of the next ball's line",
            "Not on the wrong side, by the way across the line",
            "Angle left, against the one wanted",
            noop("Way of the cue ball"),
            "What it cost",
        ),
    ),
    "habits": PageKind("Habits", _habits, ("After an error", "In streaks", "By the ball before")),
}
