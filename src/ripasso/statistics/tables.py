"""A page of figures, a chart, or any rows as a table (CSV) whose texts no table program runs."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

from ripasso.drawing.charts import Chart, table_of
from ripasso.statistics.pages.figures import Figure, FigurePage

#: What a cell begins with that table programs compute.
FORMULA = ("=", "+", "-", "@", "\t", "\r")
HEADINGS = ("value", "low", "high", "count", "of")


def page_csv(page: FigurePage) -> str:
    """The rows of a page; for each column its value with interval, count and of how many."""
    heads = [page.heads.get(key, key) for key in page.persons]
    rows: list[Sequence[str]] = [["group", "figure", *(f"{head}: {h}" for head in heads for h in HEADINGS)]]
    for row in page.rows:
        cells = [cell for key in page.persons for cell in _cells(row.figures[key])]
        rows.append([row.group, row.text.lstrip("– "), *cells])
    return csv_text(rows)


def _cells(figure: Figure) -> tuple[str, str, str, str, str]:
    if figure.rate is not None:
        rate = figure.rate
        return _number(rate.rate), _number(rate.low), _number(rate.high), str(rate.made), str(rate.of)
    if figure.count is not None:
        count = figure.count
        return (
            _number(count.rate),
            _number(count.low),
            _number(count.high),
            str(count.count),
            _number(count.per),
        )
    return figure.words, "", "", "", str(len(figure.shots))


def _number(value: float | None) -> str:
    return "" if value is None else f"{value:.6g}"


def chart_csv(chart: Chart) -> str:
    """The marks of a chart."""
    return csv_text(table_of(chart))


def csv_text(rows: Sequence[Sequence[str]]) -> str:
    """Rows as CSV; a text that begins like a formula has an apostrophe before it."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerows([_as_text(cell) for cell in row] for row in rows)
    return text.getvalue()


def _as_text(cell: str) -> str:
    """A name that a table program would take for a formula has an apostrophe before it; numbers stay."""
    if not cell.startswith(FORMULA):
        return cell
    try:
        float(cell)
    except ValueError:
        return f"'{cell}"
    return cell
