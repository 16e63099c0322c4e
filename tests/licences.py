"""What goes along with the program, and under which licence: `python -m tests.licences FILE`."""

from __future__ import annotations

import importlib.metadata
import sys
from collections.abc import Iterator
from pathlib import Path

from tests.test_wheel import closure, declared

HEAD = """# Licences

What goes along with Ripasso, which is free software itself (GPL-3.0-or-later, LICENSE). Written by
`make licences` from what the packages say of themselves.

| package | licence |
|---|---|
"""
SHIPPED = """
Shipped in the program: the font Inter (SIL Open Font License 1.1, `ripasso/style/fonts/LICENSE`) and icons of
the lucide set (ISC, `ripasso/ui/resources/icons/LICENSE`). Its own icon, the film and all matches of the demo
are the project's.
"""
#: A text of a licence stands where a name should: it is told by its first line.
LONGEST = 60


def licence_of(name: str) -> str:
    """The licence that a package states, shortly."""
    told = importlib.metadata.metadata(name)
    expression = told.get("License-Expression") or ""
    classifiers = [
        line.rpartition("::")[2].strip()
        for line in told.get_all("Classifier") or ()
        if line.startswith("License ::") and "OSI Approved" not in line.rpartition("::")[2]
    ]
    words = (told.get("License") or "").strip().splitlines()
    short = words[0].strip() if words else ""
    return (
        expression or "; ".join(classifiers) or (short if len(short) <= LONGEST else "") or "see the package"
    )


def lines() -> Iterator[str]:
    """A line a package that the program needs, with all that these need."""
    for name in sorted(closure(declared())):
        yield f"| {name} | {licence_of(name)} |"


def document() -> str:
    """The whole document."""
    return HEAD + "\n".join(lines()) + "\n" + SHIPPED


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(document(), encoding="utf-8")
