"""Pages of figures from what was measured: potting, position, habits. Each figure has its shots.

To add a row: a line in the page's function; to add a page: a function, and a line in `PAGES`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace

import numpy as np

from ripasso.core.measures import ShotColumns
from ripasso.core.measures import player as of
from ripasso.core.measures.columns import Flags
from ripasso.core.measures.estimates import mean, quantile
from ripasso.core.measures.facts import UNKNOWN, YES, Facts
from ripasso.core.measures.intervals import rate
from ripasso.core.measures.rest_points import RestPoints, rest_points
from ripasso.review.vocabulary import word
from ripasso.ui.statistics.figures import Figure, FigurePage, FigureRow, figure_page
from ripasso.ui.statistics.lines import Line, ends, millimetres, points, rated
from ripasso.ui.statistics.match_pages import MATCH_GROUPS, MATCH_PAGES, MATCH_WORDS

SLICE_WORDS = {
    "cut": ("By cut", "{}°"),
    "distance": ("By distance, of the table's length", "{} %"),
    "pocket": ("By pocket", "{}"),
    "delivery": ("By delivery", "{}"),
    "method": ("By method", "{}"),
}


def page_of(name: str, columns: ShotColumns, facts: Facts, persons: Sequence[str]) -> FigurePage:
    """A page by its name; the shots behind a figure are places in `columns`."""
    if name not in PAGES:
        return figure_page(columns, persons)
    per_person: dict[str, dict[str, Line]] = {}
    for person in persons:
        own = facts.texts("person") == person
        lines = PAGES[name](facts.where(own), np.flatnonzero(own))
        per_person[person] = {line[0]: line for line in lines}
    order = dict.fromkeys(key for lines in per_person.values() for key in lines)
    known = {key: line for lines in per_person.values() for key, line in lines.items()}
    nothing = Figure(np.array([], dtype=np.int64), rate(0, 0))
    rows = [
        FigureRow(
            key,
            known[key][1],
            known[key][2],
            {p: per_person[p][key][3] if key in per_person[p] else nothing for p in persons},
        )
        for key in sorted(order, key=lambda key: (list(GROUPS).index(known[key][1]), _band_place(key)))
    ]
    rest = _rest_points(facts, persons[0]) if name == "position" and persons else None
    return FigurePage(columns, tuple(persons), rows, rest)


def _rest_points(facts: Facts, person: str) -> RestPoints:
    """The rest points of a player, their shots as places in all facts."""
    own = facts.texts("person") == person
    found = rest_points(facts.where(own))
    return replace(found, places=np.flatnonzero(own)[found.places])


GROUPS = (
    "Pots",
    "Against the level",
    *(title for title, _ in SLICE_WORDS.values()),
    "Missed pots",
    "Zone and aim point",
    "Side of the next ball's line",
    "What it cost",
    "After an error",
    "In streaks",
    "By the ball before",
    *MATCH_GROUPS,
)


def _band_place(key: str) -> float:
    """Bands stand in their order, whichever player has which; all else stays as it comes."""
    name, _, band = key.partition(" ")
    return float(band.split("-")[0].rstrip("+")) if name in ("cut", "distance") else 0.0


def _potting(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    tried, made = of.pots(facts), facts.flags("made")
    yield "pots", "Pots", "All pots", rated(places, tried, made)
    for key, text, mask in zip(
        ("long", "long_to_ball", "long_to_pocket"),
        ("Long pots", "– long to the ball", "– long to the pocket"),
        of.long_masks(facts),
        strict=True,
    ):
        yield key, "Pots", text, rated(places, mask, made)
    spread, beside = of.potting(facts)
    among = places[tried & facts.flags("free")]
    words = (
        "not enough"
        if spread.mrad is None
        else f"{spread.mrad:.2f} mrad{ends(spread.low_mrad, spread.high_mrad, 2)}"
    )
    yield "aim_spread", "Against the level", "Aim spread, less is better", Figure(among, words=words)
    above = "nothing" if beside.above is None else f"{beside.above:+.1f}{ends(beside.low, beside.high, 0)}"
    yield "above", "Against the level", "Pots above expected", Figure(among, words=above)
    for name, masks in of.slice_masks(facts).items():
        if name not in SLICE_WORDS:
            continue
        title, form = SLICE_WORDS[name]
        for value, mask in masks.items():
            yield f"{name} {value}", title, form.format(word(value)), rated(places, mask, made)
    failed = tried & facts.flags("failed")
    for key, text in (("thick", "Thick, of those said"), ("thin", "Thin, of those said")):
        yield from _contact(facts, places, failed, key, text)


def _contact(facts: Facts, places: np.ndarray, failed: Flags, key: str, text: str) -> Iterator[Line]:
    contact = facts.texts("contact")
    said = failed & ((contact == "thick") | (contact == "thin"))
    if said.any():
        yield f"missed_{key}", "Missed pots", text, rated(places, said, contact == key)


def _position(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    made = facts.flags("made")
    zone = made & (facts.ints("zone") != UNKNOWN)
    group = "Zone and aim point"
    yield "zone", group, "Zone hit", rated(places, zone, facts.ints("zone") == YES)
    for key, text, values, find in (
        ("distance_median", "Off the aim point, median", "distance", lambda v: quantile(v, 0.5)),
        ("distance_p90", "Off the aim point, nine in ten within", "distance", lambda v: quantile(v, 0.9)),
        ("along", "Along the last leg, + long", "along", mean),
        ("across", "Across it, + left", "across", mean),
    ):
        numbers = facts.numbers(values)
        known = made & ~np.isnan(numbers)
        yield key, group, text, Figure(places[known], words=millimetres(find(numbers[known])))
    sides = facts.texts("side")
    known = made & (sides != "")
    title = "Side of the next ball's line"
    for key, text in (("right_side", "Right side"), ("wrong_side", "Wrong side"), ("straight", "Straight")):
        yield f"side_{key}", title, text, rated(places, known, sides == key)
    for key, text in (("loss", "Chance lost by position"), ("leave", "Chance left to whoever plays next")):
        numbers = facts.numbers(key)
        known = made & ~np.isnan(numbers)
        yield key, "What it cost", text, Figure(places[known], words=points(mean(numbers[known])))


def _habits(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    tried, made = of.pots(facts), facts.flags("made")
    marked = of.after_mask(facts, facts.texts("unforced") != "")
    yield "after_error", "After an error", "The next three shots", rated(places, tried & marked, made)
    yield "after_rest", "After an error", "All other pots", rated(places, tried & ~marked, made)
    gap = of.after_error(facts)[2]
    if gap.difference is not None and gap.low is not None and gap.high is not None:
        words = f"{100 * gap.difference:+.0f} points ({100 * gap.low:+.0f} to {100 * gap.high:+.0f})"
        sure = "" if gap.low > 0 or gap.high < 0 else ": not enough to tell"
        yield "after_gap", "After an error", "Difference", Figure(places[tried], words=words + sure)
    test = of.streaks(facts)
    said = {None: "not enough to tell", False: "no more than by chance", True: "in streaks"}[test.streaky]
    yield "streaks", "In streaks", "Pots in a row", Figure(places[tried], words=said)
    hard = tried & (np.nan_to_num(facts.numbers("chance"), nan=1.0) < 0.5)
    after_hard = of.next_mask(facts, hard & made)
    yield (
        "after_hard",
        "By the ball before",
        "After a hard ball that went in",
        rated(places, tried & after_hard, made),
    )
    lost = facts.texts("position") == "lost"
    after_lost = of.next_mask(facts, lost & made)
    yield (
        "after_lost",
        "By the ball before",
        "After a lost position",
        rated(places, tried & after_lost, made),
    )


PAGES: Mapping[str, Callable[[Facts, np.ndarray], Iterator[Line]]] = {
    "potting": _potting,
    "position": _position,
    "habits": _habits,
    **MATCH_PAGES,
}
#: The pages in their order, with their words; the first holds what was judged.
PAGE_WORDS = {
    "overview": "Overview",
    "judged": "As judged",
    "potting": "Potting",
    "position": "Position",
    "habits": "Habits",
    **MATCH_WORDS,
}
