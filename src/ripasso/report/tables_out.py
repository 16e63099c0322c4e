"""A report as tables (CSV): its shots with all facts and measures (`docs/facts.md`), and its figures."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ripasso.core.figures.facts import NO, UNKNOWN, YES, Facts
from ripasso.core.figures.schema import COLUMNS
from ripasso.core.finding import matching
from ripasso.report.making import page_title
from ripasso.report.material import Material
from ripasso.statistics.pages.figures import FigurePage
from ripasso.statistics.tables import csv_text, page_csv


def shots_csv(material: Material) -> str:
    """A row for each shot of the report's sessions and search: session, then every column of facts."""
    everything = material.everything
    facts = everything.facts
    choice = material.choice("potting")
    keep = matching(choice.query, everything.columns)
    if choice.sessions is not None:
        keep = keep & facts.equal("session_key", *choice.sessions)
    names = [name for name, column in COLUMNS.items() if name not in _KEYS]
    rows: list[Sequence[str]] = [("session", "player", *names)]
    for place in keep.nonzero()[0].tolist():
        session = everything.titles.get(facts.text_at("session_key", place), "")
        player = material.names.get(facts.text_at("person", place), "")
        cells = (material.plain(_cell(facts, name, place)) for name in names)
        rows.append((material.plain(session), player, *cells))
    return csv_text(rows)


#: Columns that say of a shot only how it is kept.
_KEYS = ("session", "session_key", "key", "person")


def _cell(facts: Facts, name: str, place: int) -> str:
    """A value as text; nothing where it is not known."""
    kind = COLUMNS[name].kind
    if kind in ("text", "words"):
        return facts.text_at(name, place)
    if kind == "number":
        number = float(facts.numbers(name)[place])
        return "" if math.isnan(number) else f"{number:.6g}"
    if kind == "count":
        value = int(facts.ints(name)[place])
        return "" if value == UNKNOWN else str(value)
    answer = int(facts.flags(name)[place] if kind == "flag" else facts.ints(name)[place])
    return {YES: "yes", NO: "no"}.get(answer, "")


def figures_csv(material: Material) -> dict[str, str]:
    """Each page of figures of the report as a table, by its title."""
    found: dict[str, str] = {}
    for page in material.report.pages or ():
        if page.kind == "figures":
            answer = material.answers.answer(material.choice(page.figures or "potting", page.second or ""))
            if isinstance(answer, FigurePage):
                title = page_title(page, material.everything.titles, material.names)
                found[material.plain(title)] = material.plain(page_csv(answer))
    return found
