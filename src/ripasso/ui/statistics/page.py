"""The Statistics workspace: who and which sessions, the figures, and the shots behind the chosen one."""

from __future__ import annotations

from typing import cast

import numpy as np
from PyQt6.QtCore import QItemSelection, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QStackedLayout,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.finding import FIELDS, NotAQuery, matching, parse_query
from ripasso.core.finding.query import Query
from ripasso.core.measures import ShotColumns
from ripasso.core.measures.columns import Ints
from ripasso.review.document import Changed
from ripasso.review.vocabulary import count, word
from ripasso.store import Library, LibraryError
from ripasso.ui.actions import ActionBook, ActionSpec
from ripasso.ui.finding import read_everything
from ripasso.ui.statistics.figure_table import FigureDelegate, FigureModel
from ripasso.ui.statistics.figures import FigurePage, FigureRow, figure_page, shot_words
from ripasso.ui.statistics.overview import OverviewPanel
from ripasso.ui.statistics.pages import PAGE_WORDS, page_of
from ripasso.ui.statistics.ready import Overview, overview_of
from ripasso.ui.statistics.rest_chart import RestChart
from ripasso.ui.statistics.shot_list import ShotListModel
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.plain_table import header_of, plain_table
from ripasso.ui.workspace import Workspace

NOBODY = "nobody"
GAME = "game:"  # before a game, where a session's key would stand
ACTIONS = (ActionSpec("open", "Open the shot", ("Return",), "Statistics", "show the shot in Review"),)


