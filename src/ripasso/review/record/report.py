"""A report: which pages, of whom, of which sessions; its pages are made anew from the library each time."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ripasso.review.record.parts import Record
from ripasso.review.record.values import Few, Listed, Name, Whole

PageName = Literal[
    "summary",
    "changes",
    "course",
    "shots",
    "film",
    "rack",
    "sheet",
    "figures",
    "practice",
    "timetable",
    "methods",
]
#: How long a teaching film stops (seconds), and how fast it runs, of its own speed.
Stop = Annotated[int, Field(ge=0, le=60)] | Annotated[float, Field(ge=0, le=60)]
Speed = Annotated[int, Field(ge=1, le=4)] | Annotated[float, Field(ge=0.1, le=4)]
#: Where the table stands beside the picture of a teaching film.
Diagram = Literal["beside", "below"]
DIAGRAM_WORDS = (("", "no table"), ("beside", "table beside"), ("below", "table below"))


class ReportShot(Record):
    """A shot by its session, rack and number, as a person would name it; `note` is what is said of it.

    In a teaching film `beside` puts it beside the shot before it, and `comment` is a file of sound that is
    heard while the film stops before the stroke.
    """

    session: Name
    rack: Whole
    shot: Whole
    note: str | None = None
    beside: bool | None = None
    comment: str | None = None


class ReportPage(Record):
    """One page; what it takes besides its kind hangs on it.

    `session` and `rack` for the course of a match, a rack and its sheet; `shots` for key shots; `figures` is
    a page of Statistics, `second` whoever is beside the player there (a person, or `before:` and a date);
    `text` is what the analyst writes above it. A teaching film shows its `shots`, those of its rack, and
    those that `search` finds; `stop_s` is how long it stops before the stroke and at the end (seconds),
    `speed` how fast it runs (of 1), `diagram` where the table stands; `titles`: a card before each scene.
    """

    kind: PageName
    title: str | None = None
    text: str | None = None
    session: str | None = None
    rack: Whole | None = None
    shots: Listed[ReportShot] | None = None
    figures: str | None = None
    second: str | None = None
    search: str | None = None
    stop_s: Stop | None = None
    speed: Speed | None = None
    diagram: Diagram | None = None
    titles: bool | None = None


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
