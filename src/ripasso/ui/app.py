"""Starts the window: the one place where the application and its workspace are built."""

from __future__ import annotations

import gc
import sys
from pathlib import Path

from platformdirs import user_config_path, user_data_path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from ripasso.demo.matches.scenario import FILM_ID, SESSION_IDS
from ripasso.store.errors import LibraryError
from ripasso.ui.window import MainWindow
from ripasso.ui.workspace import Workspace, build_workspace

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
    """Open the window and stay until it is closed; returns the exit code."""
    gc.disable()  # until the window is seen; it has a collector of its own
    app = application()
    path = library or (demo_library() if demo else default_library())
    try:
        workspace = build_workspace(path, settings_path())
        workspace.messages.catch_all()
        window = shown_window(workspace, demo=demo)
    except LibraryError as error:
        sys.stderr.write(f"ripasso: {error}\n")
        return 2
    if session is not None:
        QTimer.singleShot(0, lambda: window.import_file(session))
    return app.exec()
