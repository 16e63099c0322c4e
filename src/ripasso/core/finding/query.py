"""Reads a search line: `field:value` terms, joined by space (and), `or`, `-` (not), brackets; bare words.

Values: words as in the session file, `a,b` for either, `15-30` for a range with both its ends, `<0.5`,
`>=3`, `none` where nothing is recorded; in quotes where there are spaces. Dates: `2026-11`, `>=2026-10-01`,
`2026-09..2026-10-15`.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Protocol

from ripasso.core.finding.limits import DEEPEST, too_long


class NotAQuery(ValueError):
    """The line cannot be read; the message is one sentence."""


class Compared(Protocol):
    """A field, as far as reading a line needs it: only numbers and days have an order."""

    @property
    def kind(self) -> str: ...


@dataclass(frozen=True)
class Range:
    """Numbers from `low` to `high`; an end of None is open. `low_open`: `low` itself does not belong."""

    low: float | None = None
    high: float | None = None
    low_open: bool = False
    high_open: bool = False


@dataclass(frozen=True)
class Days:
    """Dates from `first` to `last`, each a year, a month or a day ("2026", "2026-11", "2026-11-07").

    An end of None is open. `first_open`: what begins so does not belong.
    """

    first: str | None = None
    last: str | None = None
    first_open: bool = False
    last_open: bool = False

    def holds(self, date: str) -> bool:
        """Whether a date belongs; a session without one never does."""
        if not date:
            return False
        if self.first is not None:
            own = date[: len(self.first)]
            if own < self.first or (self.first_open and own == self.first):
                return False
        if self.last is not None:
            own = date[: len(self.last)]
            return own < self.last or (not self.last_open and own == self.last)
        return True


Value = str | Range | Days | None


@dataclass(frozen=True)
class Term:
    """A field that has one of these values; text in small letters, None for nothing recorded."""

    field: str
    values: tuple[Value, ...]


@dataclass(frozen=True)
class Word:
    """A bare word, found in names and notes."""

    text: str


@dataclass(frozen=True)
class Not:
    part: Query


@dataclass(frozen=True)
class And:
    parts: tuple[Query, ...]


@dataclass(frozen=True)
class Or:
    parts: tuple[Query, ...]


Query = Term | Word | Not | And | Or

_TOKEN = re.compile(r'\s*(?:([()])|(-)(?=[^\s])|((?:[\w.]+:)?(?:"[^"]*"|[^\s()"]+)+))')
_NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)"
_RANGE = re.compile(rf"^({_NUMBER})-({_NUMBER})$")
_BOUND = re.compile(rf"^(<=|>=|<|>)({_NUMBER})$")
_DAY = r"\d{4}(?:-\d\d(?:-\d\d)?)?"
_DAYS = re.compile(rf"^({_DAY})?\.\.({_DAY})?$")
_DAY_BOUND = re.compile(rf"^(<=|>=|<|>)({_DAY})$")


def parse_query(text: str, fields: Mapping[str, Compared]) -> Query | None:
    """What a line asks for; None for an empty line, which asks for everything. Raises `NotAQuery`."""
    wrong = too_long(text, text.split())
    if wrong is not None:
        raise NotAQuery(wrong)
    tokens = _tokens(text)
    if not tokens:
        return None
    reader = _Reader(tokens, fields)
    query = reader.either()
    if reader.place < len(tokens):
        raise NotAQuery("A bracket is closed that was never opened.")
    return query


def _tokens(text: str) -> list[str]:
    if text.count('"') % 2:
        raise NotAQuery("A quotation mark is not closed.")
    tokens, place = [], 0
    while place < len(text.rstrip()):
        match = _TOKEN.match(text, place)
        if match is None:
            raise NotAQuery(f"“{text[place:].strip()}” cannot be read.")
        tokens.append(match[1] or match[2] or match[3])
        place = match.end()
    return tokens


class _Reader:
    def __init__(self, tokens: list[str], fields: Mapping[str, Compared]) -> None:
        self._tokens, self._fields, self.place = tokens, fields, 0
        self._deep = 0

    def _peek(self) -> str | None:
        return self._tokens[self.place] if self.place < len(self._tokens) else None

    def either(self) -> Query:
        parts = [self._all()]
        while (token := self._peek()) is not None and token.casefold() == "or":
            self.place += 1
            parts.append(self._all())
        return parts[0] if len(parts) == 1 else Or(tuple(parts))

    def _all(self) -> Query:
        parts = []
        while (token := self._peek()) is not None and token != ")" and token.casefold() != "or":
            if token.casefold() == "and":
                self.place += 1
                continue
            parts.append(self._one())
        if not parts:
            raise NotAQuery("Something is missing beside “or”, or between brackets.")
        return parts[0] if len(parts) == 1 else And(tuple(parts))

    def _one(self) -> Query:
        token = self._tokens[self.place]
        self.place += 1
        if token not in {"-", "("}:
            return self._term(token)
        self._deep += 1
        if self._deep > DEEPEST:
            raise NotAQuery(f"More than {DEEPEST} brackets stand in each other.")
        inner = self._unwanted() if token == "-" else self._bracketed()
        self._deep -= 1
        return inner

    def _unwanted(self) -> Query:
        if self._peek() is None:
            raise NotAQuery("After “-” stands what is not wanted, without a space.")
        return Not(self._one())

    def _bracketed(self) -> Query:
        inner = self.either()
        if self._peek() != ")":
            raise NotAQuery("A bracket is not closed.")
        self.place += 1
        return inner

    def _term(self, token: str) -> Query:
        name, colon, value = token.partition(":")
        if not colon or token.startswith('"'):
            return Word(token.replace('"', "").casefold())
        name = name.casefold()
        if name not in self._fields:
            near = get_close_matches(name, list(self._fields), n=1, cutoff=0.5)
            hint = f"; did you mean “{near[0]}”?" if near else "."
            raise NotAQuery(f"There is no field “{name}”{hint}")
        if not value:
            raise NotAQuery(f"After “{name}:” a value is missing.")
        return Term(name, tuple(_value(part, self._fields[name].kind) for part in _parts(value)))


def _parts(value: str) -> list[str]:
    """The values between commas; a comma in quotes belongs to its value."""
    return [part for part in re.findall(r'"[^"]*"|[^,]+', value) if part]


def _value(text: str, kind: str) -> Value:
    if text.startswith('"'):
        return text.replace('"', "").casefold()
    if text.casefold() == "none":
        return None
    if kind == "day":
        return _days(text)
    if kind != "number":
        if text[0] in "<>":
            raise NotAQuery(f"“{text}” asks for an order, and this field has none.")
        return text.casefold()
    if match := _RANGE.match(text):
        low, high = sorted((float(match[1]), float(match[2])))
        return Range(low, high)
    if match := _BOUND.match(text):
        sign, number = match[1], float(match[2])
        if sign[0] == "<":
            return Range(high=number, high_open=sign == "<")
        return Range(low=number, low_open=sign == ">")
    return text.casefold()


def _days(text: str) -> str | Days:
    """A part of a date, a bound, or a range of days with both its ends."""
    if (match := _DAYS.match(text)) and (match[1] or match[2]):
        ends = (match[1], match[2])
        first, last = sorted(ends) if all(ends) else ends
        return Days(first, last)
    if match := _DAY_BOUND.match(text):
        sign, day = match[1], match[2]
        if sign[0] == "<":
            return Days(last=day, last_open=sign == "<")
        return Days(first=day, first_open=sign == ">")
    if text[0] in "<>" or ".." in text:
        raise NotAQuery(f"“{text}” is no date: a year, a month or a day is meant, such as 2026-11-07.")
    return text.casefold()
