"""The demo's sessions with their layouts, as they ship with the program.

`python -m ripasso.demo.matches.sessions FOLDER` plays them again (some minutes). On another kind of processor
the last digits of the simulator differ, and with them whole racks: what ships is what was played once.
"""

from __future__ import annotations

import gzip
import json
import sys
from functools import cache
from importlib.resources import files
from pathlib import Path

from ripasso.demo.matches.plans import Plan
from ripasso.review.record.model import Session, serialize

FILE = "sessions.json.gz"
#: The evening on which shots were played again.
GHOST_ID = "demo-ghost"


def generated() -> tuple[Session, ...]:
    """Every session, played anew: one of each game, then the long match."""
    from ripasso.demo.matches.plans import PLANS

    return tuple(map(written, PLANS))


def written(plan: Plan) -> Session:
    """A session as it is played, with what its analyst said besides."""
    from ripasso.demo.matches.playing import played
    from ripasso.demo.matches.practice import with_attempts
    from ripasso.demo.matches.said import with_words

    whole = with_words(played(plan))
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
