"""The window: a side bar, the workspaces that exist, and the one line for messages. It only composes."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QSize, Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QIcon
from PyQt6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QSizePolicy,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.store.errors import LibraryError
from ripasso.ui.actions import ActionRegistry, ActionSpec
from ripasso.ui.pages import Pages
from ripasso.ui.services.collector import IdleCollector
from ripasso.ui.sessions.incoming import IncomingFiles, Under
from ripasso.ui.sessions.page import SessionsPage
from ripasso.ui.widgets.basics import label, run_dialog
from ripasso.ui.widgets.message_line import MessageLine
from ripasso.ui.workspace import Workspace, load_document_packages, load_service_packages

if TYPE_CHECKING:
    from ripasso.review.document.document import Document
    from ripasso.store.file.backups import Backup
    from ripasso.ui.plan.page import PlanPage
    from ripasso.ui.practice.page import PracticePage
    from ripasso.ui.report.page import ReportPageView
    from ripasso.ui.review.page.page import ReviewPage
    from ripasso.ui.statistics.page import StatisticsPage

#: What can wait begins this long after the window was built: its first picture is on screen by then.
SETTLE_MS = 100
ACTIONS = (
    ActionSpec("sessions", "Sessions", ("Ctrl+1",), "Window"),
    ActionSpec("review", "Review", ("Ctrl+2",), "Window"),
    ActionSpec("plan", "Plan", ("Ctrl+3",), "Window", "what a stroke would do, and what else there was"),
    ActionSpec("practice", "Practice", ("Ctrl+4",), "Window", "what is due, played on purpose and counted"),
    ActionSpec("statistics", "Statistics", ("Ctrl+5",), "Window"),
    ActionSpec("report", "Report", ("Ctrl+6",), "Window", "pages for a player, as PDF, HTML and tables"),
    ActionSpec("undo", "Undo", ("Ctrl+Z",), "Window", "undo, at any depth"),
    ActionSpec("redo", "Redo", ("Ctrl+Shift+Z", "Ctrl+Y"), "Window"),
    ActionSpec("history", "History", ("Ctrl+Shift+H",), "Window", "every change; go back to any"),
    ActionSpec("full_screen", "Full screen", ("Alt+Return",), "Window", "fill the screen, and back"),
    ActionSpec("keys", "Help", ("F1",), "Window", "the guide, the sheet of keys, the words and the glossary"),
    ActionSpec("tour", "Tour", ("Ctrl+Shift+T",), "Window", "the workspaces in eight steps"),
    ActionSpec("find_action", "Find an action", ("Ctrl+Space",), "Window", "every action by its words"),
    ActionSpec("backups", "Backups", ("Ctrl+Shift+B",), "Window", "go back to a copy of the library"),
    ActionSpec("settings", "Settings", ("Ctrl+,",), "Window", "words, colours, text size, your name"),
)
ICONS = {
    "sessions": "library",
    "review": "clapperboard",
    "plan": "route",
    "practice": "target",
    "statistics": "chart-column",
    "report": "report",
}


def _application() -> QApplication:
    running = QApplication.instance()
    assert isinstance(running, QApplication)
    return running


class MainWindow(QMainWindow):
    """Built from a workspace; closing it closes the workspace."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self._workspace = workspace
        self.setWindowTitle(f"Ripasso – {workspace.path.stem}")
        self._closed = False
        #: The backup that the library shall be when the window is closed.
        self.going_back_to: Backup | None = None
        workspace.place_asker = self._ask_place
        #: The session that is reviewed as soon as that is possible, and the page that says so until then.
        self._opening: tuple[str, QWidget | None] = "", None
        self._leave: list[Callable[[], None]] = []
        self._stop_following: Callable[[], None] = lambda: None
        self._collector = IdleCollector(self)
        under = Under(lambda: self.reviewed, self.open_session, self._refresh_review)
        self.files = IncomingFiles(self, lambda: self.sessions, under)
        workspace.when_document(self._follow)
        self._build()
        workspace.messages.said.connect(self._say)
        workspace.messages.open()
        QTimer.singleShot(SETTLE_MS, self._settle)
        self.show_page("sessions")
        self.resize(1280, 800)
        self.setMinimumSize(960, 620)

    def _settle(self) -> None:
        """What can wait until the window is seen."""
        if self._closed:
            return
        self._collector.start()
        self._workspace.lasting.run(load_document_packages, lambda _loaded: self._open_first())

    def _open_first(self) -> None:
        if self._closed:
            return
        session, page = self._opening
        if page is not None and page is self._stack.currentWidget():
            self.open_session(session)
            page.deleteLater()
        self._opening = "", None
        self._workspace.lasting.run(load_service_packages, lambda _loaded: self._begin_work())

    def _begin_work(self) -> None:
        """What goes on in the background while the window is open."""
        from ripasso.ui.services.simulator import compile_ahead

        if not self._closed:
            self._workspace.back_up()
            self._workspace.renewal.begin()
            self._workspace.measuring.begin()
            self._workspace.read_ahead()
            compile_ahead()

    def _follow(self, document: Document) -> None:
        self._stop_following = document.changed.connect(lambda _change: self._kept())

    def _kept(self) -> None:
        """A change is stored already when it is told of."""
        self._collector.busy()
        self.message.show_kept(datetime.now())

    def _mark(self, document: Document) -> None:
        """Whoever listens from now on belongs to the pages, and leaves with them."""
        self._leave = [notice.mark() for notice in (document.changed, self._workspace.measuring.measured)]

    def _build(self) -> None:
        """The pages and what is around them, in the words, colours and keys chosen."""
        workspace = self._workspace
        workspace.when_document(self._mark)
        self._stack = QStackedWidget()
        self._pages = Pages(workspace, self._stack, self)
        self.sessions = self._pages.add("sessions", SessionsPage(workspace))
        self.actions_book = ActionRegistry(self, ACTIONS, workspace.settings.get("keys"))
        self.actions_book.bind(
            {
                **{name: partial(self.show_page, name) for name in ICONS},
                "undo": self._undo,
                "redo": self._redo,
                "full_screen": self._full_screen,
                "keys": self.show_keys,
                "history": lambda: self._pages.show_history(self),
                "tour": lambda: self._pages.show_round(self),
                "find_action": lambda: self._pages.find_action(self.actions_book, self),
                "settings": self.show_settings,
                "backups": self._choose_backup,
            }
        )
        self.message = MessageLine()
        self._compose()
        self.sessions.opened.connect(self._pages.open_chosen)

    @property
    def review(self) -> ReviewPage:
        """The page of Review."""
        return self._pages.review

    @property
    def statistics(self) -> StatisticsPage:
        """The page of Statistics."""
        return self._pages.statistics

    @property
    def plan(self) -> PlanPage:
        """The page of Plan."""
        return self._pages.plan

    @property
    def practice(self) -> PracticePage:
        """The page of Practice."""
        return self._pages.practice

    @property
    def report(self) -> ReportPageView:
        """The page of Report."""
        return self._pages.report

    def rebuild(self) -> None:
        """Build the pages anew, as after another choice of words, colours or keys; what is in hand stays."""
        shown = self._stack.currentWidget()
        page = next((name for name, page in self._pages.made.items() if page is shown), "sessions")
        in_hand = None
        if "review" in self._pages.made:
            controller = self.review.controller
            in_hand = (controller.snapshot.key, controller.shot_key) if controller.snapshot else None
            self.review.close_film()
        self._workspace.background.forget_all()
        _ = self._workspace.document  # with it is made what has to leave
        for leave in self._leave:
            leave()
        self.actions_book.withdraw()
        for old in self._pages.made.values():
            old.deleteLater()
        self._workspace.theme.apply(_application())
        self._build()
        if in_hand is not None:
            self.review.open(*in_hand)
        if shown is self._opening[1]:
            self.open_soon(self._opening[0])
        else:
            self.show_page(page)

    def _compose(self) -> None:
        side = self._side = QFrame()
        side.setObjectName("side")
        side.setFixedWidth(self._workspace.theme.px(76))
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 12, 0, 8)
        column.setSpacing(2)
        self._buttons = QButtonGroup(self)
        for name, icon in ICONS.items():
            button = self._side_button(name, icon)
            button.setCheckable(True)
            self._buttons.addButton(button)
            column.addWidget(button)
        column.addStretch(1)
        column.addWidget(self._side_button("settings", "sliders-horizontal"))
        column.addWidget(self._side_button("keys", "keyboard"))
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        right.addWidget(self._stack, 1)
        foot = QHBoxLayout()
        foot.setContentsMargins(0, 0, 12, 4)
        foot.addWidget(self.message)
        right.addLayout(foot)
        whole = QWidget()
        whole.setObjectName("page")
        row = QHBoxLayout(whole)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(side)
        row.addLayout(right, 1)
        self.setCentralWidget(whole)

    def _side_button(self, name: str, icon: str) -> QToolButton:
        return _side_button(
            self.actions_book.spec(name),
            self.actions_book[name],
            self._workspace.theme.icon(icon, "side_ink"),
        )

    def show_page(self, name: str) -> None:
        """Show a workspace."""
        self._stack.setCurrentWidget(getattr(self, name))
        for button in self._buttons.buttons():
            button.setChecked(button.objectName() == f"side_{name}")
        if name == "sessions":
            self.sessions.refresh()
            self.sessions.take_focus()
        elif name in ("plan", "practice", "statistics", "report"):
            getattr(self, name).take_focus()
        else:
            self.review.refresh()
            self.review.setFocus()

    def open_soon(self, session: str) -> None:
        """Review a session as soon as the window is seen and what Review needs is loaded."""
        page = QWidget()
        self._opening = session, page
        page.setObjectName("page")
        words = QVBoxLayout(page)
        words.addWidget(label("Review is opened", "caption"), 0, Qt.AlignmentFlag.AlignCenter)
        self._stack.addWidget(page)
        self._stack.setCurrentWidget(page)

    def open_session(self, session: str, shot: str | None = None) -> None:
        """Review a session, at a shot or at its first."""
        try:
            self.review.open(session, shot)
        except LibraryError as error:
            self._workspace.messages.say(str(error), "bad")
            return
        self.show_page("review")

    def play_shots(self, shots: list[str]) -> None:
        """The shots behind a figure, as one film in Review."""
        self.show_page("review")
        self.review.finding.play_shots(shots)

    def _undo(self) -> None:
        self.review.controller.undo()

    def _redo(self) -> None:
        self.review.controller.redo()

    def show_keys(self) -> None:
        """Show the sheet of keys."""
        # The sheet and the lists of actions it reads are not needed for the first picture.
        from ripasso.ui.all_actions import every_action
        from ripasso.ui.help.key_sheet import ask_keys

        if ask_keys(self._workspace.theme, self._workspace.settings, every_action(ACTIONS), self):
            self.rebuild()

    def show_settings(self) -> None:
        """Ask for words, colours, text size and the reviewer's name; the window follows at once."""
        from ripasso.ui.settings_dialog import SettingsDialog, choose

        dialog = SettingsDialog(self._workspace.settings, self.actions_book.spec("backups").hint, self)
        if not run_dialog(dialog):
            return
        choose(self._workspace)
        self.rebuild()
        if dialog.wants_backups:
            self._choose_backup()

    @property
    def reviewed(self) -> str | None:
        """The session that is seen under review."""
        page = self._pages.made.get("review")
        if page is None or page is not self._stack.currentWidget():
            return None
        snapshot = self.review.controller.snapshot
        return snapshot.key if snapshot is not None else None

    def _refresh_review(self) -> None:
        self.review.refresh()

    def _full_screen(self) -> None:
        """The window that is worked in fills the screen, and back; this one then without its side bar."""
        window = _application().activeWindow() or self
        window.setWindowState(window.windowState() ^ Qt.WindowState.WindowFullScreen)

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.WindowStateChange:
            self._side.setVisible(not self.isFullScreen())

    def _ask_place(self, sentence: str) -> Path | None:
        """Where the library shall be kept that is not at its place any more; None: not now."""
        from ripasso.ui.recovery import ask_place

        place = ask_place(self, sentence, self._workspace.path.name)
        if place is not None:
            self._workspace.messages.say(f"The library is kept at {place} from now on.", "good")
            self.setWindowTitle(f"Ripasso – {place.stem}")
        return place

    def _choose_backup(self) -> None:
        """Ask for a backup; the library becomes it when the window has been closed."""
        from ripasso.ui.recovery import BackupsDialog

        dialog = BackupsDialog(self._workspace.path, self)
        if run_dialog(dialog) and dialog.chosen is not None:
            self.going_back_to = dialog.chosen
            self.close()

    def _say(self, sentence: str, tone: str, details: str) -> None:
        self.message.show_sentence(sentence, tone, details)

    def _leaves_a_note(self) -> bool:
        """A note that was typed cannot be stored, and its writer stays."""
        if "review" not in self._pages.made:
            return False
        self.review.slip.note.clearFocus()  # a note that is being typed is kept
        if self.review.slip.is_note_kept:
            return False
        from ripasso.ui.recovery import stays_for

        return stays_for(self, self.review.slip.note.text(), self.message.text())

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if not self._closed and self._leaves_a_note():
            if event is not None:
                event.ignore()
            self.going_back_to = None
            return
        self._closed = True
        if "review" in self._pages.made:
            self.review.close_film()
        self._collector.stop()
        self._stop_following()
        self._workspace.close()
        super().closeEvent(event)


def _side_button(spec: ActionSpec, action: QAction, icon: QIcon) -> QToolButton:
    """A button of the side bar: its icon, its words, its key."""
    button = QToolButton()
    button.setObjectName(f"side_{spec.id}")
    button.setText(f"{spec.text}\n{spec.hint}")
    button.setIcon(icon)
    button.setIconSize(QSize(22, 22))
    button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
    button.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
    button.setAccessibleName(f"{spec.text}, key {spec.hint}")
    button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    button.clicked.connect(lambda _checked=False: action.trigger())
    return button
