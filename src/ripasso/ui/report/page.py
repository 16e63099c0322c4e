"""The Report workspace: reports and their pages, the true page, what the page may say, what goes out."""

from __future__ import annotations

from functools import cached_property, partial
from pathlib import Path

from PyQt6.QtCore import QItemSelection, QPoint, Qt, QTimer
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QMenu, QVBoxLayout, QWidget

from ripasso.core.finding import NotAQuery
from ripasso.core.json_data import JsonObject
from ripasso.film.encoding.film_writer import Cancelled
from ripasso.film.errors import FilmError
from ripasso.report.making import MAKERS, make_pages, page_title
from ripasso.report.pdf import pdf_bytes
from ripasso.report.writing import ENDINGS, UnknownEnding, Written, write_report
from ripasso.review.language.translation import tr
from ripasso.store.errors import LibraryError
from ripasso.store.session_list import SessionLine, told_apart
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.report.actions import ACTIONS
from ripasso.ui.report.forms import PageForm, ReportForm
from ripasso.ui.report.preview import Preview, print_pdf
from ripasso.ui.report.report_controller import ReportController
from ripasso.ui.services.background import LatestRequest
from ripasso.ui.services.exporting import Exporter
from ripasso.ui.widgets.basics import choose_file, label, panel, pop_up, run_dialog, scrolling
from ripasso.ui.widgets.key_button import KeyButton
from ripasso.ui.widgets.lines import LinesModel, lines_view
from ripasso.ui.workspace import Workspace

HEADINGS = ("", "Page")
BUTTONS = ("add_page", "remove_page", "page_up", "page_down", "new_report", "renew", "write", "print")
LIST_PX, FORM_PX = 280, 300
NOTHING = (
    "A report is what you hand over: pages a player understands without the program. Ctrl N makes one for "
    "whoever played most shots; Ctrl ⇧ E puts a shot of Review, or a page of Statistics, into it."
)


