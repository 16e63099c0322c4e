"""Reads a line of words: the longest phrase that is known counts, in either tradition.

What is not understood is an error with a sentence: which word, and the nearest that would be understood.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from fractions import Fraction
from typing import Any

from ripasso.core.finding.limits import too_long
from ripasso.review.language.items import (
    Ball,
    ColourMeant,
    Elevation,
    Feathers,
    Fell,
    FreeTag,
    HitFirst,
    Into,
    Item,
    Judge,
    Next,
    OrNext,
    PacePercent,
    Predicted,
    Root,
    System,
    TagWord,
    Tip,
    Wanted,
    Word,
)
from ripasso.review.language.terms import (
    ANGLE_FORMS,
    BALLS,
    POCKETS,
    TAG_FORMS,
    TERMS,
    TWO_MEANINGS,
)


class NotAWord(ValueError):
    """A word is not understood; the message is one sentence with the nearest that would be."""


#: How a special phrase is written, for the key sheet and for completion.
SPECIALS: Mapping[str, str] = {
    "next": "next 6, next 6 side left: the ball played for",
    "or": "or 7: another ball played for as well",
    "hit": "hit 5 first: the ball that was hit first",
    "fell": "fell 7, fell 7 foot left: a ball that fell besides",
    "meant": "meant blue: the colour position was played for",
    "root": "root 3: the shot that caused it",
    "tip": "tip 1 right 1/2 low, tip middle: in widths of the tip",
    "at": "at 60 %: the pace, of the hardest stroke",
    "raised": "raised 20: the cue raised by so many degrees",
    "feathers": "feathers 4: how often the cue went back and forth",
    "system": "system plus: how a bank or an escape was aimed",
    "expected": "expected ada bank 6 side left then 7 off 1 cushion: expected before the strike",
    "says": "says ada: whose judgement this is",
}


def _table() -> dict[tuple[str, ...], Item]:
    found: dict[tuple[str, ...], Item] = {}
    for term in TERMS:
        for form in term.forms:
            found[tuple(form.casefold().split())] = Word(term.id)
    for name, (american, british) in TAG_FORMS.items():
        for form in (*american, *british):
            found[tuple(form.split())] = TagWord(name)
    for pocket, forms in POCKETS.items():
        for form in forms:
            found[tuple(form.split())] = Into(pocket)
    for angle, forms in ANGLE_FORMS.items():
        for form in forms:
            found[tuple(form.split())] = Wanted(angle)
    for ball in BALLS:
        found[ball,] = Ball(ball)
    return found


PHRASES: Mapping[tuple[str, ...], Item] = _table()
_LONGEST = max(len(phrase) for phrase in PHRASES)


@dataclass
class _Line:
    words: list[str]
    place: int = 0

    @property
    def ended(self) -> bool:
        return self.place >= len(self.words)

    def peek(self, ahead: int = 0) -> str:
        place = self.place + ahead
        return self.words[place] if place < len(self.words) else ""

    def take(self) -> str:
        word = self.peek()
        self.place += 1
        return word


def split(text: str) -> list[str]:
    """The words of a line in small letters; commas and semicolons only part them."""
    return re.sub(r"[,;]+", " ", text).casefold().split()


def parse(text: str) -> tuple[Item, ...]:
    """What a line says, in its order. Raises `NotAWord`."""
    words = split(text)
    wrong = too_long(text, words)
    if wrong is not None:
        raise NotAWord(wrong)
    line, items = _Line(words), []
    while not line.ended:
        items.append(_item(line))
    return tuple(items)


def _item(line: _Line) -> Item:
    word = line.peek()
    if word.startswith("#"):
        if len(word) < 2:
            raise NotAWord("A tag of your own follows # without a space: #opening.")
        line.take()
        return FreeTag(word[1:])
    found, length = _longest(line)
    special = _SPECIAL.get(word)
    if special is not None and length <= 1:
        line.take()
        return special(line)
    if found is None:
        raise NotAWord(_explained(word, line.peek(1)))
    line.place += length
    return found


def _longest(line: _Line) -> tuple[Item | None, int]:
    for length in range(min(_LONGEST, len(line.words) - line.place), 0, -1):
        phrase = tuple(line.words[line.place : line.place + length])
        if phrase in PHRASES:
            return PHRASES[phrase], length
    return None, 0


def _explained(word: str, after: str) -> str:
    if word in TWO_MEANINGS:
        return f"“{word}” alone means two things: {TWO_MEANINGS[word]}."
    both = f"{word} {after}".strip()
    # A word that is right so far, with a wrong one after it, says more than two that only look alike.
    near = _begun(both) or _begun(word) or nearest(both) or nearest(word)
    help_line = f"; did you mean “{near}”?" if near else "; F1 lists the words."
    return f"“{word}” is not understood{help_line}"


def nearest(text: str) -> str | None:
    """The phrase nearest to what was typed, None where nothing is near."""
    return _begun(text) or next(iter(get_close_matches(text, _known(), n=1, cutoff=0.6)), None)


def _known() -> list[str]:
    return [" ".join(phrase) for phrase in PHRASES] + list(SPECIALS)


def _begun(text: str) -> str | None:
    """The shortest phrase that begins so, None where none does."""
    return min((phrase for phrase in _known() if phrase.startswith(text)), key=len, default=None)


def completions(text: str, most: int = 8) -> list[str]:
    """Phrases that what is typed last could become, the shortest first."""
    if not text or text[-1] in ", ;":
        return []
    words = split(text)
    for length in range(min(_LONGEST, len(words)), 0, -1):
        begun = " ".join(words[-length:])
        known = [" ".join(p) for p in PHRASES if p[0] not in BALLS] + list(SPECIALS)
        found = sorted((p for p in known if p.startswith(begun) and p != begun), key=lambda p: (len(p), p))
        if found:
            return found[:most]
    return []


# Special phrases


def _ball(line: _Line, after: str) -> str:
    word = line.take()
    if word not in BALLS:
        said = f"“{word}” is no ball" if word else "a ball is missing"
        raise NotAWord(f"After “{after}” {said}; say it so: {SPECIALS[after]}.")
    return word


def _pocket(line: _Line) -> str | None:
    found, length = _longest(line)
    if not isinstance(found, Into):
        return None
    line.place += length
    return found.pocket


def _hit(line: _Line) -> Item:
    ball = _ball(line, "hit")
    if line.take() != "first":
        raise NotAWord(f"Say it so: {SPECIALS['hit']}.")
    return HitFirst(ball)


def _root(line: _Line) -> Item:
    word = line.take()
    if not word.isdecimal() or int(word) < 1:
        raise NotAWord(f"After “root” the number of a shot is missing; say it so: {SPECIALS['root']}.")
    return Root(int(word))


def _tip(line: _Line) -> Item:
    if line.peek() in ("middle", "centre", "center"):
        line.take()
        return Tip(0.0, 0.0)
    right = up = 0.0
    told = False
    while _number(line.peek()) is not None and line.peek(1) in ("right", "left", "high", "low"):
        amount = _number(line.take()) or 0.0
        where = line.take()
        told = True
        if where in ("right", "left"):
            right = amount if where == "right" else -amount
        else:
            up = amount if where == "high" else -amount
    if not told:
        raise NotAWord(f"Say it so: {SPECIALS['tip']}.")
    return Tip(right, up)


def _number(word: str) -> float | None:
    try:
        return float(Fraction(word))
    except (ValueError, ZeroDivisionError):
        return None


def _amount(line: _Line, after: str, most: float) -> float:
    """A number from 0 to `most`; raises `NotAWord`."""
    word = line.take()
    number = _number(word.rstrip("%°"))
    if number is None or not 0 <= number <= most:
        raise NotAWord(f"After “{after}” a number up to {most:g} is missing; say it so: {SPECIALS[after]}.")
    if line.peek() in ("%", "°", "degrees", "percent"):
        line.take()
    return number


def _system(line: _Line) -> Item:
    name = line.take()
    if not name:
        raise NotAWord(f"A name is missing; say it so: {SPECIALS['system']}.")
    return System(name)


_CUSHIONS = ("cushion", "cushions", "rail", "rails")


def _expected(line: _Line) -> Item:
    """A name, then any of: a kind of shot, a ball, a pocket, "then" and a ball, "off 2 cushions"."""
    name, said = line.take(), dict[str, Any]()
    while name and not line.ended:
        found, length = _longest(line)
        if line.peek() == "then" and "next_ball" not in said:
            line.take()
            said["next_ball"] = _ball(line, "expected")
            continue
        if line.peek() == "off" and line.peek(1).isdecimal() and line.peek(2) in _CUSHIONS:
            said["cushions"] = int(line.peek(1)[:3])
            line.place += 3
            continue
        match found:
            case Ball(ball) if "ball" not in said:
                said["ball"] = ball
            case Into(pocket) if "ball" in said and "pocket" not in said:
                said["pocket"] = pocket
            case Word(term) if term.startswith(("intent.", "methods.")) and "kind" not in said:
                said["kind"] = term.partition(".")[2]
            case _:
                break
        line.place += length
    if not said:
        raise NotAWord(f"Who expected what? Say it so: {SPECIALS['expected']}.")
    return Predicted(name, **said)


def _says(line: _Line) -> Item:
    name = line.take()
    if not name:
        raise NotAWord(f"A name is missing; say it so: {SPECIALS['says']}.")
    return Judge(name)


_SPECIAL: Mapping[str, Callable[[_Line], Item]] = {
    "next": lambda line: Next(_ball(line, "next"), _pocket(line)),
    "or": lambda line: OrNext(_ball(line, "or")),
    "hit": _hit,
    "fell": lambda line: Fell(_ball(line, "fell"), _pocket(line)),
    "meant": lambda line: ColourMeant(_ball(line, "meant")),
    "root": _root,
    "tip": _tip,
    "at": lambda line: PacePercent(_amount(line, "at", 100)),
    "raised": lambda line: Elevation(_amount(line, "raised", 90)),
    "feathers": lambda line: Feathers(int(_amount(line, "feathers", 99))),
    "system": _system,
    "expected": _expected,
    "says": _says,
}


def understood(text: str) -> tuple[Sequence[Item], str | None]:
    """What a line says so far, and the sentence on its first word that is not understood."""
    words = split(text)
    wrong = too_long(text, words)
    if wrong is not None:
        return [], wrong
    line, items = _Line(words), []
    while not line.ended:
        try:
            items.append(_item(line))
        except NotAWord as error:
            return items, str(error)
    return items, None
