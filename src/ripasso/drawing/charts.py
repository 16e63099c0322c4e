"""What a chart shows, said once: the screen and the documents draw it from the same description.

Colours are roles of the theme. Every mark knows the shots behind it and the words of its tip.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int64]
#: `line` joins its marks; `dots` stand alone, `hollow` ones unfilled; `bars` rise from nothing; `cells` are
#: squares of a grid, the fuller the darker, with words in them; `dashed` and `hair` are lines without marks.
Form = Literal["line", "dots", "hollow", "bars", "cells", "dashed", "hair", "cross"]
#: A cell of nothing and one of all are this dark, as shares of the colour; one of few shots is paler.
PALE, DARK, FEW_DARK = 0.06, 0.44, 0.2


@dataclass(frozen=True)
class Axis:
    """An axis: its words with the unit, its ends, and words instead of numbers at some places."""

    words: str
    low: float
    high: float
    ticks: tuple[tuple[float, str], ...] = ()
    reversed: bool = False


@dataclass(frozen=True)
class Series:
    """Marks of one kind. `low` and `high` are the ends of intervals; `few` marks are grey."""

    name: str
    role: str
    form: Form
    x: Floats
    y: Floats
    low: Floats | None = None
    high: Floats | None = None
    few: npt.NDArray[np.bool_] | None = None
    shots: Sequence[Ints] = ()
    tips: Sequence[str] = ()
    width: float = 0.0  # of bars and cells, on the axis
    filled: Floats | None = None  # of cells: 0 to 1
    words: Sequence[str] = ()  # in cells

    @property
    def has_marks(self) -> bool:
        """Its marks open shots."""
        return bool(self.shots)


@dataclass(frozen=True)
class Chart:
    """A chart: its subject, two axes, and series, drawn in their order. `equal`: one scale for both axes.

    `name` is what it is called where charts are chosen.
    """

    id: str
    name: str
    title: str
    x: Axis
    y: Axis
    series: tuple[Series, ...]
    equal: bool = False
    note: str = ""
    #: A sentence for those who cannot see it.
    sentence: str = field(default="")


def shade_of(colour: str, ground: str, filled: float, *, few: bool = False) -> str:
    """The colour of a cell, `#rrggbb`: the ground with more of the colour the more it is filled."""
    share = PALE + ((FEW_DARK if few else DARK) - PALE) * filled
    parts = [(int(colour[i : i + 2], 16), int(ground[i : i + 2], 16)) for i in (1, 3, 5)]
    return "#" + "".join(f"{round(share * a + (1 - share) * b):02x}" for a, b in parts)


def table_of(chart: Chart) -> list[list[str]]:
    """The values of a chart as rows of a table, headings first."""
    rows = [["series", chart.x.words, chart.y.words, "low", "high", "shots"]]
    words = dict(chart.x.ticks)
    for one in chart.series:
        if not one.has_marks:
            continue
        for i, (x, y) in enumerate(zip(one.x.tolist(), one.y.tolist(), strict=True)):
            ends = ["" if side is None else f"{side[i]:.4g}" for side in (one.low, one.high)]
            value = dict(chart.y.ticks).get(y, f"{y:.4g}") if one.form == "cells" else f"{y:.4g}"
            name = one.words[i] if one.form == "cells" else one.name
            rows.append([name, words.get(x, f"{x:.4g}"), value, *ends, str(len(one.shots[i]))])
    return rows
