"""A window in a process of its own that types a note letter by letter: it is killed while it does.

Each line of its output is what has been typed so far.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from ripasso.review.document.edits import add_session
from ripasso.ui.app import build_window
from ripasso.ui.workspace import build_workspace
from tests.sessions import played, rack_of, session
from tests.windows import press, write


def main(library: str, text: str) -> None:
    with tempfile.TemporaryDirectory() as folder:
        workspace = build_workspace(Path(library), Path(folder) / "settings.json")
        window = build_window(workspace)
        if workspace.document.session("test") is None:
            workspace.document.run(add_session(session(racks=[rack_of(played("a", "1"))])))
        window.open_session("test")
        window.show()
        press("N")
        for end, letter in enumerate(text, start=1):
            write(letter)
            sys.stdout.write(f"{text[:end]}\n")
            sys.stdout.flush()


if __name__ == "__main__":
    main(*sys.argv[1:])
