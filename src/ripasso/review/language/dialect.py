"""British and American words: any text of the program, said in one of the two traditions.

Texts are written once, in plain trade words; `spoken` exchanges those that differ. Stored values are never
touched. To add a pair: a line in `PAIRS`, longer phrases before the shorter ones in them.
"""

from __future__ import annotations

import re
from functools import lru_cache

from ripasso.review.language.terms import Tradition

#: As written, American, British.
PAIRS: tuple[tuple[str, str, str], ...] = (
    (
        "cue ball potted or off the table",
        "cue ball pocketed or off the table",
        "white potted or off the table",
    ),
    ("cue ball potted", "cue ball pocketed", "white potted"),
    ("cue balls", "cue balls", "whites"),
    ("cue ball", "cue ball", "white"),
    ("missed pots", "missed shots", "missed pots"),
    ("missed pot", "missed shot", "missed pot"),
    ("best pot", "best shot", "best pot"),
    ("next pot", "next shot", "next pot"),
    ("long pots", "long shots", "long pots"),
    ("long pot", "long shot", "long pot"),
    ("direct pot", "direct shot", "direct pot"),
    ("the pot", "the shot", "the pot"),
    ("a pot", "a shot", "a pot"),
    ("as a pot", "as a shot", "as a pot"),
    ("pots it", "pockets it", "pots it"),
    ("pot success", "pocketing", "pot success"),
    ("pots", "pocketing", "pots"),
    ("potted", "pocketed", "potted"),
    ("potting", "pocketing", "potting"),
    ("pot", "shot", "pot"),
    ("head cushion", "head rail", "baulk cushion"),
    ("foot cushion", "foot rail", "top cushion"),
    ("cushions", "rails", "cushions"),
    ("cushion", "rail", "cushion"),
    ("rails", "rails", "cushions"),
    ("rail", "rail", "cushion"),
    ("head string", "head string", "baulk line"),
    ("head left", "head left", "baulk left"),
    ("head right", "head right", "baulk right"),
    ("side left pocket", "side left pocket", "middle left pocket"),
    ("side right pocket", "side right pocket", "middle right pocket"),
    ("side left", "side left", "middle left"),
    ("side right", "side right", "middle right"),
    ("side pockets", "side pockets", "middle pockets"),
    ("side pocket", "side pocket", "middle pocket"),
    ("middle left", "side left", "middle left"),
    ("middle right", "side right", "middle right"),
    ("break and run", "break and run", "clearance from the break"),
    ("run-outs", "run-outs", "clearances"),
    ("run-out", "run-out", "clearance"),
    ("scratched", "scratched", "went in-off"),
    ("scratch", "scratch", "in-off"),
    ("in-off", "scratch", "in-off"),
)
_AS_WRITTEN = {written: (american, british) for written, american, british in PAIRS}
_PATTERN = re.compile(
    r"(?<![\w-])("
    + "|".join(re.escape(w) for w in sorted(_AS_WRITTEN, key=len, reverse=True))
    + r")(?![\w-])",
    re.IGNORECASE,
)


@lru_cache(maxsize=4096)
def spoken(text: str, tradition: Tradition) -> str:
    """A text in the words of a tradition; a capital first letter stays one."""

    def said(match: re.Match[str]) -> str:
        found = match[0]
        american, british = _AS_WRITTEN[found.casefold()]
        word = american if tradition == "american" else british
        return word[:1].upper() + word[1:] if found[:1].isupper() else word

    return _PATTERN.sub(said, text)
