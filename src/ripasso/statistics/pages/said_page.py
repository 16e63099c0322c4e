"""Everything that can be said of a shot, counted: how many shots, and how their pots went.

To add a column of words: a line in `SAID`.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import NO, YES, Facts, Flags
from ripasso.core.figures.schema import COLUMNS
from ripasso.core.inference.intervals import rate
from ripasso.review.language.vocabulary import word
from ripasso.statistics.pages.figures import Figure
from ripasso.statistics.pages.lines import Line, PageKind

#: Columns by their titles, in the order in which they are thought.
SAID: Mapping[str, str] = {
    "intent": "Kind of shot",
    "methods": "Method",
    "stroke": "Stroke",
    "stroke_pace": "Pace of the stroke",
    "side_amount": "Amount of side spin",
    "purposes": "What the side spin was for",
    "delivery": "Delivery",
    "aims": "What position was meant",
    "off": "Cushions of the plan",
    "if_missed": "What a miss would leave",
    "system": "Systems",
    "roles": "Role of the ball",
    "contact": "Contact",
    "missed_by": "Missed at which jaw",
    "position": "Position",
    "pace": "How far the cue ball ran",
    "said_side": "Side of the next ball's line",
    "angle": "Angle left",
    "luck": "Luck",
    "rattled": "Jaws",
    "colour_meant": "Colour meant",
    "verdict": "Decision",
    "causes": "Causes",
    "events": "Events",
    "fouls": "Fouls",
    "taken": "Snooker",
    "sheet": "Break sheet",
    "tags": "Tags of one's own",
}
PREDICTED, NUMBERS = "Predictions", "Said as numbers"
_NUMBERS = {
    "feathers": "Feathers, mean",
    "pace_percent": "Pace in per cent, mean",
    "raised": "Cue raised, mean",
}
#: Words that stand in the vocabulary under another key, by their column.
PREFIXES: Mapping[str, str] = {
    "contact": "contact_",
    "missed_by": "missed_by_",
    "position": "position_",
    "pace": "pace_",
    "said_side": "side_",
    "angle": "angle_",
    "verdict": "decision_",
}


def _said(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    tried, made = of.pots(facts), facts.flags("made")
    for column, title in SAID.items():
        for value, mask in _values(facts, column).items():
            yield f"{column} {value}", title, _words(column, value), _counted(places, mask, tried, made)
    yield from _predicted(facts, places)
    for column, text in _NUMBERS.items():
        numbers = facts.numbers(column)
        known = ~np.isnan(numbers) & (numbers >= 0)
        if known.any():
            mean = f"{numbers[known].mean():.1f} {COLUMNS[column].unit}".strip()
            yield (
                column,
                NUMBERS,
                text,
                Figure(places[known], words=mean, values=numbers[known], each=_plainly),
            )


def _values(facts: Facts, column: str) -> Mapping[str, Flags]:
    """The shots of each value of a column."""
    kind = COLUMNS[column].kind
    if kind == "answer":
        answers = facts.ints(column)
        found = {"yes": answers == YES, "no": answers == NO}
        return {name: mask for name, mask in found.items() if mask.any()}
    return facts.words(column) if kind == "words" else facts.values(column)


def _words(column: str, value: str) -> str:
    if column == "rattled":
        return "touched" if value == "yes" else "not touched"
    prefixed = f"{PREFIXES.get(column, '')}{value}"
    shown = word(prefixed)
    return shown if shown != prefixed.replace("_", " ") else word(value)


def _counted(places: np.ndarray, mask: Flags, tried: Flags, made: Flags) -> Figure:
    """How many shots; of those that were pots, how many went in."""
    pots = mask & tried
    words = f"{int((pots & made).sum())} of {int(pots.sum())} made" if pots.any() else ""
    return Figure(places[mask], words=words)


def _plainly(value: float) -> str:
    return f"{value:g}"


def _predicted(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    """Whose expectations were right, person by person."""
    masks = facts.words("predicted")
    for person in dict.fromkeys(one.rpartition(":")[0] for one in masks):
        nothing = np.zeros(len(facts), dtype=np.bool_)
        hit, missed = masks.get(f"{person}:hit", nothing), masks.get(f"{person}:miss", nothing)
        found = rate(int(hit.sum()), int((hit | missed).sum()))
        yield (
            f"predicted {person}",
            PREDICTED,
            f"by {person.replace('_', ' ')}",
            Figure(places[hit | missed], found),
        )


SAID_PAGES: Mapping[str, PageKind] = {
    "said": PageKind("What was said", _said, (*SAID.values(), PREDICTED, NUMBERS)),
}
