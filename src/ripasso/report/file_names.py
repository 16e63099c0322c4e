"""What is said becomes a part of a file's name."""

from __future__ import annotations

import re

LONGEST = 60


def file_part(text: str, otherwise: str) -> str:
    """A text in letters, digits and hyphens; `otherwise` where nothing of it is left."""
    return re.sub(r"\W+", "-", text.casefold()).strip("-")[:LONGEST] or otherwise
