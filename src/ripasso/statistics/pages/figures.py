"""The figures of a page as rows, without a window: what is computed, in which words, from which shots."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ripasso.core.figures.facts import Facts, Flags, Ints
from ripasso.core.figures.judged import JudgedFigures, judged_figures
from ripasso.core.inference.estimates import difference
from ripasso.core.inference.intervals import Count, Rate
from ripasso.drawing.charts import Chart
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import WORDS, word


def yes_or_no(value: float) -> str:
    """Whether a shot counts among the successes of a rate."""
    return word("yes" if value else "no")


@dataclass(frozen=True)
class Figure:
    """One player's value of a row: a rate, a count, words, or just its shots; and the shots behind it.

    `values` are what each of these shots brought to it, `each` says one of them in words.
    """

    shots: Ints
    rate: Rate | None = None
    count: Count | None = None
    unit: str = ""
    words: str = ""
    values: np.ndarray | None = None
    each: Callable[[float], str] = yes_or_no


@dataclass(frozen=True)
class AttemptLine:
    """One attempt in the list behind a figure."""

    session: str
    title: str
    set_title: str
    number: int
    changed: str
    words: str


@dataclass(frozen=True)
class FigureRow:
    """A row of the page: its words, and a figure for each person by key."""

    id: str
    group: str
    text: str
    figures: Mapping[str, Figure]


@dataclass(frozen=True)
class FigurePage:
    """Everything the page shows: the facts it was computed from and its rows.

    `persons` are the keys of the columns: players, periods, or groups.
    """

    facts: Facts
    persons: Sequence[str]
    rows: Sequence[FigureRow]
    charts: Sequence[Chart] = ()
    #: What is to be minded when the columns are compared.
    warning: str = ""
    #: The columns' words by their keys.
    heads: Mapping[str, str] = field(default_factory=dict)
    #: Two columns have a third with their difference.
    compared: bool = True
    #: The attempts that the places behind figures mean, where they are no shots.
    attempts: Sequence[AttemptLine] | None = None


def figure_page(facts: Facts, sides: Mapping[str, Flags]) -> FigurePage:
    """The figures of the judged school, a column a side: which of the shots are its own."""
    persons = tuple(sides)
    found = {key: judged_figures(facts, own) for key, own in sides.items()}
    per_person = {person: _figures(figures) for person, figures in found.items()}
    rows = [
        FigureRow(name, tr(group), _row_words(text), {p: per_person[p][name] for p in persons})
        for name, group, text in _ROWS
    ]
    return FigurePage(facts, persons, rows)


def _row_words(text: str) -> str:
    """A row under another begins with a dash, which is no part of its words."""
    under, dash, words = text.rpartition("– ")
    return f"{under}{dash}{tr(words)}"


_POSITION = ("perfect", "good", "poor", "lost", "long", "short", "wrong_side", "too_straight", "too_steep")
_ROWS: tuple[tuple[str, str, str], ...] = (
    ("pots", noop("Potting"), WORDS["figure_pots"]),
    ("two_way", noop("Potting"), WORDS["figure_two_way"]),
    *((name, noop("Position of made pots, judged"), WORDS[f"figure_{name}"]) for name in _POSITION),
    ("position_not_judged", noop("Position of made pots, judged"), WORDS["figure_position_not_judged"]),
    ("per_100", "Unforced errors, judged", "Per 100 shots"),
    ("per_rack", "Unforced errors, judged", "Per rack"),
    *((f"unforced_{k}", "Unforced errors, judged", "– " + WORDS[f"error_{k}"]) for k in ("pot", "position")),
    ("unforced_other", "Unforced errors, judged", "– all other kinds"),
    ("errors_not_judged", "Unforced errors, judged", WORDS["figure_errors_not_judged"]),
    ("agreement", "Decisions", WORDS["figure_agreement"]),
    ("decisions_not_judged", "Decisions", WORDS["figure_decisions_not_judged"]),
)


def _figures(figures: JudgedFigures) -> dict[str, Figure]:
    nothing = np.array([], dtype=np.int64)
    unforced = figures.unforced
    others = [shots for kind, shots in unforced.items() if kind not in ("pot", "position")]
    made: dict[str, Figure] = {
        "pots": Figure(figures.pot_success.of, figures.pot_success.rate),
        "two_way": Figure(figures.two_way_success.of, figures.two_way_success.rate),
        "position_not_judged": Figure(figures.position_not_judged),
        "per_100": Figure(figures.unforced_shots, count=figures.per_100_shots, unit="per 100 shots"),
        "per_rack": Figure(figures.unforced_shots, count=figures.per_rack, unit="per rack"),
        "unforced_pot": Figure(unforced.get("pot", nothing)),
        "unforced_position": Figure(unforced.get("position", nothing)),
        "unforced_other": Figure(np.unique(np.concatenate([nothing, *others]))),
        "errors_not_judged": Figure(figures.errors_not_judged),
        "agreement": Figure(figures.agreement.of, figures.agreement.rate),
        "decisions_not_judged": Figure(figures.decisions_not_judged),
    }
    # A finding is made of the shots that have it; "pots" and "agreement" are read from all their tries.
    made |= {name: Figure(found.made, found.rate) for name, found in figures.position.items()}
    return made


def rate_words(rate: Rate, *, ends: bool = True) -> str:
    """Such as "54 % (46–62)", or without the ends; a dash where there is nothing."""
    if rate.rate is None or rate.low is None or rate.high is None:
        return "–"
    if not ends:
        return f"{100 * rate.rate:.0f} %"
    return f"{100 * rate.rate:.0f} % ({100 * rate.low:.0f}–{100 * rate.high:.0f})"


def difference_words(first: Rate | None, second: Rate | None) -> tuple[str, bool]:
    """How much more in a hundred the first has, with its interval, and whether that is clear of nothing."""
    if first is None or second is None:
        return "", False
    found = difference(first, second)
    if found.difference is None or found.low is None or found.high is None:
        return "", False
    if first.few or second.few:
        return "not enough to tell", False
    value, low, high = (
        f"{100 * v:+.0f}".replace("-", "−") for v in (found.difference, found.low, found.high)
    )
    return f"{value} ({low} to {high})", found.low > 0 or found.high < 0


def count_words(count: Count) -> str:
    """Such as "9.2 (5.1–15)"; a dash where there is nothing."""
    if count.rate is None or count.low is None or count.high is None:
        return "–"
    return f"{count.rate:.1f} ({count.low:.1f}–{count.high:.1f})"


def shot_words(facts: Facts, place: int) -> str:
    """What a row of the list of shots says of a shot."""
    intent = facts.text_at("intent", place)
    parts = [word(intent) if intent else "no intent said"]
    if facts.flags("made")[place]:
        parts.append("made")
    elif facts.flags("failed")[place]:
        parts.append("missed")
    if facts.flags("fouled")[place]:
        parts.append("foul")
    for name, prefix in (("position", "position_"), ("pace", "pace_"), ("angle", "angle_")):
        value = facts.text_at(name, place)
        if value and f"{prefix}{value}" in _SHOWN:
            parts.append(word(f"{prefix}{value}"))
    if facts.text_at("said_side", place) == "wrong":
        parts.append(word("side_wrong"))
    if ":yes" in facts.text_at("errors", place):
        parts.append(word("unforced"))
    return ", ".join(parts)


_SHOWN = {
    "position_perfect",
    "position_good",
    "position_playable",
    "position_poor",
    "position_lost",
    "pace_short",
    "pace_long",
    "angle_too_straight",
    "angle_too_steep",
}
