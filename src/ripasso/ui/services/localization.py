"""In whose words the window speaks. A program has one language at a time, so it is one value, set at start.

Whatever shows a text asks `said`; nothing that is stored does.
"""

from __future__ import annotations

from ripasso.review.language.dialect import spoken
from ripasso.review.language.items import Manner
from ripasso.review.language.terms import Tradition

_now: list[Tradition] = ["british"]


def speak(tradition: Tradition) -> None:
    """Speak so from now on; what is shown already changes when it is shown anew."""
    _now[0] = tradition


def tradition() -> Tradition:
    """The tradition in use."""
    return _now[0]


def said(text: str) -> str:
    """A text in the words in use."""
    return spoken(text, _now[0])


def manner(game: str | None) -> Manner:
    """The words in use, for a game."""
    return Manner(_now[0], game)
