"""Drawings and charts as blocks, in the colours of paper."""

from __future__ import annotations

import re
from collections.abc import Callable

from ripasso.drawing.chart_document import chart_bytes
from ripasso.drawing.charts import Chart
from ripasso.drawing.primitives import Drawing
from ripasso.drawing.svg import svg_text
from ripasso.report.blocks import Picture
from ripasso.style.fonts import FONTS, font_path
from ripasso.style.palette import PAPER, soft_share

WIDTH_PX = 1200


def drawn(
    drawing: Drawing, caption: str = "", *, wide: bool = True, tables_across: int = 1, seat: str = "side"
) -> Picture:
    """A drawing of tables."""
    svg = svg_text(
        drawing,
        PAPER.__getitem__,
        soft_share,
        width_px=WIDTH_PX,
        tables_across=tables_across,
        seat=seat,  # type: ignore[arg-type]
        rimmed=False,
    )
    return Picture(svg, drawing.words, caption, wide)


def charted(chart: Chart, plain: Callable[[str], str] = str) -> Picture:
    """A chart of Statistics; `plain` is said of its texts, as where names are left out."""
    fonts = [font_path(name) for name in FONTS]
    text = chart_bytes(chart, PAPER, fonts, letters=True).decode()
    # Within a page a picture has neither a document type nor names of its own that meet another's.
    svg = _with_own_names(text[text.index("<svg") :], re.sub(r"\W+", "-", chart.id))
    return Picture(plain(svg), plain(f"{chart.title}. {chart.sentence}"))


def _with_own_names(svg: str, prefix: str) -> str:
    named = set(re.findall(r'\bid="([^"]+)"', svg))
    for name in named:
        quoted = re.escape(name)
        svg = re.sub(rf'(id="|url\(#|href="#){quoted}(?=["\)])', rf"\g<1>{prefix}-{name}", svg)
    return svg
