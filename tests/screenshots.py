"""Pictures of the main views, from the demo library: `python -m tests.screenshots FOLDER`."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from PyQt6.QtTest import QTest

from ripasso.ui.app import application, build_window
from ripasso.ui.review.table_dialog import TableDialog
from ripasso.ui.review.view_dialog import open_view_dialog
from ripasso.ui.sessions.new_session import NewSessionDialog
from ripasso.ui.workspace import build_workspace

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


if __name__ == "__main__":
    main(Path(sys.argv[1]))
