"""Pages of figures as in Statistics, the summary of a player, and what changed since the last time."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ripasso.report.blocks import Block, Bullets, Cell, FigureLine, Figures, Heading, Paragraph
from ripasso.report.drawing_pages import charted
from ripasso.report.material import Material, anchor_of
from ripasso.review.record.report import ReportPage, ReportShot
from ripasso.statistics.answers import BEFORE
from ripasso.statistics.pages.figures import (
    Figure,
    FigurePage,
    count_words,
    difference_words,
    rate_words,
)
from ripasso.statistics.pages.pages import OVERVIEW, PAGE_WORDS
from ripasso.statistics.pages.ready import AnsweredQuestion, Overview

#: So many habits, charts and changes stand on a page.
HABITS, CHARTS = 3, 2
#: The shots of a summary are chosen among so many times as many.
AMONG = 8
#: A shot behind a figure is looked for among so many at most.
LOOKED_AT = 400


def figures_blocks(material: Material, page: ReportPage) -> Iterator[Block]:
    """A page of Statistics: its rows with intervals, its first charts."""
    name = page.figures or "potting"
    answer = material.answers.answer(material.choice(name, page.second or ""))
    if isinstance(answer, Overview):
        yield from overview_blocks(material, answer)
        return
    if answer.warning:
        yield Paragraph(material.plain(answer.warning), "quiet")
    if not answer.rows:
        yield Paragraph("Nothing of this kind is recorded in these sessions.", "quiet")
        return
    yield figure_table(material, answer)
    for chart in list(answer.charts)[:CHARTS]:
        yield charted(chart, material.plain)


def figure_table(material: Material, answer: FigurePage) -> Figures:
    """The rows of a page of Statistics, a column a player; two have a third with their difference."""
    heads = [material.plain(answer.heads.get(key, key)) for key in answer.persons]
    links = _Links(material, answer)
    two = answer.compared and len(answer.persons) == 2
    lines = []
    for row in answer.rows:
        if not any(_has_something(row.figures[key]) for key in answer.persons):
            continue
        cells = [cell_of(row.figures[key]) for key in answer.persons]
        if two:
            first, second = (row.figures[key].rate for key in answer.persons)
            cells.append(Cell(difference_words(first, second)[0]))
        link = links.of(row.figures[answer.persons[0]]) if answer.persons else ""
        lines.append(FigureLine(row.group, material.plain(row.text), cells, link))
    return Figures([*heads, *(["difference"] if two else [])], lines)


def _has_something(figure: Figure) -> bool:
    """A row without a shot and without words of its own is left out on paper."""
    return bool(len(figure.shots)) or (figure.rate is None and figure.words not in ("", "nothing"))


def cell_of(figure: Figure) -> Cell:
    """A figure as it is written in Statistics."""
    if figure.rate is not None:
        rate = figure.rate
        of = f"{rate.made} of {rate.of}"
        return Cell(rate_words(rate), of, rate.rate, rate.low, rate.high, rate.few)
    if figure.count is not None:
        return Cell(count_words(figure.count), f"{figure.count.count} {figure.unit}".strip())
    return Cell(figure.words or str(len(figure.shots)), f"of {len(figure.shots)}" if figure.words else "")


class _Links:
    """Which figures have a shot that the report shows."""

    def __init__(self, material: Material, answer: FigurePage) -> None:
        self._facts = answer.facts if answer.attempts is None else None
        self._anchors: dict[str, str] = {}
        for page in material.report.pages or ():
            for one in page.shots or ():
                found = material.shot(one)
                if found is not None:
                    self._anchors[found.row.key] = anchor_of(one)

    def of(self, figure: Figure) -> str:
        """The anchor of the first shot of a figure that has a page of its own; "" for none."""
        if self._facts is None or not self._anchors:
            return ""
        keys = (self._facts.key(int(place)) for place in figure.shots[:LOOKED_AT])
        return next((self._anchors[key] for key in keys if key in self._anchors), "")


def overview_blocks(material: Material, answer: Overview) -> Iterator[Block]:
    """The ready figures and the habits of a player."""
    lines = [FigureLine("", card.caption, [cell_of(card.figure)]) for card in answer.cards]
    yield Figures([material.player_name], lines)
    yield Heading("Habits")
    habits = habits_of(answer)
    if habits:
        yield Bullets([material.plain(_habit(one)) for one in habits])
    else:
        yield Paragraph("No habit is told from chance in these shots.", "quiet")
    yield Paragraph(answer.summary, "quiet")


def habits_of(answer: Overview) -> list[AnsweredQuestion]:
    """The findings first, then what would be one alone."""
    return [one for one in answer.questions if one.state in ("finding", "perhaps")][:HABITS]


def _habit(one: AnsweredQuestion) -> str:
    """The question, its answer, and that it might be chance where it was one of many."""
    told = "" if one.state == "finding" else " (one of many questions, and not sure among them)"
    return f"{one.question} {one.sentence}{told}"


def summary_overview(material: Material) -> Overview | None:
    """The overview that a summary begins with; None where nothing is recorded."""
    answer = material.answers.answer(material.choice(OVERVIEW))
    return answer if isinstance(answer, Overview) and len(answer.facts) else None


def telling_shots(material: Material, answer: Overview, most: int = HABITS) -> list[ReportShot]:
    """The shots that say most: the key shots, else those whose position cost most."""
    named = [one for page in material.report.pages or () for one in page.shots or ()]
    if named:
        return named[:most]
    facts = answer.facts
    own = facts.known("person") if material.report.player is None else facts.equal("person", material.person)
    loss = facts.numbers("loss")
    wanted = [place for place in own.nonzero()[0].tolist() if loss[place] == loss[place]]
    wanted.sort(key=lambda place: -float(loss[place]))
    told = wanted[: most * AMONG]
    # Among the dearest those that can be looked at come first.
    told.sort(key=lambda place: not _has_film(material, facts.text_at("session_key", place)))
    found = [material.place_of(facts.key(p), facts.text_at("session_key", p)) for p in told[:most]]
    return [one for one in found if one is not None]


def _has_film(material: Material, session: str) -> bool:
    snapshot = material.snapshot(session)
    return snapshot is not None and bool(snapshot.head.recordings)


def figures_now(material: Material) -> dict[str, str]:
    """Every figure of the report's pages of figures in words, by page and row."""
    found: dict[str, str] = {}
    for page in material.report.pages or ():
        if page.kind != "figures":
            continue
        answer = material.answers.answer(material.choice(page.figures or "potting", page.second or ""))
        if isinstance(answer, FigurePage) and answer.persons:
            for row in answer.rows:
                cell = cell_of(row.figures[answer.persons[0]])
                key = f"{page.figures}: {row.group}: {row.text.lstrip('– ')}"
                found[key] = f"{cell.words}, {cell.of}" if cell.of else cell.words
    return found


def changes_blocks(material: Material, now: Mapping[str, str]) -> Iterator[Block]:
    """What the figures were the last time the report went out, and are now; only those that changed."""
    before = material.report.figures
    if before is None:
        yield Paragraph("This report did not go out before: there is nothing to compare with.", "quiet")
        return
    yield Paragraph(f"Last made on {material.report.made}.", "quiet")
    changed = [key for key in now if before.get(key) != now[key]]
    lines = []
    for key in changed:
        page, group, text = key.split(": ", 2)
        group = f"{PAGE_WORDS.get(page, page)}: {group}"
        lines.append(FigureLine(group, text, [Cell(before.get(key, "–")), Cell(now[key])]))
    if lines:
        yield Figures(["then", "now"], lines)
    else:
        yield Paragraph("No figure of this report changed.", "quiet")


def second_words(second: str, names: Mapping[str, str]) -> str:
    """Who is beside the player: somebody, or the player before a date."""
    if second.startswith(BEFORE):
        return f"before {second.removeprefix(BEFORE)}"
    return names.get(second, second)
