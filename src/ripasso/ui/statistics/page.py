"""The Statistics workspace: who and which sessions, the figures, and the shots behind the chosen one."""

from __future__ import annotations

from functools import partial
from typing import cast

import numpy as np
from PyQt6.QtCore import QItemSelection, QModelIndex, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QStackedWidget,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.figures.facts import Ints
from ripasso.core.finding import NotAQuery
from ripasso.review.document.document import Changed
from ripasso.review.language.vocabulary import count
from ripasso.statistics.answers import Answers
from ripasso.statistics.pages.figures import Figure, FigurePage, FigureRow
from ripasso.statistics.pages.pages import ATTEMPTS, PRACTICE
from ripasso.statistics.pages.ready import Overview
from ripasso.store.errors import LibraryError
from ripasso.store.session_list import told_apart
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.services.background import LatestRequest
from ripasso.ui.statistics.actions import ACTIONS
from ripasso.ui.statistics.chart_panel import ChartPanel
from ripasso.ui.statistics.chooser import Chooser
from ripasso.ui.statistics.copy_controller import CopyController
from ripasso.ui.statistics.figure_table import FigureDelegate, FigureModel
from ripasso.ui.statistics.overview import OverviewPanel
from ripasso.ui.statistics.shot_list import ShotListModel
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.key_button import KeyButton
from ripasso.ui.widgets.plain_table import header_of, plain_table
from ripasso.ui.workspace import Workspace

LEGEND = (
    "Dot: the rate; line: its 95 % interval (Wilson; counts exact Poisson). "
    "Grey: under 5 shots. What is not judged is in no figure."
)


NO_ROWS = "Nothing of this kind is recorded in these sessions."
#: What is said where a page has nothing, and how it comes to have something.
NOTHING = {
    ATTEMPTS: "No attempts in these sessions. Ctrl A in Review counts a shot that is played again.",
    PRACTICE: "No exercise was played in these sessions. Practice (Ctrl 4) counts attempts at exercises.",
}
SESSION_SHARE = 0.11  # of the page
SESSION_PX = 124  # what is said of a shot needs the room
#: Several sessions may be measured in a row; they are read again together.
TOGETHER_MS = 300


