"""How long a line that somebody types may be; a file or a slip of the clipboard can be any length."""

from __future__ import annotations

from collections.abc import Iterable

LONGEST_LINE, LONGEST_WORD, DEEPEST = 5000, 200, 50


def too_long(line: str, words: Iterable[str]) -> str | None:
    """The sentence for a line that nobody typed, None for one that can be read."""
    if len(line) > LONGEST_LINE:
        return f"The line is too long: {LONGEST_LINE} characters can be read."
    if any(len(word) > LONGEST_WORD for word in words):
        return f"A word of more than {LONGEST_WORD} letters cannot be understood."
    return None
