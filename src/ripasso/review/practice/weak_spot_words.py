"""Weak spots in words, and as exercises: why they are told, and what they cost."""

from __future__ import annotations

from ripasso.core.practice.weak_spots import WeakSpot
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import word

#: What the ways of a slice are called, before the group.
WAYS = {
    "cut": "cut",
    "cut_side": "to the",
    "distance": "way",
    "stroke": "stroke",
    "stroke_pace": "pace",
    "spin_cut": "side on the cut",
    "delivery": "delivery",
    "method": "by",
    "cushion": "ball",
    "cushions": "cushions",
    "crossing": "next line",
    "pressure": "pressure",
    "phase": "phase",
    "intent": "shot",
}
KINDS = {"pot": noop("pots"), "position": "position after", "decision": "choices in"}
UNITS = {"cut": "°", "distance": " % of the table"}
#: The search fields of the ways that the search line knows, for the shots behind a weak spot.
SEARCHED = {"stroke": "stroke", "spin_cut": "spin", "delivery": "delivery", "method": "method"}


def spot_words(spot: WeakSpot) -> str:
    """The slice: such as "cut 45–60°, to the left"."""
    parts = [f"{WAYS[way]} {_group(way, group)}" for way, group in spot.slices]
    return f"{tr(KINDS[spot.kind])}: {', '.join(parts)}"


def _group(way: str, group: str) -> str:
    if group[:1].isdigit():
        told = group.replace("-", "–").replace("+", " and more")
        return told + UNITS.get(way, "")
    return word(group)


def reason_words(spot: WeakSpot) -> str:
    """Why it is told: such as "6 of 19, 11 expected; two racks in a hundred"."""
    cost = f"{spot.cost:.1f} racks in a hundred"
    if spot.kind == "pot":
        return f"{spot.made:.0f} of {spot.of}, {spot.expected:.0f} expected by the own average; {cost}"
    lost = spot.made / spot.of
    usual = spot.expected / spot.of
    return f"{100 * lost:.0f} points of chance a shot, {100 * usual:.0f} on average, {spot.of} shots; {cost}"
