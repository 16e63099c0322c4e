"""The Sessions workspace: the list of the library, and what can be done with a session."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QMessageBox,
    QPushButton,
    QStackedWidget,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ripasso.review.document.command import Command
from ripasso.review.document.document import Changed, ReadOnly
from ripasso.review.document.edits import Path as ValuePath
from ripasso.review.document.edits import add_session, new_key, remove_session, replace_session, set_values
from ripasso.review.language.vocabulary import count, sentence, word
from ripasso.review.record.model import Recording, Session, serialize
from ripasso.review.record.parsing import is_newer
from ripasso.store.errors import LibraryError
from ripasso.store.session_file import SUFFIX, SessionFileError, load_session, save_session
from ripasso.store.session_list import SessionLine
from ripasso.ui.actions import ActionRegistry, ActionSpec
from ripasso.ui.sessions.new_session import (
    FILM_FILTER,
    NewSessionDialog,
    choose_file,
    recording_of,
)
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel, set_property
from ripasso.ui.widgets.plain_table import header_of, plain_table
from ripasso.ui.workspace import Workspace

SESSION_FILTER = f"Ripasso sessions (*{SUFFIX});;All files (*)"
ACTIONS = (
    ActionSpec("review_chosen", "Review", ("Return",), "Sessions", "review the chosen session"),
    ActionSpec("new", "New session", ("Ctrl+N",), "Sessions"),
    ActionSpec("import", "Import", ("Ctrl+I",), "Sessions", "read a session file"),
    ActionSpec("export", "Export", ("Ctrl+E",), "Sessions", "write the chosen session to a file"),
    ActionSpec("film", "Film", ("Ctrl+F",), "Sessions", "choose the film of the chosen session"),
    ActionSpec("delete", "Delete", ("Delete",), "Sessions", "delete the chosen session"),
)
COLUMNS = ("Session", "Players", "Game", "Date", "Racks", "Shots", "Judged")


class SessionModel(QAbstractTableModel):
    """The sessions of the library as a table."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.lines: list[SessionLine] = []

    def show_lines(self, lines: list[SessionLine]) -> None:
        """Show these sessions."""
        self.beginResetModel()
        self.lines = lines
        self.endResetModel()

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
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        share = f"{round(100 * line.judged / line.shots)} %" if line.shots else "–"
        return (
            line.title,
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
    """Lists, makes, imports, exports and deletes sessions; `opened` brings the one to review."""

    opened = pyqtSignal(str)

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        self.actions_book = ActionRegistry(self, ACTIONS, workspace.settings.get("keys"))
        self.actions_book.bind(
            {
                "new": self.new_session,
                "import": self._choose_import,
                "export": self._choose_export,
                "film": self.choose_film,
                "delete": self._delete,
                "review_chosen": self._review,
            }
        )
        self.model = SessionModel(self)
        self.table = self._table()
        for name in ("review_chosen", "delete"):
            self.actions_book.keep_to(name, self.table)
        self._stack = QStackedWidget()
        self._empty = EmptyState(workspace.theme, self)
        self._stack.addWidget(self._empty)
        rows = QVBoxLayout()
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
        workspace.document.changed.connect(self._follow)
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
        self._buttons: dict[str, QPushButton] = {}
        for spec in ACTIONS:
            button = QPushButton(f"{spec.text}   {spec.hint}")
            button.setToolTip(self.actions_book[spec.id].toolTip())
            button.setProperty("main", spec.id == "new")
            button.setAutoDefault(False)
            button.clicked.connect(lambda _checked=False, name=spec.id: self.actions_book[name].trigger())
            self._buttons[spec.id] = button
            row.addWidget(button)
        return band

    def _table(self) -> QTableView:
        table = plain_table(self._workspace.theme, "Sessions of the library", self.model, row_px=34)
        header = header_of(table)
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        table.doubleClicked.connect(lambda _index: self._review())
        return table

    # The list

    def refresh(self) -> None:
        """Read the list anew, the chosen session kept."""
        chosen = self.chosen
        try:
            lines = self._workspace.library.sessions()
        except LibraryError as error:
            self._workspace.messages.say(str(error), "bad")
            return
        self.model.show_lines(lines)
        self._stack.setCurrentIndex(1 if lines else 0)
        shots = sum(line.shots for line in lines)
        name = self._workspace.library.path.name
        self._about.setText(f"{count(len(lines), 'session')}, {count(shots, 'shot')} in {name}")
        for button in ("export", "film", "delete", "review_chosen"):
            self._buttons[button].setEnabled(bool(lines))
        set_property(self._buttons["new"], "main", bool(lines))  # one accent a screen
        if lines:
            self.choose(chosen or lines[0].key)

    def take_focus(self) -> None:
        """Put the focus where the work is: on the list, or on the way to begin."""
        if self.model.lines:
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

    def _follow(self, _change: Changed) -> None:
        # While it is not looked at, the list is read once, when it is shown again.
        if self.isVisible():
            self.refresh()

    # What can be done

    def new_session(self) -> None:
        """Ask for a new session and review it."""
        met = [line.players for line in self._workspace.library.sessions()]
        dialog = NewSessionDialog(self._workspace.settings, self._workspace.background, met, self)
        if dialog.exec():
            session = dialog.session()
            if self._run(add_session(session)):
                self.opened.emit(session.id)

    def import_file(self, path: Path) -> str | None:
        """Read a session file into the library; the key of the session when it is there."""
        messages = self._workspace.messages
        try:
            session = load_session(path)
        except SessionFileError as error:
            messages.say(str(error), "bad")
            return None
        if is_newer(session):
            messages.say(f"{path.name} was written by a newer Ripasso; what this one does not know is kept.")
        there = self._workspace.document.session(session.id)
        if there is None:
            command = add_session(session)
        elif serialize(there.session) == serialize(session):
            messages.say(f"{session.title} is in the library already, and equal.", "good")
            return session.id
        else:
            answer = self._ask_about(there.session, session)
            if answer == "replace":
                command = replace_session(there, session)
            elif answer == "both":
                session = session.model_copy(update={"id": new_key(), "title": f"{session.title} (2)"})
                command = add_session(session)
            else:
                return None
        if not self._run(command):
            return None
        messages.say(f"{session.title} is in the library.", "good")
        self.refresh()
        self.choose(session.id)
        return session.id

    def _ask_about(self, there: Session, new: Session) -> str:
        """Which of two versions shall stay."""
        question = QMessageBox(self)
        question.setWindowTitle("Import")
        question.setText(f"“{there.title}” is in the library already, and the file differs.")
        question.setInformativeText(f"Library: {_size(there)}.\nFile: {_size(new)}.")
        replace = question.addButton("Replace it", QMessageBox.ButtonRole.AcceptRole)
        both = question.addButton("Keep both", QMessageBox.ButtonRole.ActionRole)
        question.addButton("Leave it", QMessageBox.ButtonRole.RejectRole)
        question.exec()
        clicked = question.clickedButton()
        if clicked is replace:
            return "replace"
        return "both" if clicked is both else ""

    def export_file(self, path: Path) -> None:
        """Write the chosen session to a file."""
        snapshot = self._workspace.document.session(self.chosen or "")
        if snapshot is None:
            return
        try:
            save_session(snapshot.session, path)
        except SessionFileError as error:
            self._workspace.messages.say(str(error), "bad")
        else:
            self._workspace.messages.say(f"{snapshot.head.title} is written to {path.name}.", "good")

    def choose_film(self) -> None:
        """Choose the film of the chosen session, a moved one too."""
        folder = self._workspace.settings.get("last_folder")
        path = choose_file(self, "Choose the film", folder, FILM_FILTER)
        if path:
            self._workspace.settings.set("last_folder", str(Path(path).parent))
            self.attach_film(self.chosen or "", Path(path))

    def attach_film(self, key: str, path: Path) -> None:
        """Put a film to a session in place of the one it had; its marks stay."""
        self._workspace.messages.say(f"{path.name} is looked through.")
        self._workspace.background.run(lambda: recording_of(path), partial(self._take_film, key, path))

    def _take_film(self, key: str, path: Path, found: Recording) -> None:
        snapshot, film = self._workspace.document.session(key), serialize(found)
        if snapshot is None:
            return
        recordings = [serialize(recording) for recording in snapshot.head.recordings or ()]
        place = next((i for i, r in enumerate(recordings) if r.get("file")), len(recordings))
        kept = recordings[place] if place < len(recordings) else {}
        recordings[place : place + 1] = [{**kept, **film, "id": kept.get("id", film["id"])}]
        values: dict[ValuePath, object] = {("recordings",): recordings}
        if self._run(set_values(snapshot, "session", key, values, "Choose the film")):
            self._workspace.messages.say(f"{path.name} is the film of {snapshot.head.title}.", "good")

    def fill_demo(self) -> None:
        """Put the demo's sessions into the library."""
        from ripasso.demo.library import fill  # wanted once at the most

        try:
            fill(self._workspace.document)
        except (LibraryError, ReadOnly) as error:
            self._workspace.messages.say(str(error), "bad")
        self.refresh()

    def _choose_import(self) -> None:
        folder = self._workspace.settings.get("last_folder")
        path = choose_file(self, "Import a session", folder, SESSION_FILTER)
        if path:
            self._workspace.settings.set("last_folder", str(Path(path).parent))
            self.import_file(Path(path))

    def _choose_export(self) -> None:
        key = self.chosen
        snapshot = self._workspace.document.session(key) if key else None
        if snapshot is None:
            return
        folder = self._workspace.settings.get("last_folder")
        name = "".join(c if c.isalnum() or c in " -" else "" for c in snapshot.head.title).strip()
        suggested = f"{name.replace(' ', '-').lower() or 'session'}{SUFFIX}"
        path = choose_file(self, "Export the session", folder, SESSION_FILTER, save=suggested)
        if path:
            self.export_file(Path(path))

    def _delete(self) -> None:
        key = self.chosen
        snapshot = self._workspace.document.session(key) if key else None
        if snapshot is None:
            return
        question = QMessageBox(self)
        question.setWindowTitle("Delete a session")
        question.setText(f"Delete “{snapshot.head.title}” with {count(len(snapshot.shots), 'shot')}?")
        question.setInformativeText("Ctrl+Z brings it back until the window is closed.")
        delete = question.addButton("Delete", QMessageBox.ButtonRole.DestructiveRole)
        keep = question.addButton("Keep it", QMessageBox.ButtonRole.RejectRole)
        question.setDefaultButton(keep)
        question.exec()
        if question.clickedButton() is delete:
            self._run(remove_session(snapshot))

    def _review(self) -> None:
        if self.chosen is not None:
            self.opened.emit(self.chosen)

    def _run(self, command: Command) -> bool:
        try:
            self._workspace.document.run(command)
        except (LibraryError, ReadOnly) as error:
            self._workspace.messages.say(str(error), "bad")
            return False
        return True


def _size(session: Session) -> str:
    racks = session.racks or ()
    shots = sum(len(rack.shots or ()) for rack in racks)
    return f"{count(shots, 'shot')} in {count(len(racks), 'rack')}, {session.date or 'no date'}"


class EmptyState(QWidget):
    """What belongs here, and the ways to begin."""

    def __init__(self, theme: Theme, page: SessionsPage) -> None:
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
            ("Begin a session   Ctrl N", True, page.new_session),
            ("Look at the demo", False, page.fill_demo),
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
