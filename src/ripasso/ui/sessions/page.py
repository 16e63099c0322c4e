"""The Sessions workspace: the list of the library, and what can be done with a session."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QStackedWidget,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ripasso.review.language.vocabulary import count, sentence, word
from ripasso.store.errors import LibraryError
from ripasso.store.session_list import SessionLine
from ripasso.ui.actions import ActionRegistry, ActionSpec
from ripasso.ui.sessions.session_filter import SessionFilter
from ripasso.ui.sessions.stills import STILL_HEIGHT, STILL_WIDTH, SessionStills
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel, set_property
from ripasso.ui.widgets.plain_table import header_of, plain_table
from ripasso.ui.workspace import Workspace

if TYPE_CHECKING:
    from ripasso.review.document.document import Changed, Document
    from ripasso.ui.sessions.session_controller import SessionController

ACTIONS = (
    ActionSpec("review_chosen", "Review", ("Return",), "Sessions", "review the chosen session"),
    ActionSpec("new", "New session", ("Ctrl+N",), "Sessions"),
    ActionSpec("import", "Import", ("Ctrl+I",), "Sessions", "read a session file"),
    ActionSpec("import_films", "Films", ("Ctrl+Shift+I",), "Sessions", "a session for each film of a folder"),
    ActionSpec("export", "Export", ("Ctrl+E",), "Sessions", "write the chosen session to a file"),
    ActionSpec(
        "details", "Details", ("F2",), "Sessions", "title, date, players, target of the chosen session"
    ),
    ActionSpec("film", "Film", ("Ctrl+F",), "Sessions", "choose the film of the chosen session"),
    ActionSpec("delete", "Delete", ("Delete",), "Sessions", "delete the chosen session"),
    ActionSpec("find_session", "Find", ("/",), "Sessions", "type words of the title, players, game or date"),
    ActionSpec(
        "favourite", "Favourite", ("Ctrl+D",), "Sessions", "the chosen session is one, or is none any more"
    ),
)
#: Those that stand at the list itself.
AT_LIST = ("find_session", "favourite", "details", "film", "delete")
#: What a favourite has before its title.
STAR = "★ "
COLUMNS = ("Session", "Players", "Game", "Date", "Racks", "Shots", "Judged")


class SessionModel(QAbstractTableModel):
    """The sessions of the library as a table."""

    def __init__(self, theme: Theme, parent: QObject) -> None:
        super().__init__(parent)
        self._nothing = QPixmap(theme.px(STILL_WIDTH), theme.px(STILL_HEIGHT))
        self._nothing.fill(Qt.GlobalColor.transparent)
        self._stills: SessionStills | None = None
        self.lines: list[SessionLine] = []
        self._favourites: frozenset[str] = frozenset()

    def show_lines(self, lines: list[SessionLine], favourites: frozenset[str] = frozenset()) -> None:
        """Show these sessions; a favourite has a star."""
        self.beginResetModel()
        self.lines, self._favourites = lines, favourites
        self.endResetModel()

    def show_stills(self, stills: SessionStills) -> None:
        """Show small pictures of films, as they come."""
        self._stills = stills
        stills.came.connect(self._show_still)

    def _show_still(self, key: str) -> None:
        for row, line in enumerate(self.lines):
            if line.key == key:
                place = self.index(row, 0)
                self.dataChanged.emit(place, place, [Qt.ItemDataRole.DecorationRole])

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.lines)

    def columnCount(self, _parent: QModelIndex | None = None) -> int:
        return len(COLUMNS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> object:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return COLUMNS[section]
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.TextAlignmentRole:
            return _alignment(section)
        return None

    def data(self, index: QModelIndex, role: int = 0) -> object:
        line = self.lines[index.row()]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _alignment(index.column())
        if role == Qt.ItemDataRole.DecorationRole and index.column() == 0:
            found = self._stills.picture(line.key) if self._stills is not None else None
            return found or self._nothing
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        share = f"{round(100 * line.judged / line.shots)} %" if line.shots else "–"
        return (
            STAR * (line.key in self._favourites) + line.title,
            " – ".join(line.players),
            sentence(word(line.game or "")),
            line.date or "",
            str(line.racks),
            str(line.shots),
            share,
        )[index.column()]


def _alignment(column: int) -> Qt.AlignmentFlag:
    side = Qt.AlignmentFlag.AlignRight if column >= 4 else Qt.AlignmentFlag.AlignLeft
    return side | Qt.AlignmentFlag.AlignVCenter


class SessionsPage(QWidget):
    """Lists, makes, imports, exports and deletes sessions; `opened` brings the one to review.

    The list is read by `refresh`, whenever the page is shown.
    """

    opened = pyqtSignal(str)

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        self.actions_book = ActionRegistry(self, ACTIONS, workspace.settings.get("keys"))
        self.actions_book.bind(
            {
                "new": self._begin_session,
                "import": self._choose_import,
                "import_films": self._choose_films,
                "export": self._choose_export,
                "film": self._choose_film,
                "details": self._edit_details,
                "delete": self._delete,
                "find_session": self._find,
                "favourite": self._change_favourite,
                "review_chosen": self._review,
            }
        )
        self._buttons: dict[str, QPushButton] = {}
        self.model = SessionModel(workspace.theme, self)
        self.table = self._table()
        for name in ("review_chosen", "delete"):
            self.actions_book.keep_to(name, self.table)
        self._stack = QStackedWidget()
        self._empty = EmptyState(workspace.theme, self.actions_book["new"].trigger, self._fill_demo)
        self._stack.addWidget(self._empty)
        self._lines: list[SessionLine] = []
        self.filter = SessionFilter()
        self.filter.changed.connect(self._show_lines)
        self.filter.line.returnPressed.connect(self.table.setFocus)
        filters = QHBoxLayout()
        filters.addWidget(self.filter, 1)
        for name in AT_LIST:
            filters.addWidget(self._button(name))
        rows = QVBoxLayout()
        rows.addLayout(filters)
        rows.addWidget(self.table)
        self._stack.addWidget(panel(rows, (4, 4, 4, 4)))
        body = QVBoxLayout()
        body.setContentsMargins(10, 8, 10, 8)
        body.addWidget(self._stack)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._band())
        layout.addLayout(body, 1)
        workspace.when_document(self._follow_document)

    @cached_property
    def controller(self) -> SessionController:
        """What can be done with sessions, loaded when something is: the list is seen without."""
        from ripasso.ui.sessions.session_controller import SessionController

        made = SessionController(self._workspace, self)
        made.begun.connect(self.opened.emit)
        made.imported.connect(self._show_imported)
        return made

    def _show_imported(self, key: str) -> None:
        self.refresh()
        if key not in [line.key for line in self.model.lines]:
            self.filter.clear()
        self.choose(key)

    def _fill_demo(self) -> None:
        self.controller.fill_demo()
        self.refresh()

    def _band(self) -> QFrame:
        band = QFrame()
        band.setObjectName("band")
        row = QHBoxLayout(band)
        row.setContentsMargins(16, 8, 16, 8)
        row.setSpacing(8)
        words = QVBoxLayout()
        words.setSpacing(1)
        self._about = label("", "caption")
        words.addWidget(label("Sessions", "title"))
        words.addWidget(self._about)
        row.addLayout(words)
        row.addStretch(1)
        for spec in ACTIONS:
            if spec.id not in AT_LIST:
                row.addWidget(self._button(spec.id))
        return band

    def _button(self, name: str) -> QPushButton:
        spec = self.actions_book.spec(name)
        button = QPushButton(f"{spec.text}   {spec.hint}")
        button.setToolTip(self.actions_book[name].toolTip())
        button.setProperty("main", name == "new")
        button.setAutoDefault(False)
        button.clicked.connect(lambda _checked=False: self.actions_book[name].trigger())
        self._buttons[name] = button
        return button

    def _table(self) -> QTableView:
        table = plain_table(
            self._workspace.theme, "Sessions of the library", self.model, row_px=STILL_HEIGHT + 8
        )
        header = header_of(table)
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        table.setIconSize(
            QSize(self._workspace.theme.px(STILL_WIDTH), self._workspace.theme.px(STILL_HEIGHT))
        )
        table.doubleClicked.connect(lambda _index: self._review())
        return table

    # The list

    def refresh(self) -> None:
        """Read the list anew, the chosen session kept."""
        try:
            self._lines = self._workspace.session_lines()
        except LibraryError as error:
            self._workspace.messages.say(str(error), "bad")
            return
        self._stack.setCurrentIndex(1 if self._lines else 0)
        set_property(self._buttons["new"], "main", bool(self._lines))  # one accent a screen
        self._show_lines()

    def _show_lines(self) -> None:
        """The sessions that fit what is asked for, the chosen one kept."""
        chosen, favourites = self.chosen, frozenset(self._workspace.settings.get("favourites"))
        lines = [line for line in self._lines if self.filter.fits(line, favourites)]
        self.model.show_lines(lines, favourites)
        shots = sum(line.shots for line in lines)
        of_all = f"{len(lines)} of {count(len(self._lines), 'session')}"
        sessions = of_all if self.filter.is_set else count(len(lines), "session")
        self._about.setText(f"{sessions}, {count(shots, 'shot')} in {self._workspace.path.name}")
        for button in ("export", "film", "details", "delete", "review_chosen", "favourite"):
            self._buttons[button].setEnabled(bool(lines))
        if lines:
            self.choose(chosen or lines[0].key)

    def _find(self) -> None:
        if self._lines:
            self.filter.begin()

    def _change_favourite(self) -> None:
        """The chosen session becomes a favourite, or is none any more."""
        line = next((line for line in self._lines if line.key == self.chosen), None)
        if line is None:
            return
        known = list(self._workspace.settings.get("favourites"))
        is_one = line.key in known
        changed = [key for key in known if key != line.key] if is_one else [*known, line.key]
        self._workspace.settings.set("favourites", changed)
        words = "no favourite any more" if is_one else "a favourite"
        self._workspace.messages.say(f"“{line.title}” is {words}.", "good")
        self._show_lines()

    def take_focus(self) -> None:
        """Put the focus where the work is: on the list, or on the way to begin."""
        if self._lines:
            self.table.setFocus()
        else:
            self._empty.begin.setFocus()

    def choose(self, key: str) -> None:
        """Choose a session of the list."""
        keys = [line.key for line in self.model.lines]
        if keys:
            self.table.selectRow(keys.index(key) if key in keys else 0)

    @property
    def chosen(self) -> str | None:
        """The key of the chosen session."""
        selection = self.table.selectionModel()
        rows = selection.selectedRows() if selection is not None else []
        return self.model.lines[rows[0].row()].key if rows else None

    def _follow_document(self, document: Document) -> None:
        document.changed.connect(self._follow)
        self.model.show_stills(SessionStills(self._workspace, self))

    def _follow(self, _change: Changed) -> None:
        # While it is not looked at, the list is read once, when it is shown again.
        if self.isVisible():
            self.refresh()

    def _begin_session(self) -> None:
        self.controller.new_session()

    def _choose_import(self) -> None:
        self.controller.choose_import()

    def _choose_films(self) -> None:
        self.controller.films.choose()

    def _choose_export(self) -> None:
        if self.chosen is not None:
            self.controller.choose_export(self.chosen)

    def _choose_film(self) -> None:
        if self.chosen is not None:
            self.controller.choose_film(self.chosen)

    def _edit_details(self) -> None:
        if self.chosen is not None:
            self.controller.edit_details(self.chosen)
            self.refresh()

    def _delete(self) -> None:
        if self.chosen is not None:
            self.controller.delete(self.chosen)

    def _review(self) -> None:
        if self.chosen is not None:
            self.opened.emit(self.chosen)


class EmptyState(QWidget):
    """What belongs here, and the ways to begin."""

    def __init__(self, theme: Theme, begin: Callable[[], None], fill: Callable[[], None]) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addStretch(2)
        column.addWidget(label("This library is empty", "figure"), 0, Qt.AlignmentFlag.AlignHCenter)
        steps = (
            "1  Begin a session: the game, the players, the film if there is one",
            "2  Let the film run and press F at each strike; say what happened with a few keys",
            "3  Read the figures under Statistics; each leads back to its shots",
        )
        listed = QVBoxLayout()
        listed.setSpacing(theme.px(6))
        for step in steps:
            listed.addWidget(label(step))
        centred = QHBoxLayout()
        centred.addStretch(1)
        centred.addLayout(listed)
        centred.addStretch(1)
        column.addLayout(centred)
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        for text, main, call in (
            ("Begin a session   Ctrl N", True, begin),
            ("Look at the demo", False, fill),
        ):
            button = QPushButton(text)
            button.setProperty("main", main)
            button.clicked.connect(lambda _checked=False, call=call: call())
            buttons.addWidget(button)
            if main:
                self.begin = button
        buttons.addStretch(1)
        column.addSpacing(8)
        column.addLayout(buttons)
        column.addStretch(3)
