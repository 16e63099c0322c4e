"""The workspaces of the window, each made when it is first wanted: the window is seen sooner without."""

from __future__ import annotations

from functools import cached_property, partial
from typing import TYPE_CHECKING, Protocol, TypeVar, cast

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QStackedWidget, QWidget

from ripasso.core.json_data import JsonObject
from ripasso.store.errors import LibraryError
from ripasso.ui.sessions.incoming import IncomingFiles
from ripasso.ui.widgets.basics import run_dialog
from ripasso.ui.workspace import Workspace

if TYPE_CHECKING:
    from ripasso.ui.actions import ActionRegistry
    from ripasso.ui.help.action_finder import Entry
    from ripasso.ui.help.tour import Tour
    from ripasso.ui.plan.page import PlanPage
    from ripasso.ui.plan.taken import Taken
    from ripasso.ui.practice.page import PracticePage
    from ripasso.ui.report.page import ReportPageView
    from ripasso.ui.report.report_controller import ReportController
    from ripasso.ui.review.page.page import ReviewPage
    from ripasso.ui.statistics.page import StatisticsPage

Page = TypeVar("Page", bound=QWidget)


class Opener(Protocol):
    """What pages ask of their window."""

    files: IncomingFiles

    def open_session(self, session: str, shot: str | None = None) -> None:
        """Review a session, at a shot or at its first."""
        ...

    def play_shots(self, shots: list[str]) -> None:
        """The shots behind a figure, as one film in Review."""
        ...

    def show_page(self, name: str) -> None:
        """Show a workspace."""
        ...


