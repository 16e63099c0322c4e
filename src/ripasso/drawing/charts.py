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
#: `line` joins its marks; `dots` stand alone, `hollow` ones unfilled; `bars` rise from nothing; `dashed` and
#: `hair` are lines without marks.
Form = Literal["line", "dots", "hollow", "bars", "dashed", "hair", "cross"]


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
    width: float = 0.0  # of bars, on the axis

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


def table_of(chart: Chart) -> list[list[str]]:
    """The values of a chart as rows of a table, headings first."""
    rows = [["series", chart.x.words, chart.y.words, "low", "high", "shots"]]
    words = dict(chart.x.ticks)
    for one in chart.series:
        if not one.has_marks:
            continue
        for i, (x, y) in enumerate(zip(one.x.tolist(), one.y.tolist(), strict=True)):
            ends = ["" if side is None else f"{side[i]:.4g}" for side in (one.low, one.high)]
            rows.append([one.name, words.get(x, f"{x:.4g}"), f"{y:.4g}", *ends, str(len(one.shots[i]))])
    return rows
