"""In whose words the window speaks: the language of its texts, and of the lines that are typed."""

from __future__ import annotations

from ripasso.review.language.items import Manner
from ripasso.review.language.terms import Tradition
from ripasso.review.language.translation import tr

_LANGUAGES: dict[Tradition, str] = {"british": "en_GB", "american": "en_US"}


def set_tradition(tradition: Tradition) -> None:
    """Speak so from now on; what is shown already changes when it is shown anew."""
    tr.use(_LANGUAGES[tradition])


def tradition() -> Tradition:
    """The tradition in use."""
    return "american" if tr.language == _LANGUAGES["american"] else "british"


def manner(game: str | None) -> Manner:
    """The words in use, for a game."""
    return Manner(tradition(), game)
