"""Lines of a page of figures: what they are made of, and their words."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.figures.facts import Facts, Flags
from ripasso.core.figures.racks import PlacedRack, racks_of
from ripasso.core.figures.slices import groups_of
from ripasso.core.inference.estimates import Mean, mean
from ripasso.core.inference.intervals import rate
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import word
from ripasso.statistics.pages.figures import Figure

#: One line of a page: its id, group and words, and the figure of one player's shots.
Line = tuple[str, str, str, Figure]
Lines = Callable[[Facts, np.ndarray], Iterator[Line]]
RackLines = Callable[[Sequence[PlacedRack]], Iterator[Line]]


@dataclass(frozen=True)
class PageKind:
    """A page: its words, what makes its lines from a player's facts and their places, its groups in order.

    `racks` makes the lines about whole racks: a player has also those without an own shot.
    """

    words: str
    lines: Lines
    groups: tuple[str, ...]
    racks: RackLines | None = None


@dataclass(frozen=True)
class Side:
    """One column of a page: a key, its words, which of the shots are its own, and whose.

    Without a `person` it is everybody. `among` are the shots of anybody that lie in its period (None: all).
    """

    key: str
    words: str
    mask: Flags
    person: str | None = None
    among: Flags | None = None


def lines_of(kind: PageKind, facts: Facts, side: Side) -> Iterator[Line]:
    """The lines of a page for one side; the shots behind a figure are places in `facts`."""
    yield from kind.lines(*facts.by_person(side.mask))
    if kind.racks is not None:
        yield from kind.racks(racks_of(facts, side.person, side.among))


def rated(places: np.ndarray, among: Flags, made: Flags) -> Figure:
    """A rate with the shots it is of."""
    found = rate(int((made & among).sum()), int(among.sum()))
    return Figure(places[among], found, values=made[among])


def averaged(places: np.ndarray, among: Flags, values: np.ndarray, words: Callable[[Mean], str]) -> Figure:
    """A mean in words, of the shots whose value is known."""
    known = among & ~np.isnan(values)
    each = EACH.get(words, str)
    return Figure(places[known], words=words(mean(values[known])), values=values[known], each=each)


#: How many cushions, in words.
CUSHIONS = {
    "0": "none: stop and roll",
    "1": noop("one cushion"),
    "2": noop("two cushions"),
    "3+": "three and more",
}
#: Kinds of stroke whose words differ between the traditions.
STROKES = {"draw": noop("draw stroke"), "run_through": noop("run-through stroke")}
#: What stands behind the numbers of a band.
UNITS = {"cut": "°", "distance": " %"}


def group_words(way: str, value: str) -> str:
    """A group of a way to cut, with its unit."""
    if way == "cushions":
        return tr(CUSHIONS[value])
    if way == "stroke" and value in STROKES:
        return tr(STROKES[value])
    words, unit = group_word(value), UNITS.get(way, "")
    return f"from {value.rstrip('+')}{unit}" if value.endswith("+") else words + unit


def by_group(
    facts: Facts, places: np.ndarray, way: str, title: str, among: Flags, made: Flags
) -> Iterator[Line]:
    """A rate for each group of one way to cut; groups without such shots are left out."""
    for value, mask in groups_of(facts, way).items():
        if (mask & among).any():
            yield f"{way} {value}", title, group_words(way, value), rated(places, mask & among, made)


def group_word(value: str) -> str:
    """A group's value as it is shown: bands as they are, words by the vocabulary."""
    if value[:1].isdigit():
        return value.replace("-", "–").replace("+", " and more") if value.count("-") < 2 else value
    known = word(f"group_{value}")
    return word(value) if known == f"group_{value}".replace("_", " ") else known


def ends(low: float | None, high: float | None, digits: int) -> str:
    """The ends of an interval in brackets; nothing where they are not known."""
    if low is None or high is None:
        return ""
    return f" ({low:.{digits}f} to {high:.{digits}f})"


def mean_ends(found: Mean, digits: int, times: float = 1.0) -> str:
    """The ends of a mean's interval, in other units; one value has none."""
    if found.low is None or found.high is None or found.of < 2:
        return ""
    return ends(times * found.low, times * found.high, digits)


def millimetres(found: Mean) -> str:
    """A length in mm with its interval."""
    return "nothing" if found.value is None else f"{1000 * found.value:.0f} mm{mean_ends(found, 0, 1000)}"


def metres(found: Mean) -> str:
    """A way in m with its interval."""
    return "nothing" if found.value is None else f"{found.value:.2f} m{mean_ends(found, 2)}"


def degrees(found: Mean) -> str:
    """An angle with its interval."""
    return "nothing" if found.value is None else f"{found.value:.1f}°{mean_ends(found, 1)}"


def plain(found: Mean) -> str:
    """A number with its interval."""
    return "nothing" if found.value is None else f"{found.value:.2f}{mean_ends(found, 2)}"


def points(found: Mean) -> str:
    """A share in per cent with its interval."""
    return "nothing" if found.value is None else f"{100 * found.value:.0f} %{mean_ends(found, 0, 100)}"


#: How one value is said where a mean is said so.
EACH: Mapping[Callable[[Mean], str], Callable[[float], str]] = {
    millimetres: lambda value: f"{1000 * value:.0f} mm",
    metres: lambda value: f"{value:.2f} m",
    degrees: lambda value: f"{value:.1f}°",
    plain: lambda value: f"{value:g}",
    points: lambda value: f"{100 * value:.0f} %",
}
