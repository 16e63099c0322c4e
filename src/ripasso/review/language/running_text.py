"""Running text, as the user guide's, in the words and the spelling of the language in use.

The texts of controls have catalogues (`translation`); a guide of many pages is written once, in British
words, and American ones stand in their place when it is shown. Code, links and pictures stay as they are.
"""

from __future__ import annotations

import re

AMERICAN = "en_US"
#: British beginnings, words and endings with American ones: spelling, then the words of the trade.
_SPELLED = (
    ("metre", "meter"),
    ("colour", "color"),
    ("centre", "center"),
    ("grey", "gray"),
    ("favourite", "favorite"),
    ("neighbour", "neighbor"),
    ("judgement", "judgment"),
    ("licence", "license"),
    ("practise", "practice"),
)
_SAID = (
    ("the white", "the cue ball"),
    ("cushions", "rails"),
    ("cushion", "rail"),
    ("potted", "pocketed"),
    ("potting", "pocketing"),
    ("pots", "shots"),
    ("pot", "shot"),
    ("screw", "draw"),
    ("in-off", "scratch"),
    ("cannons", "caroms"),
    ("cannon", "carom"),
)
#: Code, the address of a link or a picture, and the word of a record.
_KEPT = re.compile(r"(`[^`]*`|\]\([^)]*\)|intent pot\b)")


def in_words(text: str, language: str) -> str:
    """A text in Markdown, or a phrase of it, in the words of a language (a key of `LANGUAGES`)."""
    if language != AMERICAN:
        return text
    return "".join(part if _KEPT.fullmatch(part) else _american(part) for part in _KEPT.split(text))


def _american(text: str) -> str:
    for british, american in _SPELLED:
        text = _exchanged(british, american, text)
    for british, american in _SAID:
        text = _exchanged(rf"\b{british}\b", american, text)
    return text


def _exchanged(pattern: str, new: str, text: str) -> str:
    """`new` for every place of a pattern, with a capital where there was one."""

    def put(found: re.Match[str]) -> str:
        return new.capitalize() if found[0][0].isupper() else new

    return re.sub(pattern, put, text, flags=re.IGNORECASE)
