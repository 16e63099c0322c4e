"""A windowless writer that is killed while it works: it prints every command once it is stored."""

from __future__ import annotations

import sys
from pathlib import Path

from ripasso.review import edits
from ripasso.review.document import Document
from ripasso.store import open_library
from tests.sessions import played, rack_of, session


def main(path: str) -> None:
    document = Document(open_library(Path(path)))
    if document.session("test") is None:
        document.run(edits.add_session(session(racks=[rack_of(*[played("a", "2")] * 40)])))
    number = 0
    print("ready", flush=True)
    while True:
        number += 1
        snapshot = document.session("test")
        # Every shot of the rack gets the number: the command is whole only if all forty have it.
        commands = []
        for shot in snapshot.shots:
            commands.append(edits.set_values(snapshot, "shot", shot.key, {("note",): str(number)}, "n"))
        document.run(edits.several("all", commands))
        print(number, flush=True)


if __name__ == "__main__":
    main(sys.argv[1])
