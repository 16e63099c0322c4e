"""Figures about the chance to clear a rack: clearances beside what was expected, and what it went by."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ripasso.core.figures.facts import NO, UNKNOWN, YES, Facts, Flags
from ripasso.core.inference.estimates import expected, mean
from ripasso.review.language.translation import noop, tr
from ripasso.statistics.pages.figures import Figure
from ripasso.statistics.pages.lines import Line, averaged, ends, metres, points, rated

#: Games in which who clears the table wins the rack.
CLEARED_WINS = ("nine_ball", "ten_ball", "eight_ball")
#: The titles, in order.
CLEARING = (EXPECTED, BY_HARD, BY_CLUSTERS, AWAY, PATTERN, LOST_AT) = (
    "Clearances beside the chance to clear",
    "Cleared, by hard balls of the best plan",
    "Cleared, by clusters on the table",
    "Of the chance to clear, given away",
    noop("Cue ball beside the plan worked out, made pots"),
    "Where racks were lost",
)
#: From so many on, hard balls and clusters are told together.
HARD_FROM, CLUSTERS_FROM = 3, 2


def clearing_lines(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    """What was worked out of the chance to clear, and what came of it."""
    chance = facts.numbers("clear_before")
    begins = (facts.ints("visit_score") != UNKNOWN) & ~np.isnan(chance) & facts.equal("game", *CLEARED_WINS)
    cleared = facts.equal("visit_end", "rack_won")
    yield "cleared", EXPECTED, "Racks cleared, of visits", rated(places, begins, cleared)
    yield "to_clear", EXPECTED, "Chance to clear, mean", averaged(places, begins, chance, points)
    beside = expected(chance[begins], int((begins & cleared).sum()))
    above = "nothing" if beside.above is None else f"{beside.above:+.1f}{ends(beside.low, beside.high, 0)}"
    yield "cleared_above", EXPECTED, "Cleared above expected", Figure(places[begins], words=above)
    for title, column, most in (
        (BY_HARD, "clear_hard", HARD_FROM),
        (BY_CLUSTERS, "clear_clusters", CLUSTERS_FROM),
    ):
        counted = facts.ints(column)
        for number in range(most + 1):
            own = begins & (counted >= number if number == most else counted == number)
            if own.any():
                words = str(number) if number < most else f"{number} and more"
                yield f"{column} {number}", title, words, rated(places, own, cleared)
    yield from _away(facts, places)
    beyond = facts.numbers("clear_ran")
    known = ~np.isnan(beyond)
    title = tr(PATTERN)
    yield "ran_beyond", title, "Stopped farther than planned, mean", averaged(places, known, beyond, metres)
    with np.errstate(invalid="ignore"):
        yield "ran_more", title, "Stopped farther than planned", rated(places, known, beyond > 0)
    lost, marked, agreed = _racks_lost(facts)
    yield "lost_at", LOST_AT, "The shot that took most of the chance", Figure(places[lost])
    yield "root_agrees", LOST_AT, "It is the marked cause", rated(places, marked, agreed)


def _away(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    """What choices and strokes took of the chance to clear; by whether the plan was kept."""
    changed = facts.ints("replanned")
    for key in ("choice", "stroke"):
        away = facts.numbers(f"clear_{key}")
        known = ~np.isnan(away)
        yield f"clear_{key}", AWAY, f"By {key}, mean of a shot", averaged(places, known, away, points)
        told = points(mean(sums_of_racks(facts, known, away)))
        yield f"clear_{key}_rack", AWAY, f"By {key}, a rack", Figure(places[known], words=told)
    away = facts.numbers("clear_choice")
    for key, text, value in (("kept", tr("plan kept"), NO), ("changed", tr("plan changed"), YES)):
        yield f"clear_{key}", AWAY, f"By choice, {text}", averaged(places, changed == value, away, points)


def _racks_lost(facts: Facts) -> tuple[Flags, Flags, Flags]:
    """The shot of each rack at which most of the chance to clear went; those of racks whose losing shot, or
    the cause of a failure, is marked; and those that are it."""
    away = facts.numbers("clear_choice") + facts.numbers("clear_stroke")
    lost, marked, agreed = (np.zeros(len(facts), dtype=np.bool_) for _ in range(3))
    _, rack_of = np.unique(np.stack((facts.ints("session"), facts.ints("rack"))), axis=1, return_inverse=True)
    roots, rack_root, numbers = facts.ints("root"), facts.ints("rack_root"), facts.ints("number")
    rack_of = rack_of.ravel()
    for rack in np.unique(rack_of[~np.isnan(away)]):
        own = rack_of == rack
        worst = int(np.argmax(np.where(own & ~np.isnan(away), away, -np.inf)))
        if away[worst] <= 0:
            continue
        lost[worst] = True
        said = rack_root[own & (rack_root >= 0)]
        causes = said if len(said) else roots[own & (roots >= 0)]
        marked[worst] = len(causes) > 0
        agreed[worst] = numbers[worst] in causes
    return lost, marked, agreed


def sums_of_racks(facts: Facts, among: Flags, values: np.ndarray) -> np.ndarray:
    """The sum of the known values of each rack that has one of these shots."""
    racks = np.stack((facts.ints("session")[among], facts.ints("rack")[among]))
    _, place = np.unique(racks, axis=1, return_inverse=True)
    return np.bincount(place.ravel(), weights=np.nan_to_num(values[among]))
