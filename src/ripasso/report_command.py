"""The command `report`: a report that a library keeps, or pages of session files; no window."""

from __future__ import annotations

import json
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ripasso.core.figures.measure_rows import measure_row
from ripasso.core.finding import NotAQuery
from ripasso.core.json_data import JsonObject
from ripasso.film.errors import FilmError
from ripasso.report.making import MAKERS
from ripasso.report.material import Material
from ripasso.report.stills import Stills
from ripasso.report.writing import UnknownEnding, Written, write_report
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.reports import PAGES
from ripasso.review.language.localization import set_tradition
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.record.model import Session
from ripasso.review.record.report import Report
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.pages.pages import PAGE_WORDS
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import Library, open_library


class BadReport(ValueError):
    """There is no such report, or it cannot be made; the message is one sentence."""


@dataclass(frozen=True)
class Wanted:
    """What was asked for on the command line."""

    out: Path
    report: str | None = None
    title: str | None = None
    player: str | None = None
    pages: str | None = None
    paper: str | None = None
    words: str = "british"
    folders: tuple[Path, ...] = ()


def report_of_library(library: Library, wanted: Wanted) -> Written:
    """Write a report that a library keeps, by its title or id. Raises `BadReport`, OSError."""
    kept = [one for _, one in library.reports()]
    if not kept:
        raise BadReport("The library keeps no report; the window makes one (Ctrl 6).")
    if wanted.report is None:
        raise BadReport(f"Which report? --report names one of: {', '.join(one.title for one in kept)}.")
    asked = (wanted.report or "").casefold()
    found = [one for one in kept if asked in (one.title.casefold(), one.id.casefold())]
    if not found:
        named = ", ".join(one.title for one in kept)
        raise BadReport(f"The library has no report “{wanted.report}”; it has {named}.")
    return _written(library, found[0], wanted)


def report_of_sessions(sessions: Sequence[Session], wanted: Wanted) -> Written:
    """Write pages of sessions as files hold them. Raises `BadReport`, OSError."""
    with _library_of(sessions) as library:
        person = _person(library, wanted.player)
        pages = page_records(wanted.pages, sessions) if wanted.pages else [*PAGES]
        data: JsonObject = {
            "id": "report",
            "title": wanted.title or ", ".join(session.title for session in sessions),
            "pages": pages,
        }
        if person is not None:
            data["player"] = person
        try:
            report = Report.model_validate_json(json.dumps(data))
        except ValidationError as error:
            raise BadReport(f"The pages cannot be read: {error.errors()[0]['msg']}.") from None
        return _written(library, report, wanted)


def page_records(text: str, sessions: Sequence[Session]) -> list[JsonObject]:
    """Pages from words such as `summary,figures:potting,rack:2,methods`. Raises `BadReport`."""
    pages = []
    for word in (part.strip() for part in text.split(",")):
        kind, _, of = word.partition(":")
        if kind not in MAKERS:
            raise BadReport(f"There is no page “{kind}”; there are {', '.join(MAKERS)}.")
        page: JsonObject = {"kind": kind}
        if kind == "figures":
            page["figures"] = of or "potting"
            if page["figures"] not in PAGE_WORDS:
                raise BadReport(f"There are no figures “{of}”; there are {', '.join(PAGE_WORDS)}.")
        elif kind == "film":
            page["diagram"] = "beside"
            if of.isdecimal():
                page |= {"session": sessions[0].id, "rack": int(of)}
            elif of:
                page["search"] = of
        elif kind in ("course", "rack", "sheet"):
            page["session"] = sessions[0].id
            if kind != "course":
                page["rack"] = int(of) if of.isdecimal() else 1
        pages.append(page)
    return pages


def _person(library: Library, name: str | None) -> str | None:
    """The key of a player by the name; the one with most shots where nobody is named."""
    persons = library.persons()
    if name is None:
        return persons[0][0] if persons else None
    for key, shown in persons:
        if name.casefold() in (key, shown.casefold()):
            return key
    raise BadReport(f"Nobody in these sessions is called {name}.")


def _written(library: Library, report: Report, wanted: Wanted) -> Written:
    set_tradition("american" if wanted.words == "american" else "british")
    if wanted.paper is not None:
        report = report.model_copy(update={"paper": wanted.paper})
    material = Material(library, LibraryIndex(library), report, Stills(wanted.folders))
    try:
        return write_report(material, wanted.out)
    except (UnknownEnding, NotAQuery, FilmError) as error:
        raise BadReport(str(error)) from None


@contextmanager
def _library_of(sessions: Sequence[Session]) -> Iterator[Library]:
    """A library of some sessions, measured, that lasts as long as it is needed."""
    with tempfile.TemporaryDirectory() as folder:
        library = open_library(Path(folder) / "sessions.ripasso")
        try:
            document: Any = Document(library, derived_rows)
            for session in sessions:
                document.run(add_session(session))
                _measure(library, session.id)
            yield library
        finally:
            library.close()


def _measure(library: Library, session: str) -> None:
    snapshot = Snapshot(session, library.load(session))
    request = MeasureCache().request(snapshot, snapshot.racks, everything=True)
    made = zip(request.keys, request.stamps(), request.compute(), strict=True)
    library.keep_measures(session, {key: (stamp, measure_row(one)) for key, stamp, one in made})
