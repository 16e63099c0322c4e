"""Joins keys and widgets of Report to commands of the document."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from ripasso.core.json_data import JsonObject
from ripasso.report.blocks import Pages
from ripasso.report.material import Material
from ripasso.report.stills import Stills
from ripasso.review.document.command import Command
from ripasso.review.document.document import Changed
from ripasso.review.document.edits import REMOVE, RefusedEdit
from ripasso.review.document.signal import Signal
from ripasso.review.entry import reports as edits
from ripasso.review.record.report import Report, ReportPage
from ripasso.store.errors import LibraryError
from ripasso.ui.workspace import Workspace


@dataclass
class ReportState:
    """The report in hand and the place of its chosen page."""

    report: str | None = None
    place: int = 0


class ReportController:
    """Works on the reports of a library; `changed` is told after everything that changes what is seen."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self.state = ReportState()
        self.changed: Signal[None] = Signal()
        self._kept: list[tuple[str, Report]] | None = None
        workspace.document.changed.connect(self._follow)

    # What is there

    def reports(self) -> list[tuple[str, Report]]:
        """The reports with their keys, by title."""
        if self._kept is None:
            try:
                self._kept = self._workspace.library.reports()
            except LibraryError as error:
                self._workspace.messages.say(str(error), "bad")
                self._kept = []
        return self._kept

    @property
    def report(self) -> Report | None:
        """The report in hand: the first one where none was chosen, or the chosen one is gone."""
        reports = dict(self.reports())
        if self.state.report not in reports:
            self.state.report = next(iter(reports), None)
        return reports.get(self.state.report or "")

    @property
    def pages(self) -> tuple[ReportPage, ...]:
        """The pages of the report in hand."""
        report = self.report
        return tuple(report.pages or ()) if report is not None else ()

    @property
    def page(self) -> ReportPage | None:
        """The chosen page."""
        pages = self.pages
        if not pages:
            return None
        self.state.place = max(0, min(self.state.place, len(pages) - 1))
        return pages[self.state.place]

    def material(self, only: int | None = None) -> Material | None:
        """What the report is made from; with `only` that page alone. It reads nothing before it is asked."""
        report = self.report
        if report is None:
            return None
        workspace = self._workspace
        last = str(workspace.settings.get("last_folder") or "")
        folders = [workspace.path.parent, *([Path(last)] if last else [])]
        unit = str(workspace.settings.get("unit"))
        return Material(workspace.library, workspace.index, report, Stills(folders), unit, only=only)

    # What is in hand

    def _follow(self, change: Changed) -> None:
        if any(one.table == "report" for one in change.command.changes):
            self._kept = None
            self.changed.emit(None)

    def choose_report(self, key: str) -> None:
        """Take another report in hand."""
        self.state = ReportState(report=key)
        self.changed.emit(None)

    def choose_page(self, place: int) -> None:
        """Take another page in hand."""
        if place != self.state.place:
            self.state.place = place
            self.changed.emit(None)

    # Commands

    def _run(self, make: Callable[[str, Report], Command], done: str = "") -> bool:
        report, key = self.report, self.state.report
        if report is None or key is None:
            self._workspace.messages.say("There is no report yet: Ctrl N makes one.", "plain")
            return False
        return self._do(lambda: make(key, report), done)

    def _do(self, make: Callable[[], Command], done: str) -> bool:
        try:
            self._workspace.document.run(make())
        except (RefusedEdit, LibraryError) as error:
            self._workspace.messages.say(str(error), "bad")
            return False
        if done:
            self._workspace.messages.say(done, "good")
        return True

    def new(self, player: str | None = None) -> None:
        """A report of a player (without one: whoever played most shots), with the usual pages."""
        persons = self._workspace.library.persons()
        names = dict(persons)
        if player is None and persons:
            player = persons[0][0]
        title = f"Report for {names[player]}" if player in names else "Report"
        key, command = edits.add_report(title, player)
        self.state = ReportState(report=key)
        self._do(lambda: command, f"{title} has {len(edits.PAGES)} pages; Ins adds one, Ctrl E writes it.")

    def delete(self) -> None:
        """Take the report in hand away."""
        report = self.report
        if report is not None:
            self._run(edits.remove_report, f"{report.title} is deleted; Ctrl Z brings it back.")

    def change(self, values: Mapping[str, object]) -> None:
        """Other values of the report; None takes one away."""
        changed: dict[tuple[str | int, ...], object] = {
            (name,): REMOVE if value is None else value for name, value in values.items()
        }
        self._run(lambda key, report: edits.change_report(key, report, changed))

    def change_page(self, values: Mapping[str, object]) -> None:
        """Other values of the chosen page; None takes one away."""
        place = self.state.place
        self._run(lambda key, report: edits.change_page(key, report, place, values))

    def add_page(self, page: JsonObject, *, last: bool = False) -> bool:
        """A page more, behind the chosen one or at the end, and chosen."""
        pages = len(self.pages)
        at = pages if last or not pages else self.state.place + 1
        self.state.place = at
        return self._run(lambda key, report: edits.add_page(key, report, page, at))

    def remove_page(self) -> None:
        """Take the chosen page out."""
        place = self.state.place
        if self.page is not None:
            self._run(lambda key, report: edits.remove_page(key, report, place))

    def move_page(self, by: int) -> None:
        """The chosen page stands earlier or later."""
        place, to = self.state.place, self.state.place + by
        if self.page is not None and 0 <= to < len(self.pages):
            self.state.place = to
            self._run(lambda key, report: edits.move_page(key, report, place, to))

    # From everywhere

    def take_shot(self, session: str, rack: int, shot: int) -> None:
        """A key shot more; without a report one is made first."""
        if self.report is None:
            self.new()
        report = self.report
        if report is not None:
            done = f"Rack {rack}, shot {shot} is in {report.title} (Ctrl 6)."
            self._run(lambda key, one: edits.add_shot(key, one, session, rack, shot), done)

    def take_page(self, page: JsonObject, words: str) -> None:
        """A page more at the end, as it is seen elsewhere; without a report one is made first."""
        if self.report is None:
            self.new()
        report = self.report
        if report is not None and self.add_page(page, last=True):
            self._workspace.messages.say(f"{words} is in {report.title} (Ctrl 6).", "good")

    def went_out(self, pages: Pages) -> None:
        """The report was written: its figures are what later ones are compared with."""
        self.change({"made": pages.made, "figures": pages.figures})
