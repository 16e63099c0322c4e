"""A report: which pages, of whom, of which sessions; its pages are made anew from the library each time."""

from __future__ import annotations

from typing import Literal

from ripasso.review.record.parts import Record
from ripasso.review.record.values import Few, Listed, Name, Whole

PageName = Literal[
    "summary", "changes", "course", "shots", "rack", "sheet", "figures", "practice", "timetable", "methods"
]


class ReportShot(Record):
    """A shot by its session, rack and number, as a person would name it; `note` is what is said of it."""

    session: Name
    rack: Whole
    shot: Whole
    note: str | None = None


class ReportPage(Record):
    """One page; what it takes besides its kind hangs on it.

    `session` and `rack` for the course of a match, a rack and its sheet; `shots` for key shots; `figures` is
    a page of Statistics, `second` whoever is beside the player there (a person, or `before:` and a date);
    `text` is what the analyst writes above it.
    """

    kind: PageName
    title: str | None = None
    text: str | None = None
    session: str | None = None
    rack: Whole | None = None
    shots: Listed[ReportShot] | None = None
    figures: str | None = None
    second: str | None = None


class Report(Record):
    """A report of the library.

    `player` is a person's key, None for everybody; `sessions` are keys (None: all), `search` a search line.
    `figures` are those of the last time it went out, by page and row: what changed since is told from them.
    """

    id: Name
    title: str
    player: str | None = None
    sessions: Few[str] | None = None
    search: str | None = None
    paper: Literal["a4", "letter"] | None = None
    grey: bool | None = None
    nameless: bool | None = None
    pages: Listed[ReportPage] | None = None
    note: str | None = None
    made: str | None = None
    figures: dict[str, str] | None = None
