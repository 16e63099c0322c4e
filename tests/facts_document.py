"""`make facts`: docs/facts.md, every column of facts from the one schema."""

from __future__ import annotations

import sys
from collections.abc import Iterator, Sequence
from pathlib import Path

from ripasso.core.figures.schema import DERIVED, MEASURES, RECORD, SESSION, Column

PARTS: Sequence[tuple[str, Sequence[Column]]] = (
    ("From the record: the table `shot_figure` of the library", RECORD),
    ("Measured: the table `shot_measure`", MEASURES),
    ("From both", DERIVED),
    ("Of the session", SESSION),
)
HEAD = """# The facts of a shot

What figures, questions and searches read of a shot, one column each; `make facts` writes this page from the
schema (`core/figures/schema.py`). Not known is an empty text, −1 for counts and answers (yes 1, no 0), NaN
for numbers (−1 in `shot_figure`, null in `shot_measure`). Several `words` stand in a text, apart by spaces.
"""


def document() -> str:
    """The whole page."""
    return "\n".join([HEAD, *(line for title, columns in PARTS for line in _part(title, columns))])


def _part(title: str, columns: Sequence[Column]) -> Iterator[str]:
    yield f"## {title}\n"
    yield "| column | in the library | kind | meaning |"
    yield "| --- | --- | --- | --- |"
    for column in columns:
        stored = f"`{column.stored}`" if column.stored and column.stored != column.name else ""
        meaning = f"{column.meaning} ({column.unit})" if column.unit else column.meaning
        yield f"| `{column.name}` | {stored} | {column.kind} | {meaning} |"
    yield ""


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(document(), encoding="utf-8")
