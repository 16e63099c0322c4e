"""A report as one HTML file: pictures inside, no script, nothing asked of a network."""

from __future__ import annotations

import base64
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from importlib.resources import files
from itertools import groupby

from jinja2 import Environment
from markupsafe import Markup

from ripasso.report.blocks import Cell, FigureLine, Pages
from ripasso.report.greying import grey_jpeg, grey_text
from ripasso.style.palette import PAPER

#: The drawn interval of a rate: a line of so many units, a dot of such a radius.
BAR_UNITS, BAR_HEIGHT, DOT = 100, 8, 3


@dataclass(frozen=True)
class LineGroup:
    """Figures that stand under one heading."""

    name: str
    lines: Sequence[FigureLine]


def _groups(lines: Sequence[FigureLine]) -> Iterator[LineGroup]:
    for name, some in groupby(lines, lambda line: line.group):
        yield LineGroup(name, list(some))


def _jpeg(data: bytes) -> str:
    return f"data:image/jpeg;base64,{base64.b64encode(data).decode()}"


def _inline(svg: str) -> Markup:
    """A drawing of our own: its texts were escaped when it was written."""
    return Markup(svg)


def _bar(cell: Cell) -> Markup:
    """The interval of a rate as a line with its dot."""
    assert cell.rate is not None and cell.low is not None and cell.high is not None
    colour = PAPER["ghost" if cell.few else "accent"]
    middle = BAR_HEIGHT / 2
    level = f'y1="{middle}" y2="{middle}"'
    low, rate, high = (BAR_UNITS * share for share in (cell.low, cell.rate, cell.high))
    return Markup(
        f'<svg class="bar" viewBox="0 0 {BAR_UNITS} {BAR_HEIGHT}" aria-hidden="true">'
        f'<line x1="0" x2="{BAR_UNITS}" {level} stroke="{PAPER["line"]}"/>'
        f'<line x1="{low:.1f}" x2="{high:.1f}" {level} stroke="{colour}" stroke-width="2"/>'
        f'<circle cx="{rate:.1f}" cy="{middle}" r="{DOT}" fill="{colour}"/></svg>'
    )


def html_text(report: Pages, more_style: str = "") -> str:
    """The report as a document; what is said in it is text and never markup."""
    folder = files("ripasso.report") / "templates"
    made = Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True)
    grey = grey_text if report.grey else str
    made.filters["groups"] = _groups
    made.filters["jpeg"] = lambda data: _jpeg(grey_jpeg(data) if report.grey else data)
    made.filters["inline"] = lambda svg: _inline(grey(svg))
    made.filters["bar"] = lambda cell: Markup(grey(_bar(cell)))
    template = made.from_string((folder / "report.html").read_text(encoding="utf-8"))
    style = (folder / "report.css").read_text(encoding="utf-8") + more_style
    return template.render(report=report, style=Markup(grey(style)))
