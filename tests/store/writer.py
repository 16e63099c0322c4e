"""Windowless writers that are killed while they work: each prints every command once it is stored.

The program is taken in once; each line of the input starts a process of its own. It prints its number before
its commands, and "gone" follows its end.
"""

from __future__ import annotations

import os
import sys
from pathlib import Path

from ripasso.review.document import edits
from ripasso.review.document.document import Document
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import open_library
from tests.sessions import played, rack_of, session


def write(path: str) -> None:
    """Store one command after the other, for ever."""
    document = Document(open_library(Path(path)), derived_rows)
    if document.session("test") is None:
        document.run(edits.add_session(session(racks=[rack_of(*[played("a", "2")] * 40)])))
    number = 0
    print(os.getpid(), flush=True)
    while True:
        number += 1
        snapshot = document.session("test")
        # Every shot of the rack gets the number: the command is whole only if all forty have it.
        note = {("note",): str(number)}
        commands = [edits.set_values(snapshot, "shot", shot.key, note, "n") for shot in snapshot.shots]
        document.run(edits.several("all", commands))
        print(number, flush=True)


def main(path: str) -> None:
    for _ in sys.stdin:
        writer = os.fork()
        if writer == 0:
            write(path)
        os.waitpid(writer, 0)
        print("gone", flush=True)


if __name__ == "__main__":
    main(sys.argv[1])