class Pages:
    """Makes pages and shows them in one stack."""

    def __init__(self, workspace: Workspace, stack: QStackedWidget, opener: Opener) -> None:
        self._workspace, self._stack, self._opener = workspace, stack, opener
        self.made: dict[str, QWidget] = {}
        #: The tour, while it goes on.
        self.tour: Tour | None = None

    def add(self, name: str, page: Page) -> Page:
        """Keep a page under its name."""
        self.made[name] = page
        self._stack.addWidget(page)
        return page

    @property
    def review(self) -> ReviewPage:
        """The page of Review."""
        page = self.made.get("review")
        if page is None:
            from ripasso.ui.review.page.page import ReviewPage

            page = self.add("review", ReviewPage(self._workspace))
            page.film_wanted.connect(self._opener.files.choose_film)
            page.another_film_wanted.connect(self._opener.files.add_film)
            page.plan_wanted.connect(self._plan_shot)
            page.practice_wanted.connect(self._practise_shot)
            page.report_wanted.connect(self._report_shot)
        return cast("ReviewPage", page)

    @property
    def statistics(self) -> StatisticsPage:
        """The page of Statistics."""
        page = self.made.get("statistics")
        if page is None:
            from ripasso.ui.statistics.page import StatisticsPage

            page = self.add("statistics", StatisticsPage(self._workspace))
            page.opened.connect(self._opener.open_session)
            page.practised.connect(self.practise)
            page.reported.connect(self._report_page)
            page.played.connect(self._opener.play_shots)
        return cast("StatisticsPage", page)

    @property
    def plan(self) -> PlanPage:
        """The page of Plan."""
        page = self.made.get("plan")
        if page is None:
            from ripasso.ui.plan.page import PlanPage

            page = self.add("plan", PlanPage(self._workspace))
            page.left.connect(self._opener.open_session)
            page.reported.connect(self._report_planned)
        return cast("PlanPage", page)

    @property
    def practice(self) -> PracticePage:
        """The page of Practice."""
        page = self.made.get("practice")
        if page is None:
            from ripasso.ui.practice.page import PracticePage

            page = self.add("practice", PracticePage(self._workspace))
            page.reported.connect(lambda: self._report_page({"kind": "practice"}, "The practice list"))
            page.played.connect(self._opener.play_shots)
        return cast("PracticePage", page)

    @property
    def report(self) -> ReportPageView:
        """The page of Report."""
        page = self.made.get("report")
        if page is None:
            from ripasso.ui.report.page import ReportPageView

            page = self.add("report", ReportPageView(self._workspace, self.reports))
        return cast("ReportPageView", page)

    def show_round(self, window: QWidget) -> None:
        """The tour of the workspaces; asked again it begins anew."""
        from ripasso.ui.help.tour import Tour

        if self.tour is not None:
            self.tour.end()

        def left() -> None:
            self.tour = None

        self.tour = Tour(window, self._opener.show_page, left)

    def show_history(self, window: QWidget) -> None:
        """The changes of this window; it goes to the chosen point."""
        from ripasso.ui.help.history import HistoryDialog

        document, say = self._workspace.document, self._workspace.messages.say
        titles = {line.key: line.title for line in self._workspace.session_lines()}
        dialog = HistoryDialog(document.history, titles, window)
        if not run_dialog(dialog) or dialog.steps is None:
            return
        try:
            document.go_to(dialog.steps)
        except (LibraryError, RuntimeError) as error:
            say(str(error), "bad")
            return
        say(f"{dialog.steps} of {len(document.history)} changes hold; Ctrl ⇧ H goes elsewhere.", "good")

    def find_action(self, own: ActionRegistry, window: QWidget) -> None:
        """Ask for an action by its words, and do it."""
        from ripasso.ui.help.action_finder import ActionFinder

        finder = ActionFinder(self.entries(own, self._stack.currentWidget()), window)
        if run_dialog(finder) and finder.chosen is not None:
            finder.chosen.do()

    def entries(self, own: ActionRegistry, shown: QWidget | None) -> list[Entry]:
        """What can be done: in the page that is shown, in the window, then in the other pages.

        What belongs to another page shows it first.
        """
        from ripasso.ui.all_actions import ACTIONS_OF
        from ripasso.ui.help.action_finder import Entry

        names = {page: name for name, page in self.made.items()}
        here = names.get(shown, "") if shown is not None else ""
        order = [here, "", *(name for name in ACTIONS_OF if name != here)] if here else ["", *ACTIONS_OF]
        made: list[Entry] = []
        for name in order:
            registry = own if not name else getattr(self.made.get(name), "actions_book", None)
            where = name.capitalize() or "everywhere"
            specs = registry.specs if registry is not None else ACTIONS_OF[name]
            for spec in specs:
                possible = registry is None or name not in ("", here) or registry[spec.id].isEnabled()
                made.append(Entry(spec, where, possible, partial(self._do, own, name, here, spec.id)))
        return made

    def _do(self, own: ActionRegistry, name: str, here: str, action: str) -> None:
        if not name:
            own[action].trigger()
            return
        if name != here:
            self._opener.show_page(name)
        registry = getattr(self.made.get(name), "actions_book", None)
        if registry is not None:
            registry[action].trigger()

    @cached_property
    def reports(self) -> ReportController:
        """What works on the reports, also while their page was never seen."""
        from ripasso.ui.report.report_controller import ReportController

        return ReportController(self._workspace)

    def _report_page(self, wanted: JsonObject, words: str) -> None:
        self.reports.take_page(wanted, words)

    def _report_shot(self, what: str) -> None:
        """The shot that is reviewed becomes a key shot of the report in hand, or its rack a page of it."""
        controller = self.review.controller
        snapshot, shot = controller.snapshot, controller.shot
        rack = snapshot.rack(shot.rack) if snapshot is not None and shot is not None else None
        if snapshot is None or shot is None or rack is None:
            self._workspace.messages.say("No shot is in hand; F marks a strike and begins one.", "plain")
            return
        number = rack.record.number
        if what == "rack":
            page: JsonObject = {"kind": "rack", "session": snapshot.key, "rack": number}
            self.reports.take_page(page, f"Rack {number}")
        else:
            self.reports.take_shot(snapshot.key, number, shot.record.number)

    def _report_planned(self, session: str, shot: str) -> None:
        """The shot that Plan works at, with the options kept with it, becomes a key shot."""
        snapshot = self._workspace.document.session(session)
        row = snapshot.shot(shot) if snapshot is not None else None
        rack = snapshot.rack(row.rack) if snapshot is not None and row is not None else None
        if row is not None and rack is not None:
            self.reports.take_shot(session, rack.record.number, row.record.number)

    def open_chosen(self, session: str) -> None:
        """Review a session; one that holds nothing but a practice plan is practised."""
        if self._is_plan(session):
            self.practise(session)
        else:
            self._opener.open_session(session)

    def _is_plan(self, session: str) -> bool:
        """A practice plan without a rack. What cannot be read is said when it is opened."""
        try:
            snapshot = self._workspace.document.session(session)
        except LibraryError:
            return False
        return snapshot is not None and snapshot.head.practice_plan is not None and not snapshot.racks

    def practise(self, session: str) -> None:
        """Practise by the plan of a session."""
        self.practice.controller.choose_plan(session)
        self._opener.show_page("practice")

    def _practise_shot(self) -> None:
        """The shot that is reviewed becomes an exercise of its player."""
        from ripasso.ui.practice.taking import taken_exercise

        taken = taken_exercise(self.review.controller, self._workspace.messages.say)
        if taken is not None and self.practice.controller.add(*taken):
            self._opener.show_page("practice")

    def _plan_shot(self) -> None:
        """The shot that is reviewed, on the table of Plan; without one the balls that the picture shows."""
        from ripasso.ui.plan.taking import taken_frame, taken_shot

        say = self._workspace.messages.say
        if self.review.controller.shot is not None:
            self._plan(taken_shot(self.review.controller, say))
            return
        look = taken_frame(self.review, say)
        if look is not None:
            say("The balls are looked for in this picture of the film.", "plain")
            self._workspace.background.run(look, self._plan_seen)

    def _plan_seen(self, taken: Taken) -> None:
        """The balls of the picture were found; whoever went elsewhere meanwhile is left there."""
        if self.review.isVisible():
            self._plan(taken)

    def _plan(self, taken: Taken | None) -> None:
        if taken is not None:
            self._opener.show_page("plan")
            # The window's thread is not held for both at once.
            QTimer.singleShot(0, partial(self.plan.take, taken))
