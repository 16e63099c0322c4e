"""Where the simulator's machine code is kept, and whether it is there: asked without loading a compiler."""

from __future__ import annotations

import hashlib
import os
from functools import cache
from pathlib import Path

#: The file that says that everything is there.
READY = "ready"
#: Where what is compiled stands.
SOURCES = ("physics", "planning/backward")


@cache
def compiled_folder() -> Path:
    """A folder in the user's cache, named for the text of all sources that are compiled."""
    digest = hashlib.blake2b(digest_size=8)
    for folder in SOURCES:
        for path in sorted((Path(__file__).parent / folder).glob("*.py")):
            digest.update(path.read_bytes())
    home = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache")
    return home / "ripasso" / "compiled" / digest.hexdigest()


def is_compiled() -> bool:
    """Whether the simulator can be used without waiting for the compiler."""
    return (compiled_folder() / READY).exists()
