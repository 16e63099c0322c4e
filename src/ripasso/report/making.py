"""A report's pages made from the library: what each kind of page is called, and what makes it.

To add a kind: its name in `review.record.report`, a function that gives its blocks, and a line in `MAKERS`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass

from ripasso.core.finding import NotAQuery
from ripasso.report.blocks import Block, Bullets, Heading, Page, Pages, Paragraph
from ripasso.report.material import Material
from ripasso.report.pages import figure_pages as figures
from ripasso.report.pages.film_pages import film_blocks
from ripasso.report.pages.methods import methods_blocks
from ripasso.report.pages.practice_pages import practice_blocks, timetable_blocks
from ripasso.report.pages.rack_pages import course_blocks, rack_blocks, sheet_blocks
from ripasso.report.pages.shot_pages import shot_blocks, shots_blocks
from ripasso.review.language.localization import tradition
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import count, rack_word, sentence
from ripasso.review.record.report import ReportPage
from ripasso.statistics.pages.pages import PAGE_WORDS

#: The exercises that a summary names.
EXERCISES = 3


def _summary(material: Material, _page: ReportPage) -> Iterator[Block]:
    """Habits, three shots and three exercises."""
    overview = figures.summary_overview(material)
    if overview is None:
        yield Paragraph("Nothing is recorded in these sessions yet.", "quiet")
        return
    yield from figures.overview_blocks(material, overview)
    shots = figures.telling_shots(material, overview)
    has_own = any(page.shots for page in material.report.pages or ())
    if shots and not has_own:
        yield Heading("Three shots")
        for one in shots:
            found = material.shot(one)
            if found is not None:
                yield from shot_blocks(material, one, found)
    yield Heading("To practise")
    exercises = [one.text for one in practice_blocks(material, EXERCISES) if isinstance(one, Heading)]
    yield Bullets(exercises) if exercises else Paragraph("No exercise yet.", "quiet")


def _changes(material: Material, _page: ReportPage) -> Iterator[Block]:
    yield from figures.changes_blocks(material, figures.figures_now(material))


@dataclass(frozen=True)
class Maker:
    """A kind of page: its words, and what gives its blocks."""

    words: str
    blocks: Callable[[Material, ReportPage], Iterable[Block]]


MAKERS: Mapping[str, Maker] = {
    "summary": Maker("Summary", _summary),
    "changes": Maker("What changed", _changes),
    "course": Maker("Course of a match", course_blocks),
    "shots": Maker("Key shots", shots_blocks),
    "film": Maker("Teaching film", film_blocks),
    "rack": Maker("Story of a rack", rack_blocks),
    "sheet": Maker("Sheet of a rack", sheet_blocks),
    "figures": Maker("Figures", figures.figures_blocks),
    "practice": Maker("Practice list", lambda material, _page: practice_blocks(material)),
    "timetable": Maker("Timetable", lambda material, _page: timetable_blocks(material)),
    "methods": Maker("Methods", lambda material, _page: methods_blocks(material)),
}


def page_title(page: ReportPage, heads: Mapping[str, str], names: Mapping[str, str]) -> str:
    """What a page is called: by its own title, or by its kind and what it is of.

    `heads` are titles of sessions, `names` those of people, by their keys.
    """
    if page.title:
        return page.title
    words = tr(MAKERS[page.kind].words)
    if page.kind == "figures":
        beside = f", beside {figures.second_words(page.second, names)}" if page.second else ""
        return tr(PAGE_WORDS.get(page.figures or "potting", words)) + beside
    if page.kind in ("course", "rack", "sheet"):
        where = heads.get(page.session or "", page.session or "no session chosen")
        if page.rack is not None:
            words = words.replace("a rack", f"rack {page.rack}")
        return f"{words}: {where}"
    return words


def make_pages(material: Material, is_wanted: Callable[[], bool] = lambda: True) -> Pages:
    """The whole report; ends early, with the pages so far, once it is not wanted any more."""
    report, made = material.report, list[Page]()
    for number, page in enumerate(report.pages or (), start=1):
        if not is_wanted():
            break
        if material.only not in (None, number - 1):
            continue
        title = material.plain(page_title(page, material.everything.titles, material.names))
        blocks: list[Block] = [Paragraph(material.plain(page.text), "note")] if page.text else []
        try:
            blocks += MAKERS[page.kind].blocks(material, page)
        except NotAQuery as error:
            blocks.append(Paragraph(str(error), "missing"))
        made.append(Page(title, f"page-{number}", blocks))
    now: dict[str, str] = {}
    if material.only is None:
        with suppress(NotAQuery):  # its pages say so
            now = figures.figures_now(material)
    return Pages(
        material.plain(report.title),
        _about(material),
        material.today.isoformat(),
        made,
        american=tradition() == "american",
        letter=report.paper == "letter",
        grey=bool(report.grey),
        figures=now,
    )


def _about(material: Material) -> str:
    """Whose report it is, and of what."""
    report, heads = material.report, material.everything.heads
    if report.sessions is None:
        what = f"all {len(heads)} sessions" if len(heads) > 1 else "one session"
    else:
        what = ", ".join(material.everything.titles.get(key, key) for key in report.sessions)
    search = f"; only {report.search}" if report.search else ""
    return material.plain(f"{material.player_name}; {what}{search}")


def rack_titles(racks: Iterable[int], game: str | None) -> list[str]:
    """How the racks of a session are called where one is chosen."""
    return [f"{sentence(rack_word(game))} {number}" for number in racks]


def pages_words(pages: Pages) -> str:
    """How much a report is."""
    return count(len(pages.pages), "page")
