"""Pictures of the main views, from the demo library: `python -m tests.screenshots FOLDER`."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from PyQt6.QtTest import QTest

from ripasso.demo.library import film_path
from ripasso.demo.scenario import CASIMIR, LIOBA
from ripasso.review.edits import add_session
from ripasso.review.model import Session
from ripasso.ui.app import application, build_window
from ripasso.ui.review.table_dialog import TableDialog
from ripasso.ui.review.view_dialog import open_view_dialog
from ripasso.ui.sessions.new_session import NewSessionDialog
from ripasso.ui.window import MainWindow
from ripasso.ui.workspace import Workspace, build_workspace

SIZE = (1280, 800)
SETTLE_MS = 1200


def main(folder: Path) -> None:
    """Take every picture anew."""
    app = application()
    with tempfile.TemporaryDirectory() as place:
        workspace = build_workspace(Path(place) / "demo.ripasso", None)
        window = build_window(workspace, demo=True)
        window.resize(*SIZE)
        window.show()
        QTest.qWait(SETTLE_MS)

        def take(name: str) -> None:
            QTest.qWait(SETTLE_MS)
            window.grab().save(str(folder / f"{name}.png"))

        review = window.review
        for _ in range(9):
            review.actions_book["shot_next"].trigger()
        take("review")
        review.actions_book["shot_next"].trigger()
        review.actions_book["to_rest"].trigger()
        take("review-layers")
        review.table_work.picture(1280).save(str(folder / "diagram.png"))
        for name, dialog in (
            ("film-view", open_view_dialog(review.parts)),
            ("table-editor", TableDialog(review.parts.theme, review.desk, review)),
        ):
            dialog.show()
            QTest.qWait(SETTLE_MS)
            dialog.grab().save(str(folder / f"{name}.png"))
            dialog.close()
        _reading(workspace, window)
        take("review-reading")
        window.review.reading.put_away()
        window.open_session("demo-winter-ladder")
        for _ in range(3):
            window.review.actions_book["rack_next"].trigger()
        take("review-without-film")
        window.review.actions_book["match"].trigger()
        take("match-page")
        window.open_session("demo-snooker")
        for _ in range(24):
            window.review.actions_book["shot_next"].trigger()
        take("review-snooker")
        window.open_session("demo-eight")
        for _ in range(9):
            window.review.actions_book["shot_next"].trigger()
        take("review-eight-ball")
        window.show_page("sessions")
        take("sessions")
        dialog = NewSessionDialog(workspace.settings, (), window)
        dialog.show()
        QTest.qWait(SETTLE_MS)
        dialog.grab().save(str(folder / "new-session.png"))
        dialog.close()
        window.show_page("statistics")
        take("statistics")
        window.close()
    del app


def _reading(workspace: Workspace, window: MainWindow) -> None:
    """The demo film while it is being read, without anything said of it."""
    recordings = [{"id": "film", "file": str(film_path())}]
    head = {"id": "reading", "title": "A film without marks", "kind": "practice", "game": "nine_ball"}
    players = [LIOBA, CASIMIR]
    made = {"format": "ripasso-session", "version": 1, **head, "players": players, "recordings": recordings}
    workspace.document.run(add_session(Session.model_validate_json(json.dumps(made))))
    window.open_session("reading")
    QTest.qWait(SETTLE_MS)
    window.review.actions_book["read_film"].trigger()
    while len(window.review.desk.snapshot.shots) < 4:
        QTest.qWait(SETTLE_MS)
    window.review.desk.choose(window.review.desk.snapshot.shots[2].key)
    window.review.actions_book["to_strike"].trigger()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
