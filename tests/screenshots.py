"""Pictures of the main views, from the demo library: `python -m tests.screenshots FOLDER`."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from PyQt6.QtTest import QTest

from ripasso.ui.app import application, build_window
from ripasso.ui.workspace import build_workspace

SIZE = (1280, 800)
SETTLE_MS = 1200


def main(folder: Path) -> None:
    """Take every picture anew."""
    app = application()
    with tempfile.TemporaryDirectory() as place:
        window = build_window(build_workspace(Path(place) / "demo.ripasso", None), demo=True)
        window.resize(*SIZE)
        window.show()
        QTest.qWait(SETTLE_MS)

        def take(name: str) -> None:
            QTest.qWait(SETTLE_MS)
            window.grab().save(str(folder / f"{name}.png"))

        for _ in range(9):
            window.review.actions_book["shot_next"].trigger()
        take("review")
        window.open_session("demo-winter-ladder")
        for _ in range(3):
            window.review.actions_book["rack_next"].trigger()
        take("review-without-film")
        window.show_page("sessions")
        take("sessions")
        window.show_page("statistics")
        take("statistics")
        window.close()
    del app


if __name__ == "__main__":
    main(Path(sys.argv[1]))
