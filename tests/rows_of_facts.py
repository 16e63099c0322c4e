"""Facts from a few rows, each saying what it differs in."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import numpy as np

from ripasso.core.figures.facts import DTYPES, Facts
from ripasso.core.figures.schema import COLUMNS, unknown_of

#: Counts that are known to be none where nothing is said.
NONE = ("session", "rack", "number", "potted", "legal_balls")


def fact(**values: Any) -> SimpleNamespace:
    """A shot of which nothing is known but these values; KeyError for a column there is not."""
    strangers = set(values) - set(COLUMNS)
    if strangers:
        raise KeyError(*strangers)
    nothing = {name: 0 if name in NONE else unknown_of(column.kind) for name, column in COLUMNS.items()}
    return SimpleNamespace(**{**nothing, **values})


def facts(rows: Any) -> Facts:
    """The rows as columns."""
    rows = list(rows)
    columns = {
        name: np.array([getattr(row, name) for row in rows], dtype=DTYPES[column.kind])
        for name, column in COLUMNS.items()
    }
    return Facts.of_columns(columns, len(rows))
