"""Starts the window: the one place where the application and its workspace are built."""

from __future__ import annotations

import gc
import sys
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from platformdirs import user_config_path, user_data_path, user_state_path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from ripasso.demo.matches.scenario import FILM_ID, SESSION_IDS
from ripasso.store.errors import DamagedLibrary, LibraryError
from ripasso.ui.services.log_file import begin_log
from ripasso.ui.window import MainWindow
from ripasso.ui.workspace import Workspace, build_workspace

if TYPE_CHECKING:
    from ripasso.store.file.backups import Backup

NAME = "ripasso"


def default_library() -> Path:
    """Where the library is when none is named."""
    return user_data_path(NAME) / "library.ripasso"


def demo_library() -> Path:
    """Where the demo's library is: apart from the user's own."""
    return user_data_path(NAME) / "demo.ripasso"


def settings_path() -> Path:
    """Where the program remembers its user's choices."""
    return user_config_path(NAME) / "settings.json"


def application() -> QApplication:
    """The running application, made when there is none."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    app = QApplication(sys.argv[:1])
    app.setApplicationName("Ripasso")
    return app


def build_window(workspace: Workspace, *, demo: bool = False) -> MainWindow:
    """A dressed window on a workspace; with `demo` the library holds the demo."""
    workspace.theme.apply(application())
    if demo and not workspace.read_only:
        _fill_with_demo(workspace)
    return MainWindow(workspace)


def _fill_with_demo(workspace: Workspace) -> None:
    """Put the demo into the library; where it is there already, nothing of it is read."""
    if not set(SESSION_IDS) <= {line.key for line in workspace.session_lines()}:
        from ripasso.demo.library import fill

        fill(workspace.document)


def shown_window(workspace: Workspace, *, demo: bool = False) -> MainWindow:
    """The window on a workspace, on screen at once; with `demo` the demo's rack follows when it is loaded."""
    window = build_window(workspace, demo=demo)
    if demo:
        window.open_soon(FILM_ID)
    window.show()
    return window


def run(library: Path | None, session: Path | None, *, demo: bool = False) -> int:
    """Open the window and stay until it is closed; returns the exit code.

    A damaged library is repaired where the user wants it; one that goes back to a backup is opened again.
    """
    gc.disable()  # until the window is seen; it has a collector of its own
    app = application()
    begin_log(user_state_path(NAME))
    path = library or (demo_library() if demo else default_library())
    notice: str | None = None
    while True:
        try:
            workspace = build_workspace(path, settings_path())
        except DamagedLibrary as error:
            notice = _repaired(path, error)
            if notice is None:
                return 2
            continue
        except LibraryError as error:
            return _refused(error)
        window = _opened(workspace, demo=demo, notice=notice)
        if session is not None:
            QTimer.singleShot(0, partial(window.files.import_session, session))
        code = app.exec()
        if window.going_back_to is None:
            return code
        session, path = None, workspace.path  # it may be kept elsewhere by now
        notice = _restored(path, window.going_back_to)


def _opened(workspace: Workspace, *, demo: bool, notice: str | None) -> MainWindow:
    """The window on screen, with what is to be said at once."""
    workspace.messages.catch_all()
    if notice is not None:
        workspace.messages.say(notice, "good")
    elif demo and not workspace.settings.get("tour_offered"):
        workspace.settings.set("tour_offered", True)
        workspace.messages.say("New here? Ctrl ⇧ T shows you round in eight steps; F1 is the guide.", "good")
    return shown_window(workspace, demo=demo)


def _repaired(path: Path, error: DamagedLibrary) -> str | None:
    """The sentence of what was done to a damaged library; None: nothing, and why is told."""
    from ripasso.ui.recovery import repaired

    try:
        done = repaired(path, error)
    except LibraryError as further:
        error = DamagedLibrary(str(further))
        done = None
    if done is None:
        _refused(error)
    return done


def _restored(path: Path, backup: Backup) -> str:
    """The sentence of what was done, or why it could not be; the library is as it was then."""
    from ripasso.ui.recovery import restored

    try:
        return restored(path, backup)
    except LibraryError as error:
        return str(error)


def _refused(error: LibraryError) -> int:
    sys.stderr.write(f"ripasso: {error}\n")
    return 2
