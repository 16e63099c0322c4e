"""The demo's sessions with their layouts, as they ship with the program.

`python -m ripasso.demo.matches.sessions FOLDER` writes them again (some seconds); a test compares.
"""

from __future__ import annotations

import gzip
import json
import sys
from functools import cache
from importlib.resources import files
from pathlib import Path

from ripasso.review.record.model import Session, serialize

FILE = "sessions.json.gz"
#: The evening on which shots were played again.
GHOST_ID = "demo-ghost"


def generated() -> tuple[Session, ...]:
    """Every session, written anew: one of each game, then the long match."""
    from ripasso.demo.matches.games import PLANS, game_session
    from ripasso.demo.matches.match import long_match

    return tuple(written(one) for one in (*map(game_session, PLANS), long_match()))


def written(session: Session) -> Session:
    """A generated session with its layouts, and with what its analyst said."""
    from ripasso.demo.matches.layouts import with_layouts
    from ripasso.demo.matches.practice import with_attempts
    from ripasso.demo.matches.said import with_words

    whole = with_words(with_layouts(session))
    return with_attempts(whole) if whole.id == GHOST_ID else whole


@cache
def shipped() -> tuple[Session, ...]:
    """The same, read from the file that ships."""
    packed = (files("ripasso.demo") / "data" / FILE).read_bytes()
    sessions = json.loads(gzip.decompress(packed))
    return tuple(Session.model_validate_json(json.dumps(data)) for data in sessions)


def main(folder: str) -> None:
    """Write the file into a folder."""
    text = json.dumps([serialize(session) for session in generated()], separators=(",", ":"))
    (Path(folder) / FILE).write_bytes(gzip.compress(text.encode(), mtime=0))


if __name__ == "__main__":
    main(sys.argv[1])
