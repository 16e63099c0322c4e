"""All pages of figures by their names, and two ways to cut crossed. Each figure has its shots.

A page's lines are in `shot_pages`, `match_pages` and `judgement_pages`; to add a page: a function there, and
an entry in the module's table.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import UNKNOWN, YES, Facts, Flags
from ripasso.core.figures.slices import groups_of
from ripasso.core.inference.intervals import rate
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import sentence
from ripasso.statistics.pages.charts import charts_of, grid_chart
from ripasso.statistics.pages.figures import Figure, FigurePage, FigureRow, figure_page
from ripasso.statistics.pages.judgement_pages import JUDGEMENT_PAGES
from ripasso.statistics.pages.lines import Line, PageKind, Side, group_words, lines_of, rated
from ripasso.statistics.pages.match_pages import MATCH_PAGES
from ripasso.statistics.pages.said_page import SAID_PAGES
from ripasso.statistics.pages.shot_pages import SHOT_PAGES

PAGES: Mapping[str, PageKind] = {**SHOT_PAGES, **JUDGEMENT_PAGES, **MATCH_PAGES, **SAID_PAGES}
#: Pages of another kind before and after those, with their words.
OVERVIEW, JUDGED, CROSSED, ATTEMPTS, PRACTICE = "overview", "judged", "crossed", "attempts", "practice"
PAGE_WORDS: Mapping[str, str] = {
    OVERVIEW: "Overview",
    JUDGED: "As judged",
    **{name: kind.words for name, kind in PAGES.items()},
    CROSSED: "Any two crossed",
    ATTEMPTS: "Attempts",
    PRACTICE: "Practice",
}


def page_of(name: str, facts: Facts, sides: Sequence[Side]) -> FigurePage:
    """A page by its name; the shots behind a figure are places in `facts`."""
    heads = {side.key: side.words for side in sides}
    if name not in PAGES:
        judged = figure_page(facts, {side.key: side.mask for side in sides})
        return replace(judged, heads=heads, warning=unlike_words(facts, sides))
    kind = PAGES[name]
    groups = [tr(group) for group in kind.groups]
    per_side: dict[str, dict[str, Line]] = {}
    for side in sides:
        per_side[side.key] = {line[0]: line for line in lines_of(kind, facts, side)}
    order = dict.fromkeys(key for lines in per_side.values() for key in lines)
    known = {key: line for lines in per_side.values() for key, line in lines.items()}
    nothing = Figure(np.array([], dtype=np.int64), rate(0, 0))
    rows = [
        FigureRow(
            key,
            known[key][1],
            known[key][2],
            {s.key: per_side[s.key][key][3] if key in per_side[s.key] else nothing for s in sides},
        )
        for key in sorted(order, key=lambda key: (groups.index(known[key][1]), _band_place(key)))
    ]
    shown = [(side.words, side.mask) for side in sides]
    charts = charts_of(name, facts, shown)
    return FigurePage(facts, tuple(heads), rows, charts, unlike_words(facts, sides), heads)


def _band_place(key: str) -> float:
    """Bands stand in their order, whichever player has which; all else stays as it comes."""
    name, _, band = key.partition(" ")
    return float(band.split("-")[0].rstrip("+")) if name in ("cut", "distance", "cushions") else 0.0


def unlike_words(facts: Facts, sides: Sequence[Side]) -> str:
    """A warning when what is compared was played on unlike tables."""
    tables = [sorted(facts.where(side.mask).values("table")) for side in sides]
    if len(tables) < 2 or tables[0] == tables[1] or not all(tables):
        return ""
    one, other = (" and ".join(words) for words in tables[:2])
    return f"Unlike tables: {sides[0].words} on {one}; {sides[1].words} on {other}."


# Two ways to cut, crossed


@dataclass(frozen=True)
class Counted:
    """What is counted in every cell: its words, the shots it is of, and those that count."""

    words: str
    among: Callable[[Facts], Flags]
    success: Callable[[Facts], Flags]


def _zone_known(facts: Facts) -> Flags:
    known: Flags = facts.flags("made") & (facts.ints("zone") != UNKNOWN)
    return known


def _side_known(facts: Facts) -> Flags:
    known: Flags = facts.flags("made") & (facts.known("side"))
    return known


def _judged(facts: Facts) -> Flags:
    known: Flags = facts.flags("made") & (facts.known("position"))
    return known


COUNTED: Mapping[str, Counted] = {
    "pots": Counted(tr("pots made"), of.pots, lambda facts: facts.flags("made")),
    "zone": Counted("zone hit", _zone_known, lambda facts: facts.ints("zone") == YES),
    "side": Counted("not on the wrong side", _side_known, lambda facts: ~facts.equal("side", "wrong_side")),
    "good": Counted("position judged good", _judged, lambda facts: facts.equal("position", "good")),
    "errors": Counted(
        "shots with an unforced error",
        lambda facts: np.ones(len(facts), dtype=np.bool_),
        lambda facts: facts.known("unforced"),
    ),
}
#: How the ways to cut are called.
WAY_WORDS: Mapping[str, str] = {
    "cut": "cut, degrees",
    "cut_side": "side of the cut",
    "distance": "distance, % of the table",
    "pocket": "pocket",
    "stroke": "kind of stroke",
    "stroke_pace": "pace of the stroke",
    "spin_cut": "inside or outside",
    "spin_rail": "running or check",
    "delivery": "delivery",
    "method": "method",
    "cushion": noop("ball at a cushion"),
    "cushions": noop("cushions planned"),
    "crossing": "way across the next line",
    "hand": "ball in hand",
    "pressure": "pressure",
    "standing": "the score",
    "phase": "phase of the rack",
    "half": "half of the match",
    "opponent": "opponent",
    "table": "table",
    "date": "date",
    "tag": "tag",
}


def crossed_page(facts: Facts, side: Side, rows: str, across: str, counted: str) -> FigurePage:
    """One player's rate of something in every group of one way to cut, by the groups of another."""
    own, places = facts.by_person(side.mask)
    what = COUNTED[counted]
    among, success = what.among(own), what.success(own)
    heads = {key: mask for key, mask in groups_of(own, across).items() if (mask & among).any()}
    group = sentence(f"{tr(what.words)}, by {tr(WAY_WORDS[rows])} and {tr(WAY_WORDS[across])}")
    made = []
    for key, mask in groups_of(own, rows).items():
        if (mask & among).any():
            cells = {head: rated(places, mask & other & among, success) for head, other in heads.items()}
            cells[ALL] = rated(places, mask & among, success)
            made.append(FigureRow(f"{rows} {key}", group, group_words(rows, key), cells))
    total = {head: rated(places, other & among, success) for head, other in heads.items()}
    total[ALL] = rated(places, among, success)
    made.append(FigureRow("all", "Together", "all", total))
    words = {ALL: "all", **{head: group_words(across, head) for head in heads}}
    grid = grid_chart(CROSSED, "together", group, own, places, (rows, across), among, success)
    charts = [grid] if grid.series else []
    return FigurePage(facts, (*heads, ALL), made, charts, heads=words, compared=False)


ALL = "all"
