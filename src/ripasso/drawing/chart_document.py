"""A chart for documents, drawn by matplotlib from its description: SVG or PNG."""

from __future__ import annotations

import io
import warnings
from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from ripasso.drawing.charts import Axis, Chart, Series, shade_of
from ripasso.drawing.svg import printable

#: Inches, and dots an inch of a PNG: 1280 by 720 dots.
SIZE_IN, DPI = (8.0, 4.5), 160


def chart_bytes(
    chart: Chart,
    colours: Mapping[str, str],
    fonts: Sequence[Path],
    kind: str = "svg",
    *,
    letters: bool = False,
) -> bytes:
    """The chart as a file of the kind "svg" or "png"; `fonts`: the weights of a family.

    An SVG has its words as shapes, or as `letters` where whoever shows it has the font.
    """
    import matplotlib as mpl
    from matplotlib import font_manager
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    for font in fonts:
        font_manager.fontManager.addfont(str(font))
    family = font_manager.FontProperties(fname=str(fonts[0])).get_name()
    # A name in letters that the font has not is drawn as boxes; that is no reason for a warning each time.
    warnings.filterwarnings("ignore", message="Glyph .* missing from font")
    chart = _printable(chart)
    settings: Any = {"font.family": family, "font.size": 9, "svg.hashsalt": chart.id}
    settings["svg.fonttype"] = "none" if letters else "path"
    settings["text.parse_math"] = False  # a dollar in a title is a dollar
    with mpl.rc_context(settings):
        figure = Figure(figsize=SIZE_IN, dpi=DPI, facecolor=colours["raised"], layout="constrained")
        FigureCanvasAgg(figure)
        axes = figure.add_subplot(facecolor=colours["raised"])
        axes.set_title(chart.title, loc="left", color=colours["ink"], fontweight=600, fontsize=10)
        for one in chart.series:
            _draw(axes, one, colours)
        _axis(axes, chart.x, "x", colours)
        _axis(axes, chart.y, "y", colours)
        if chart.equal:
            axes.set_aspect("equal", adjustable="box")
        for side in ("top", "right"):
            axes.spines[side].set_visible(False)
        for side in ("bottom", "left"):
            axes.spines[side].set_color(colours["line"])
        axes.grid(color=colours["line"], linewidth=0.5)
        axes.set_axisbelow(True)
        if chart.note:
            figure.supxlabel(chart.note, color=colours["quiet"], fontsize=7.5, x=0.01, ha="left")
        target = io.BytesIO()
        # Without a date, so that the same chart is the same file.
        figure.savefig(target, format=kind, metadata={"Date": None} if kind == "svg" else None)
    return target.getvalue()


def _printable(chart: Chart) -> Chart:
    """The chart without control characters in its texts: no document can hold them."""
    x, y = (
        replace(
            axis,
            words=printable(axis.words),
            ticks=tuple((at, printable(words)) for at, words in axis.ticks),
        )
        for axis in (chart.x, chart.y)
    )
    series = tuple(
        replace(one, name=printable(one.name), words=[printable(words) for words in one.words])
        for one in chart.series
    )
    title, note = printable(chart.title), printable(chart.note)
    return replace(chart, title=title, note=note, x=x, y=y, series=series)


def _draw(axes: Any, one: Series, colours: Mapping[str, str]) -> None:
    colour = colours[one.role]
    if one.form in ("dashed", "hair"):
        style = "--" if one.form == "dashed" else "-"
        axes.plot(one.x, one.y, style, color=colour, linewidth=1.2 if one.form == "dashed" else 0.6)
    elif one.form == "cells":
        _cells(axes, one, colours)
    elif one.form == "bars":
        shades = _shades(one, colours)
        axes.bar(one.x, one.y, width=one.width, color=shades, edgecolor=colours["raised"])
    else:
        if one.form == "line":
            axes.plot(one.x, one.y, "-", color=colour, linewidth=1.4)
        if one.low is not None and one.high is not None:
            axes.vlines(one.x, one.low, one.high, color=_shades(one, colours), linewidth=1.2)
        face = "none" if one.form == "hollow" else _shades(one, colours)
        if one.form == "cross":
            axes.scatter(one.x, one.y, marker="+", s=110, c=_shades(one, colours), linewidths=1.8, zorder=3)
        else:
            edges = _shades(one, colours)
            axes.scatter(one.x, one.y, s=22, facecolors=face, edgecolors=edges, linewidths=1.1, zorder=3)
    if one.name and len(one.x) and one.form not in ("hair", "cells"):
        place = (float(one.x[-1]), float(one.y[-1]))
        axes.annotate(one.name, place, (5, 4), textcoords="offset points", color=colour, fontsize=8)


def _cells(axes: Any, one: Series, colours: Mapping[str, str]) -> None:
    assert one.filled is not None
    half = one.width / 2
    for i, (x, y) in enumerate(zip(one.x.tolist(), one.y.tolist(), strict=True)):
        few = one.few is not None and bool(one.few[i])
        colour = colours["ghost" if few else one.role]
        face = shade_of(colour, colours["raised"], float(one.filled[i]), few=few)
        xs, ys = (x - half, x + half, x + half, x - half), (y - half, y - half, y + half, y + half)
        axes.fill(xs, ys, facecolor=face, edgecolor=colours["line"], linewidth=0.8)
        axes.text(x, y, one.words[i], ha="center", va="center", fontsize=8, color=colours["ink"])


def _shades(one: Series, colours: Mapping[str, str]) -> list[str]:
    if one.few is None:
        return [colours[one.role]] * len(one.x)
    return [colours["ghost" if few else one.role] for few in one.few.tolist()]


def _axis(axes: Any, axis: Axis, which: str, colours: Mapping[str, str]) -> None:
    ends = (axis.high, axis.low) if axis.reversed else (axis.low, axis.high)
    (axes.set_xlim if which == "x" else axes.set_ylim)(*ends)
    (axes.set_xlabel if which == "x" else axes.set_ylabel)(axis.words, color=colours["quiet"], fontsize=8)
    axes.tick_params(axis=which, colors=colours["quiet"], labelsize=8, length=3)
    if axis.ticks:
        places, words = zip(*axis.ticks, strict=True)
        (axes.set_xticks if which == "x" else axes.set_yticks)(places, words)