class StatisticsPage(QWidget):
    """Figures of one or two players; `opened` brings a session and a shot to review."""

    opened = pyqtSignal(str, str)

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        self._request: int | None = None
        self._outdated = True
        self._titles: dict[str, str] = {}
        self._games: dict[str, str] = {}
        self._columns: ShotColumns | None = None
        self.actions_book = ActionBook(
            self, ACTIONS, {"open": self._open_shot}, workspace.settings.get("keys")
        )
        self.sessions, self.first, self.second = QComboBox(), QComboBox(), QComboBox()
        self.pages = QComboBox()
        for name, words in PAGE_WORDS.items():
            self.pages.addItem(words, name)
        for box, words in (
            (self.pages, "Which figures"),
            (self.sessions, "Which sessions"),
            (self.first, "First player"),
            (self.second, "Second player"),
        ):
            box.setAccessibleName(words)
            box.activated.connect(lambda _index: self._compute())
        self.line = QLineEdit()
        self.line.setAccessibleName("Only shots like this")
        self.line.setPlaceholderText("only shots like this: cut:30-60 pace:long -tag:final")
        self.line.setToolTip(f"Fields: {', '.join(FIELDS)}")
        self.line.returnPressed.connect(self._compute)
        self.model, self.shot_model = FigureModel(self), ShotListModel(self)
        self.figures = self._figure_view()
        self.chart = RestChart(workspace.theme, self._words_of)
        self.chart.opened.connect(self._open_place)
        self.overview = OverviewPanel(workspace.theme)
        self.overview.chosen.connect(self._choose_overview)
        self.overview.activated.connect(self._go_to_shots)
        self.shots = self._shot_view()
        self.actions_book.keep_to("open", self.shots)
        self._about = label("", "caption")
        self._chosen = label("", "title")
        self._hint = label("", "caption", wrap=True)
        self._compose()
        workspace.document.changed.listen(self._follow)

    def _compose(self) -> None:
        band = QFrame()
        band.setObjectName("band")
        row = QHBoxLayout(band)
        row.setContentsMargins(16, 8, 16, 8)
        row.setSpacing(8)
        words = QVBoxLayout()
        words.setSpacing(1)
        words.addWidget(label("Statistics", "title"))
        words.addWidget(self._about)
        row.addLayout(words)
        row.addWidget(self.line, 1)
        row.insertWidget(1, self.pages)
        beside = label("beside", "caption")
        self._beside = (beside, self.second)
        for widget in (self.first, beside, self.second, label("in", "caption"), self.sessions):
            row.addWidget(widget)
        figures = QVBoxLayout()
        figures.setContentsMargins(0, 0, 0, 0)
        figures.addWidget(self.figures, 1)
        legend = label(
            "Dot: the rate; line: its 95 % interval (Wilson; counts exact Poisson). "
            "Grey: under 5 shots. What is not judged is in no figure.",
            "caption",
            wrap=True,
        )
        legend.setContentsMargins(8, 0, 8, 4)
        figures.addWidget(legend)
        figures.addWidget(self.chart, 1)
        shots = QVBoxLayout()
        shots.setSpacing(4)
        shots.addWidget(self._chosen)
        shots.addWidget(self._hint)
        shots.addWidget(self.shots, 1)
        columns = QHBoxLayout()
        columns.setContentsMargins(10, 8, 10, 8)
        columns.setSpacing(8)
        table = QWidget()
        table.setLayout(figures)
        self._views = QStackedLayout()
        self._views.addWidget(self.overview)
        self._views.addWidget(table)
        # Large texts need the room for the figures first.
        columns.addWidget(panel(self._views, (4, 4, 8, 8)), round(70 * self._workspace.theme.scale))
        columns.addWidget(panel(shots, (12, 10, 8, 8)), 40)
        work, empty = QWidget(), QVBoxLayout()
        work.setLayout(columns)
        nothing = QWidget()
        nothing.setLayout(empty)
        sentence = "Figures appear when shots are tagged. Begin under Sessions, or look at the demo there."
        empty.addWidget(label(sentence, "caption"), 0, Qt.AlignmentFlag.AlignCenter)
        self._stack = QStackedLayout()
        self._stack.addWidget(nothing)
        self._stack.addWidget(work)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(band)
        layout.addLayout(self._stack, 1)

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
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Interactive)
        header.resizeSection(0, self._workspace.theme.px(112))
        header.setSectionResizeMode(3, QHeaderView.ResizeMode.Stretch)
        view.doubleClicked.connect(lambda _index: self._open_shot())
        return view

    # Reading

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        if self._outdated:
            self.refresh()

    def _follow(self, _change: Changed) -> None:
        self._outdated = True
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Read who there is anew, the choices kept, and compute."""
        self._outdated = False
        try:
            lines = self._workspace.library.sessions()
            persons = self._workspace.library.persons()
        except LibraryError as error:
            self._workspace.messages.say(str(error), "bad")
            return
        self._titles = {line.key: line.title for line in lines}
        self._games = {line.key: line.game or "" for line in lines}
        games = dict.fromkeys(game for game in self._games.values() if game)
        by_game = [(f"{GAME}{game}", f"all {word(game)}") for game in games]
        _fill(self.sessions, [*by_game, ("", "all sessions"), *self._titles.items()])
        _fill(self.first, persons)
        _fill(self.second, [(NOBODY, "nobody"), *persons])
        if self.second.property("filled") is None and len(persons) > 1:
            self.second.setProperty("filled", True)
            self.second.setCurrentIndex(2)
        self._stack.setCurrentIndex(1 if persons and any(line.shots for line in lines) else 0)
        self._compute()

    def _chosen_sessions(self) -> list[str] | None:
        """The sessions of a game, one session, or None for all."""
        chosen = self.sessions.currentData() or ""
        if chosen.startswith(GAME):
            return [key for key, game in self._games.items() if game == chosen.removeprefix(GAME)]
        return [chosen] if chosen else None

    def _chosen_persons(self) -> list[str]:
        persons = [self.first.currentData()]
        other = self.second.currentData()
        if other not in (None, NOBODY, persons[0]):
            persons.append(other)
        return [p for p in persons if p]

    def _compute(self) -> None:
        """Compute in the background; an answer that is overtaken is dropped."""
        library = self._workspace.library
        persons = self._chosen_persons()
        sessions, chosen = self._chosen_sessions(), str(self.pages.currentData())
        try:
            query = parse_query(self.line.text(), FIELDS)
        except NotAQuery as error:
            self._workspace.messages.say(str(error), "bad")
            return
        if self._request is not None:
            self._workspace.background.forget(self._request)
        game = self._game()
        self._request = self._workspace.background.run(
            lambda: _page(library, sessions, query, chosen, persons, game), self._show
        )

    def _game(self) -> str | None:
        """The game of the chosen sessions, where there is one only."""
        chosen = self._chosen_sessions()
        games = {self._games[key] for key in (self._games if chosen is None else chosen)}
        return games.pop() if len(games) == 1 else None

    def _show(self, page: FigurePage | Overview) -> None:
        self._request = None
        sessions = len(set(page.columns.session.tolist()))
        self._about.setText(f"{count(len(page.columns), 'shot')} in {count(sessions, 'session')}")
        self._columns = page.columns
        if isinstance(page, Overview):
            self._show_view(0)
            self.overview.show_overview(page)
        else:
            self._show_view(1)
            self._show_figures(page)

    def _show_view(self, index: int) -> None:
        """The overview is of one player, the figures of two side by side."""
        self._views.setCurrentIndex(index)
        for widget in self._beside:
            widget.setVisible(index == 1)

    def _show_figures(self, page: FigurePage) -> None:
        selected = self.figures.currentIndex()
        place = (selected.row(), selected.column()) if selected.isValid() else (1, 1)
        names = {self.first.itemData(i): self.first.itemText(i) for i in range(self.first.count())}
        self.model.show_page(page, [names.get(p, p) for p in page.persons])
        self.chart.setVisible(page.rest is not None)
        if page.rest is not None:
            self.chart.show_points(page.rest, names.get(page.persons[0], page.persons[0]))
        header = header_of(self.figures)
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        if self.model.columnCount() > 3:
            header.setSectionResizeMode(3, QHeaderView.ResizeMode.Fixed)
            header.resizeSection(3, self._workspace.theme.px(132))
        row = place[0] if place[0] < self.model.rowCount() else 1
        column = min(place[1], len(page.persons))
        if page.persons:
            self.figures.setCurrentIndex(self.model.index(row, max(1, column)))

    # Choosing

    def _choose(self, _selected: QItemSelection | None = None, _gone: QItemSelection | None = None) -> None:
        index = self.figures.currentIndex()
        figure = self.model.figure(index) if index.isValid() else None
        if figure is None or self.model.page is None:
            return
        row = cast(FigureRow, self.model.rows[index.row()])
        name = self.model.headerData(index.column(), Qt.Orientation.Horizontal, Qt.ItemDataRole.DisplayRole)
        self._chosen.setText(f"{name}: {row.text.lstrip('– ').lower()}")
        self._show_shots(figure.shots)

    def _choose_overview(self, words: str, shots: Ints) -> None:
        self._chosen.setText(words)
        self._show_shots(shots)

    def _show_shots(self, shots: Ints) -> None:
        if self._columns is None:
            return
        self._hint.setText(self._behind(len(shots)))
        self.shot_model.show_shots(self._columns, shots, self._titles)
        if len(shots):
            self.shots.selectRow(0)

    @staticmethod
    def _behind(shots: int) -> str:
        if shots == 0:
            return "No shot is behind this figure"
        return f"{count(shots, 'shot')} · Return shows the chosen one in Review, with its film"

    def _words_of(self, place: int) -> str:
        """What is said of the shot of a dot."""
        columns = self._columns
        if columns is None:
            return ""
        title = self._titles.get(str(columns.session[place]), "")
        return (
            f"{title}, rack {columns.rack[place]}, shot {columns.number[place]}: {shot_words(columns, place)}"
        )

    def _open_place(self, place: int) -> None:
        if self._columns is not None:
            self.opened.emit(str(self._columns.session[place]), str(self._columns.key[place]))

    def _go_to_shots(self) -> None:
        self.shots.setFocus()

    def _open_shot(self) -> None:
        selection = self.shots.selectionModel()
        rows = selection.selectedRows() if selection is not None else []
        if rows:
            self.opened.emit(*self.shot_model.place(rows[0].row()))


def _page(
    library: Library,
    sessions: list[str] | None,
    query: Query | None,
    page: str,
    persons: list[str],
    game: str | None,
) -> FigurePage | Overview:
    """A page over the shots of some sessions that a search line asks for; in the background."""
    if query is None and page == "judged":
        return figure_page(library.columns(sessions), persons)
    everything = read_everything(library)
    keep = matching(query, everything.columns)
    if sessions is not None:
        keep = keep & np.isin(everything.shots.session.astype(str), sessions)
    shots, facts = everything.shots.where(keep), everything.facts.where(keep)
    if page == "overview":
        return overview_of(shots, facts, persons[0] if persons else "", game)
    return page_of(page, shots, facts, persons)


def _fill(box: QComboBox, items: list[tuple[str, str]]) -> None:
    """Put choices into a box, the present choice kept where it is still there."""
    chosen = box.currentData()
    box.clear()
    for key, text in items:
        box.addItem(text, key)
    box.setCurrentIndex(max(0, box.findData(chosen)))