class StatisticsPage(QWidget):
    """Figures of one or two players; `opened` brings a session and a shot to review.

    `practised` brings the session of a practice plan, `reported` a page for the report and its words.
    """

    opened = pyqtSignal(str, str)
    played = pyqtSignal(list)
    practised = pyqtSignal(str)
    reported = pyqtSignal(dict, str)

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        self._request = LatestRequest[FigurePage | Overview](workspace.background)
        self._outdated = True
        self._titles: dict[str, str] = {}
        self._page: FigurePage | Overview | None = None
        self._answers = Answers(workspace.library, workspace.index)
        self._copying = CopyController(workspace)
        self.chooser = Chooser()
        functions = {
            "open": self._open_shot,
            "play": self._play,
            "report_page": lambda: self.reported.emit(*self.chooser.report_page()),
            "copy_table": self._copy_table,
            "copy_picture": self._copy_picture,
        }
        self.actions_book = ActionRegistry(self, ACTIONS, workspace.settings.get("keys"))
        self.actions_book.bind(functions)
        self.chooser.changed.connect(self._compute)
        self.model, self.shot_model = FigureModel(self), ShotListModel(self)
        self.figures = self._figure_view()
        self.chart = ChartPanel(workspace.theme)
        self.chart.chosen.connect(self._choose_mark)
        self.overview = OverviewPanel(workspace.theme)
        self.overview.chosen.connect(self._choose_words)
        self._sorted: tuple[int, bool] | None = None
        self._row_words = label("", "caption", wrap=True)
        self.shots = self._shot_view()
        self.overview.activated.connect(self.shots.setFocus)
        self.actions_book.keep_to("open", self.shots)
        self._chosen = label("", "title")
        self._hint = label("", "caption", wrap=True)
        self._warning = label("", "warning", wrap=True)
        self._compose()
        workspace.document.changed.connect(self._follow)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(TOGETHER_MS)
        self._later.timeout.connect(self._renew)
        workspace.measuring.measured.connect(lambda _session: self._later.start())

    def _compose(self) -> None:
        theme = self._workspace.theme
        figures = QVBoxLayout()
        figures.setContentsMargins(0, 0, 0, 0)
        figures.setSpacing(2)
        self._warning.setContentsMargins(8, 4, 8, 0)
        figures.addWidget(self._warning)
        figures.addWidget(self.figures, 1)
        foot = QHBoxLayout()
        foot.setContentsMargins(8, 0, 8, 4)
        foot.addWidget(label(LEGEND, "caption", wrap=True), 1)
        for name in ("copy_table", "copy_picture"):
            hint = self.actions_book.spec(name).hint
            button = KeyButton(theme, self.actions_book[name], hint)
            button.setFixedWidth(button.sizeHint().width())
            foot.addWidget(button)
        figures.addLayout(foot)
        figures.addWidget(self.chart, 1)
        shots = QVBoxLayout()
        shots.setSpacing(4)
        shots.addWidget(self._chosen)
        shots.addWidget(self._hint)
        shots.addWidget(self.shots, 1)
        shots.addWidget(self._row_words)
        play = KeyButton(theme, self.actions_book["play"], self.actions_book.spec("play").hint)
        shots.addWidget(play, 0, Qt.AlignmentFlag.AlignLeft)
        columns = QHBoxLayout()
        columns.setContentsMargins(10, 8, 10, 8)
        columns.setSpacing(8)
        table = QWidget()
        table.setLayout(figures)
        self._views = QStackedWidget()
        self._views.addWidget(self.overview)
        self._views.addWidget(table)
        # Large texts need the room for the figures first.
        views = QVBoxLayout()
        views.addWidget(self._views)
        columns.addWidget(panel(views, (4, 4, 8, 8)), round(70 * theme.scale))
        columns.addWidget(panel(shots, (12, 10, 8, 8)), 40)
        work, empty = QWidget(), QVBoxLayout()
        work.setLayout(columns)
        nothing = QWidget()
        nothing.setLayout(empty)
        sentence = "Figures appear when shots are tagged. Begin under Sessions, or look at the demo there."
        empty.addWidget(label(sentence, "caption"), 0, Qt.AlignmentFlag.AlignCenter)
        self._stack = QStackedWidget()
        self._stack.addWidget(nothing)
        self._stack.addWidget(work)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.chooser)
        layout.addWidget(self._stack, 1)

    def _figure_view(self) -> QTableView:
        view = plain_table(self._workspace.theme, "Figures", self.model, whole_rows=False)
        self._delegate = FigureDelegate(self._workspace.theme)
        view.setItemDelegate(self._delegate)
        view.selectionModel().selectionChanged.connect(self._choose)  # type: ignore[union-attr]
        view.activated.connect(lambda _index: self.shots.setFocus())
        return view

    def _shot_view(self) -> QTableView:
        view = plain_table(self._workspace.theme, "Shots behind the figure", self.shot_model)
        header = header_of(view)
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Fixed)
        header.resizeSection(0, self._workspace.theme.px(SESSION_PX))
        self.shot_model.modelReset.connect(partial(_fit_columns, view))
        header.setSectionsClickable(True)
        header.sectionClicked.connect(self._sort)
        chosen = view.selectionModel()
        assert chosen is not None
        chosen.selectionChanged.connect(lambda _new, _old: self._read_out())
        view.doubleClicked.connect(lambda _index: self._open_shot())
        return view

    def _sort(self, column: int) -> None:
        """By the column that was clicked; clicked again, the other way round."""
        falling = self._sorted == (column, False)
        self._sorted = (column, falling)
        self.shot_model.sort_by(column, falling=falling)
        header = header_of(self.shots)
        header.setSortIndicator(
            column, Qt.SortOrder.DescendingOrder if falling else Qt.SortOrder.AscendingOrder
        )
        header.setSortIndicatorShown(True)
        self.shots.selectRow(0)

    def _read_out(self) -> None:
        """The chosen row in full: its columns may be too narrow."""
        self._row_words.setText(_row_words(self.shots.currentIndex()))

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        wide = max(self._workspace.theme.px(SESSION_PX), round(SESSION_SHARE * self.width()))
        header_of(self.shots).resizeSection(0, wide)

    # Reading

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        if self._outdated:
            self.refresh()

    @property
    def _list(self) -> QAbstractItemView:
        """The list in hand: the questions of the overview, or the figures."""
        return self.figures if self._views.currentIndex() else self.overview.questions

    def take_focus(self) -> None:
        """The list in hand has the keys."""
        self._list.setFocus()

    def _follow(self, _change: Changed) -> None:
        self._renew()

    def _renew(self) -> None:
        self._outdated = True
        if self.isVisible():
            self.refresh()

    @property
    def is_computing(self) -> bool:
        """An answer is on its way."""
        return self._request.busy

    def refresh(self) -> None:
        """Read who there is anew, the choices kept, and compute."""
        self._outdated = False
        try:
            lines = self._workspace.library.sessions()
            persons = self._workspace.library.persons()
        except LibraryError as error:
            self._workspace.messages.say(str(error), "bad")
            return
        self._titles = told_apart((line.key, line.title, line.date) for line in lines)
        self.chooser.offer(lines, persons)
        has_figures = any(line.shots or line.kind == PRACTICE for line in lines)
        self._stack.setCurrentIndex(1 if persons and has_figures else 0)
        self._compute()

    def _compute(self) -> None:
        """Compute in the background; an answer that is overtaken is dropped."""
        try:
            choice = self.chooser.choice()
        except NotAQuery as error:
            self._workspace.messages.say(str(error), "bad")
            return
        answers = self._answers
        self._request.ask(lambda: answers.answer(choice), self._show)

    def _show(self, page: FigurePage | Overview) -> None:
        self.chooser.about.setText(_about(page))
        self._page, has_focus = page, self._list.hasFocus()
        self._views.setCurrentIndex(0 if isinstance(page, Overview) else 1)
        if isinstance(page, Overview):
            self.overview.show_overview(page)
        else:
            self._show_figures(page)
        if has_focus:
            self.take_focus()

    def _show_figures(self, page: FigurePage) -> None:
        selected = self.figures.currentIndex()
        place = (selected.row(), selected.column()) if selected.isValid() else (1, 1)
        self.model.show_page(page)
        words = page.warning
        if not words and not page.rows:
            words = NOTHING.get(self.chooser.page(), NO_ROWS)
        self._warning.setText(words)
        self._warning.setVisible(bool(words))
        self.chart.show_charts(page.charts)
        header = header_of(self.figures)
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        if self.model.has_difference:
            header.setSectionResizeMode(3, QHeaderView.ResizeMode.Fixed)
            header.resizeSection(3, self._workspace.theme.px(132))
        row = place[0] if place[0] < self.model.rowCount() else 1
        column = min(place[1], len(page.persons))
        if page.persons and page.rows:
            self.figures.setCurrentIndex(self.model.index(row, max(1, column)))
        else:
            self._chosen.setText("")
            self.shot_model.show_nothing()
            self._hint.setText("")

    # Choosing

    def _choose(self, _selected: QItemSelection | None = None, _gone: QItemSelection | None = None) -> None:
        index = self.figures.currentIndex()
        figure = self.model.figure(index) if index.isValid() else None
        if figure is None or self.model.page is None:
            return
        row = cast(FigureRow, self.model.rows[index.row()])
        name = self.model.headerData(index.column(), Qt.Orientation.Horizontal, Qt.ItemDataRole.DisplayRole)
        # Where columns are groups, each cell is of two of them.
        between = ": " if self.model.page.compared else " · "
        self._choose_words(f"{name}{between}{row.text.lstrip('– ')}", figure.shots, figure)

    def _choose_mark(self, words: str, shots: Ints) -> None:
        """A mark that is one shot opens it; any other shows its shots."""
        page = self._page
        if len(shots) == 1 and isinstance(page, FigurePage) and page.attempts is None:
            at = int(shots[0])
            self.opened.emit(page.facts.text_at("session_key", at), page.facts.key(at))
            return
        self._choose_words(words, shots)

    def _choose_words(self, words: str, shots: Ints, figure: Figure | None = None) -> None:
        if self._page is None:
            return
        # Back from a shot, or after a change: the same one is chosen.
        kept = self._chosen_shot() if words == self._chosen.text() else ""
        self._sorted = None
        header_of(self.shots).setSortIndicatorShown(False)
        self._chosen.setText(words)
        attempts = self._page.attempts if isinstance(self._page, FigurePage) else None
        if attempts is not None:
            self.shot_model.show_attempts(attempts, shots)
            where = "Practice" if self.chooser.page() == PRACTICE else "Review"
            self._hint.setText(f"{count(len(shots), 'attempt')} · Return opens their session in {where}")
        else:
            self.shot_model.show_shots(self._page.facts, shots, self._titles, figure)
            # A cell of the table may be too narrow for its figure.
            value = figure.words if figure is not None else ""
            self._hint.setText(" · ".join(part for part in (value, self._behind(len(shots))) if part))
        if len(shots):
            self.shots.selectRow(max(0, self.shot_model.row_of(kept)) if kept else 0)

    def _chosen_shot(self) -> str:
        row = self.shots.currentIndex().row()
        return self.shot_model.place(row)[1] if 0 <= row < self.shot_model.rowCount() else ""

    def _play(self) -> None:
        """All shots of the list as one film, in its order, from the chosen one on."""
        places = self.shot_model.places()
        row = max(0, self.shots.currentIndex().row())
        if not places or not places[row][1]:
            self._workspace.messages.say("No shot is in this list; choose a figure that has some.", "quiet")
            return
        self.played.emit([shot for _, shot in [*places[row:], *places[:row]]])

    @staticmethod
    def _behind(shots: int) -> str:
        if shots == 0:
            return "No shot is behind this figure"
        return f"{count(shots, 'shot')} · Return shows the chosen one in Review, with its film"

    def _copy_table(self) -> None:
        self._copying.table(self._page, self.chart)

    def _copy_picture(self) -> None:
        self._copying.picture(self._views, self.chart)

    def _open_shot(self) -> None:
        selection = self.shots.selectionModel()
        rows = selection.selectedRows() if selection is not None else []
        if rows and self.chooser.page() == PRACTICE:
            self.practised.emit(self.shot_model.place(rows[0].row())[0])
        elif rows:
            self.opened.emit(*self.shot_model.place(rows[0].row()))


def _about(page: FigurePage | Overview) -> str:
    """How much is looked at."""
    attempts = page.attempts if isinstance(page, FigurePage) else None
    if attempts is not None:
        sessions = len({line.session for line in attempts})
        return f"{count(len(attempts), 'attempt')} in {count(sessions, 'session')}"
    sessions = len(np.unique(page.facts.ints("session")))
    return f"{count(len(page.facts), 'shot')} in {count(sessions, 'session')}"


def _fit_columns(view: QTableView) -> None:
    """The last column takes what is left; with a value there is one column more."""
    header, model = header_of(view), view.model()
    last = model.columnCount() - 1 if model is not None else 0
    for column in range(1, last):
        header.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
    header.setSectionResizeMode(last, QHeaderView.ResizeMode.Stretch)


def _row_words(index: QModelIndex) -> str:
    """The cells of a row of a table, in one line; empty without a row."""
    model = index.model()
    columns = model.columnCount() if model is not None else 0
    cells = [index.siblingAtColumn(n).data(Qt.ItemDataRole.DisplayRole) for n in range(columns)]
    return " · ".join(str(cell) for cell in cells if cell)