class ReportPageView(QWidget):
    """The page of the window; `controller` works on the reports."""

    def __init__(self, workspace: Workspace, controller: ReportController) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        self.controller = controller
        self._request = LatestRequest[bytes](workspace.background)
        self.exporter = Exporter(workspace.background, self._say_how_far, "Ctrl E")
        self._showing, self._shown = False, ""
        theme = workspace.theme
        self.actions_book = ActionRegistry(self, ACTIONS, workspace.settings.get("keys"))
        self.reports = QComboBox()
        self.reports.setAccessibleName("Which report")
        self.reports.activated.connect(lambda row: self.controller.choose_report(self.reports.itemData(row)))
        self.model = LinesModel(self)
        self.list = lines_view(theme, "Pages of the report", self.model, self._edit, narrow=(0,))
        self.state = label("", "caption", wrap=True)
        self._is_whole = False
        self._bind()
        self._compose()
        selection = self.list.selectionModel()
        assert selection is not None
        selection.selectionChanged.connect(self._select)
        self.controller.changed.connect(lambda _none: self.refresh())

    # Fields and page come a moment after the list: the window's thread is not held for all of them at once.

    @cached_property
    def report_form(self) -> ReportForm:
        """What the report may say."""
        form = ReportForm()
        form.changed.connect(self.controller.change)
        return form

    @cached_property
    def page_form(self) -> PageForm:
        """What the chosen page may say."""
        form = PageForm()
        form.changed.connect(self.controller.change_page)
        library = self._workspace.path
        form.shots.folder = library.with_name(f"{library.stem}-comments")
        form.shots.failed.connect(lambda words: self._workspace.messages.say(words, "bad"))
        return form

    @cached_property
    def preview(self) -> Preview:
        """The true page."""
        return Preview()

    def _bind(self) -> None:
        controller = self.controller
        self.actions_book.bind(
            {
                "new_report": controller.new,
                "delete_report": controller.delete,
                "add_page": self._offer_pages,
                "remove_page": controller.remove_page,
                "page_up": partial(controller.move_page, -1),
                "page_down": partial(controller.move_page, 1),
                "renew": self._renew,
                "write": self._write,
                "print": self._print,
            }
        )
        self.actions_book.keep_to("remove_page", self.list)

    def _compose(self) -> None:
        theme = self._workspace.theme
        left = QVBoxLayout()
        left.addWidget(self.reports)
        left.addWidget(self.list, 1)
        for pair in (BUTTONS[i : i + 2] for i in range(0, len(BUTTONS), 2)):
            row = QHBoxLayout()
            for name in pair:
                row.addWidget(KeyButton(theme, self.actions_book[name], self.actions_book.spec(name).hint), 1)
            left.addLayout(row)
        self._page_words = label("", "title", wrap=True)
        self._right, self._middle = QVBoxLayout(), QVBoxLayout()
        self._right.addWidget(label("Report", "title"))
        self._middle.setSpacing(4)
        self._middle.addWidget(self.state)
        side = panel(left)
        side.setFixedWidth(theme.px(LIST_PX))
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 8, 10, 8)
        row.setSpacing(8)
        row.addWidget(side)
        row.addLayout(self._middle, 1)
        self._row = row

    def _complete(self) -> None:
        """The rest of the page, a part at a time."""
        parts = ("report_form", "page_form", "preview")
        missing = next((name for name in parts if name not in self.__dict__), None)
        if missing is not None:
            getattr(self, missing)
            QTimer.singleShot(0, self._complete)
        elif not self._is_whole:
            self._is_whole = True
            self._right.addWidget(self.report_form)
            self._right.addSpacing(12)
            self._right.addWidget(self._page_words)
            self._right.addWidget(self.page_form)
            self._right.addStretch(1)
            # It takes its width from what is in it.
            form = scrolling(panel(self._right))
            form.setFixedWidth(self._workspace.theme.px(FORM_PX))
            self._row.addWidget(form)
            self._middle.insertWidget(0, self.preview, 1)
            self.refresh()

    # What is seen

    def take_focus(self) -> None:
        """Look at what is there now."""
        self._shown = ""
        self.list.setFocus()
        if self._is_whole:
            self.refresh()
        else:
            QTimer.singleShot(0, self._complete)

    def refresh(self) -> None:
        """Show the report in hand; the page is made anew in the background, where it is seen."""
        if not self._is_whole:
            return
        self._showing = True
        try:
            lines, persons = self._workspace.session_lines(), self._workspace.library.persons()
            self._show(lines, persons)
        except LibraryError as error:
            self._workspace.messages.say(str(error), "bad")
        finally:
            self._showing = False
        self._preview()

    def _show(self, lines: list[SessionLine], persons: list[tuple[str, str]]) -> None:
        controller = self.controller
        report, pages = controller.report, controller.pages
        self.reports.clear()
        for key, one in controller.reports():
            self.reports.addItem(one.title, key)
        self.reports.setCurrentIndex(max(0, self.reports.findData(controller.state.report)))
        titles, names = told_apart((line.key, line.title, line.date) for line in lines), dict(persons)
        rows = [(str(number), page_title(page, titles, names)) for number, page in enumerate(pages, 1)]
        self.model.show_lines(HEADINGS, rows)
        page = controller.page
        if page is not None:
            self.list.selectRow(controller.state.place)
        self._page_words.setText(tr(MAKERS[page.kind].words) if page is not None else "")
        self.report_form.show_report(report, lines, persons)
        self.page_form.show_page(page, lines, persons, self._racks)

    def _racks(self, session: str) -> list[int]:
        snapshot = self._workspace.document.session(session)
        return [rack.record.number for rack in snapshot.racks] if snapshot is not None else []

    def _select(self, _chosen: QItemSelection, _left: QItemSelection) -> None:
        rows = self.list.selectionModel()
        row = rows.currentIndex().row() if rows is not None else -1
        if not self._showing and 0 <= row < len(self.controller.pages):
            self.controller.choose_page(row)

    def _edit(self, _row: int) -> None:
        self.page_form.title.setFocus()

    # The page

    @property
    def is_making(self) -> bool:
        """The page is not whole yet, or what it shows is on its way."""
        return not self._is_whole or self._request.busy

    def _renew(self) -> None:
        self._shown = ""
        self._preview()

    def _preview(self) -> None:
        """Make the chosen page in the background, unless it is the one that is seen."""
        report, place = self.controller.report, self.controller.state.place
        material = self.controller.material(place) if self.controller.page is not None else None
        if report is None or material is None:
            self._shown = ""
            self.preview.show_pdf(b"")
            self._say_instead(NOTHING if report is None else "This report has no page: Ins adds one.")
            return
        self.preview.show()
        self.state.setAlignment(Qt.AlignmentFlag.AlignLeft)
        # What other pages say is no part of this one, but for its key shots, which figures lead to.
        wanted = f"{place} {material.report.model_dump_json(exclude={'figures', 'made'})}"
        if wanted == self._shown:
            return
        self._shown = wanted
        self.state.setText("The page is made …")
        self._request.ask(lambda: pdf_bytes(make_pages(material)), self._show_pdf, self._failed)

    def _say_instead(self, words: str) -> None:
        """There is no page to show: words stand in its place."""
        self.preview.hide()
        self.state.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.state.setText(words)

    def _show_pdf(self, data: bytes) -> None:
        self.preview.show_pdf(data)
        sheets = self.preview.document.pageCount()
        self.state.setText(f"This page fills {sheets} sheet{'s' if sheets != 1 else ''}.")

    def _failed(self, error: Exception) -> None:
        self._shown = ""
        self.state.setText(f"This page could not be made: {error}")
        self._workspace.background.report(error)

    # Commands

    def _offer_pages(self) -> None:
        menu = QMenu(self)
        for kind, maker in MAKERS.items():
            action = menu.addAction(tr(maker.words))
            assert action is not None
            action.triggered.connect(lambda _checked=False, kind=kind: self.add_page(kind))
        pop_up(menu, self.list.mapToGlobal(QPoint(0, 0)))

    def add_page(self, kind: str) -> None:
        """A page of a kind more, with what it needs first."""
        page: JsonObject = {"kind": kind}
        if kind in ("course", "rack", "sheet"):
            with_racks = [line.key for line in self._workspace.session_lines() if line.racks]
            if not with_racks:
                self._workspace.messages.say("No session has a rack yet: this page needs one.", "plain")
                return
            page["session"] = with_racks[0]
            if kind != "course":
                page["rack"] = self._racks(with_racks[0])[0]
        if kind == "figures":
            page["figures"] = "potting"
        if kind == "film":
            page["diagram"] = "beside"
        self.controller.add_page(page)

    def _write(self) -> None:
        report = self.controller.report
        if report is None:
            self._workspace.messages.say("There is no report yet: Ctrl N makes one.", "plain")
            return
        if self.exporter.busy:
            self.exporter.stop()
            return
        kinds = ";;".join(ENDINGS.values())
        file = choose_file(self, "Write the report", str(Path.home()), kinds, save=f"{report.title}.pdf")
        if file:
            self.write(Path(file))

    def write(self, path: Path) -> None:
        """Write the report in the background, as the name's ending says."""
        material = self.controller.material()
        if material is None:
            return
        self.exporter.start(
            path.name,
            lambda progress: write_report(material, path, progress),
            self._written,
            lambda error: self._not_written(path, error),
        )

    def _say_how_far(self, words: str) -> None:
        self.state.setText(words)

    def _written(self, written: Written) -> None:
        if written.pages is not None:
            self.controller.went_out(written.pages)
        self.state.setText(written.words)
        self._workspace.messages.say(written.words, "good")

    def _not_written(self, path: Path, error: Exception) -> None:
        self.state.setText("")
        if isinstance(error, Cancelled):
            self._workspace.messages.say(f"{path.name} was not written: it was stopped.", "plain")
        elif isinstance(error, OSError):
            why = error.strerror or "unknown reason"
            self._workspace.messages.say(f"{path.name} cannot be written: {why}.", "bad")
        elif isinstance(error, UnknownEnding | FilmError | NotAQuery):
            self._workspace.messages.say(str(error), "bad")
        else:
            self._workspace.background.report(error)

    def _print(self) -> None:
        material = self.controller.material()
        if material is None:
            self._workspace.messages.say("There is no report yet: Ctrl N makes one.", "plain")
            return
        printer = QPrinter()
        if not run_dialog(QPrintDialog(printer, self)):
            return
        self._workspace.background.run(
            lambda: pdf_bytes(make_pages(material)), lambda data: self.print_on(printer, data)
        )

    def print_on(self, printer: QPrinter, data: bytes) -> None:
        """Print a report that was made."""
        pages = print_pdf(data, printer)
        self._workspace.messages.say(f"{pages} sheets went to the printer.", "good")
