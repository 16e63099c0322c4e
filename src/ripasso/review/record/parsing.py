"""Text to a session record, or every problem with its JSON path in plain words."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from ripasso.core.json_data import JsonObject
from ripasso.core.table import wrong_sizes
from ripasso.review.record.model import FORMAT, VERSION, Session
from ripasso.review.record.parts import Record
from ripasso.review.record.values import MOST_CORNERS, MOST_RECORDS, WHOLE_LIMIT

#: The reds of a full frame, and more racks or points than anybody plays for.
MOST_REDS, MOST_POINTS = 15, 100_000


#: Without a match in the text no value needs a second look; most files have none.
MAY_BE_UNFIT = re.compile(r"\d{16}|[eE]\+?\d{2}|NaN|Infinity|\\u[dD][89a-fA-F]|[\ud800-\udfff]")
HALF_A_CHARACTER = re.compile("[\ud800-\udfff]")
#: More shots than a season has, and more values than a film of such a session gives.
MOST_SHOTS, MOST_VALUES = 50_000, 2_000_000
#: How long the lists of a session may be that are told before each of their records is looked at.
_MOST: Mapping[str, int] = {
    **dict.fromkeys(("racks", "attempt_sets", "film_parts", "table_checks"), MOST_RECORDS),
    **dict.fromkeys(("players", "recordings", "stated"), MOST_CORNERS),
}
#: Letters of a key that a path shows.
LONGEST_KEY = 60
#: What the validator calls a value of the wrong kind, and one that is too large or too many.
KINDS_OF_NUMBER = ("int_type", "float_type")
TOO_MUCH = ("less_than_equal", "greater_than_equal", "less_than")


@dataclass(frozen=True, slots=True)
class Problem:
    """What is wrong, and where: `path` is a JSON path such as `$.racks[0].shots[3].player`."""

    path: str
    text: str

    def __str__(self) -> str:
        return f"{self.path}: {self.text}"


class UnreadableSession(ValueError):
    """The text is no session at all; the message is one sentence for the user."""


class InvalidSession(ValueError):
    """The text is a session with wrong values; `problems` lists them."""

    def __init__(self, problems: Sequence[Problem]) -> None:
        first = str(problems[0])
        more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
        super().__init__(f"{first}{more}")
        self.problems = tuple(problems)


def read_session(text: str | bytes) -> Session:
    """The session in a text; raises `UnreadableSession` or `InvalidSession`.

    A file of a newer version is read like this one's (unknown keys are kept); `is_newer` tells.
    """
    text = _decoded(text)
    data = _parse(text)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise UnreadableSession("It is not a Ripasso session.")
    too_many = list(_too_many(data))
    if not too_many and text.count("{") > MOST_RECORDS:
        too_many = list(_long_lists(data))
    if too_many:
        raise InvalidSession(too_many)
    unfit = list(unfit_values(data)) if MAY_BE_UNFIT.search(text) else []
    if unfit:
        raise InvalidSession([Problem(path, words) for path, words in unfit])
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InvalidSession([Problem("$.version", "should be a whole number from 1")])
    del data  # the largest session stands in memory once, not twice
    try:
        session = Session.model_validate_json(text)
    except ValidationError as error:
        raise InvalidSession(_problems(error, _parse(text))) from None
    wrong = [*_identifiers_used_twice(session), *_rules_that_cannot_be(session)]
    wrong += [Problem(f"$.table.{name}", text) for name, text in wrong_sizes(session.table or {})]
    if wrong:
        raise InvalidSession(wrong)
    return session


def read_json(text: str | bytes) -> Any:
    """The JSON of any file of ours, of a size and with values that can be worked with.

    Raises `UnreadableSession`, also for values that nothing can hold.
    """
    text = _decoded(text)
    data = _parse(text)
    unfit = next(unfit_values(data), None) if MAY_BE_UNFIT.search(text) else None
    if unfit is not None:
        raise UnreadableSession(f"{unfit[0]} {unfit[1]}.")
    return data


def is_newer(session: Session) -> bool:
    """True when the file was written by a later version of the format."""
    return session.version > VERSION


def _too_many(data: JsonObject) -> Iterator[Problem]:
    """Lists of records that nobody has, told before each of their records is looked at."""
    for name, most in _MOST.items():
        listed = data.get(name)
        if isinstance(listed, list) and len(listed) > most:
            yield Problem(f"$.{name}", f"should hold {most} at most")
            return
    for name, inner in (("racks", "shots"), ("attempt_sets", "attempts")):
        many = 0
        for place, one in enumerate(_list_of(data, name)):
            here = len(_list_of(one, inner))
            many += here
            if here > MOST_RECORDS or many > MOST_SHOTS:
                words = f"should hold {MOST_RECORDS} at most, all {MOST_SHOTS}"
                yield Problem(f"$.{name}[{place}].{inner}", words)
                return


def _long_lists(data: object) -> Iterator[Problem]:
    """The first list of records, wherever it stands, that is longer than anybody's."""
    waiting: list[tuple[object, str]] = [(data, "$")]
    while waiting:
        value, path = waiting.pop()
        if isinstance(value, dict):
            waiting += [(inner, below(path, key)) for key, inner in value.items()]
        elif isinstance(value, list) and value and isinstance(value[0], dict):
            if len(value) > MOST_RECORDS:
                yield Problem(path, f"should hold {MOST_RECORDS} at most")
                return
            waiting += [(inner, f"{path}[{place}]") for place, inner in enumerate(value)]


def _list_of(data: object, name: str) -> list[object]:
    """A list in an object; an empty one where there is none."""
    found = data.get(name) if isinstance(data, dict) else None
    return found if isinstance(found, list) else []


def _decoded(text: str | bytes) -> str:
    if isinstance(text, str):
        return text
    try:
        return text.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise UnreadableSession("It is not a text in UTF-8.") from None


def _parse(text: str) -> Any:
    if not text.strip():
        raise UnreadableSession("The file is empty.")
    if text.count(",") > MOST_VALUES:
        raise UnreadableSession(f"It holds more than {MOST_VALUES:,} values.")
    try:
        return json.loads(text)
    except json.JSONDecodeError as error:
        raise UnreadableSession(f"It is not valid JSON (line {error.lineno}: {error.msg}).") from None
    except RecursionError:
        raise UnreadableSession("It is nested too deeply.") from None
    except ValueError:  # Python reads no whole number of more than 4,300 digits
        raise UnreadableSession("It holds a number with thousands of digits.") from None


def _problems(error: ValidationError, data: object) -> list[Problem]:
    found: dict[str, Problem] = {}
    kinds: dict[str, str] = {}
    for item in error.errors(include_url=False, include_input=False):
        kind = item["type"]
        path = _json_path(item["loc"], data, missing=kind == "missing")
        # Of the complaints about one value, that about its size says more than that about its kind.
        if path not in kinds or (kinds[path] in KINDS_OF_NUMBER and kind in TOO_MUCH):
            kinds[path] = kind
            found[path] = Problem(path, _complaint(item))
    # Where one of several types fits part of the way, only its own, deeper complaint helps.
    above = {path[:end] for path in found for end in _ends_of_parts(path)}
    return [problem for path, problem in found.items() if path not in above]


def below(path: str, key: str) -> str:
    """The path of a key; one that nobody would read is cut short, so that a sentence stays one."""
    short = key if len(key) <= LONGEST_KEY else f"{key[:LONGEST_KEY]}…"
    return f"{path}.{''.join(sign if sign.isprintable() else '?' for sign in short)}"


def _complaint(item: Any) -> str:
    """What the validator says of a value, in our words where its own are those of a programmer."""
    kind, limits = item["type"], item.get("ctx") or {}
    if kind in KINDS_OF_NUMBER and str(item["loc"][-1]).endswith(("int", "float")):
        return "should be a number"
    if kind == "too_long":
        return f"should hold {limits['max_length']} at most"
    if kind == "string_too_short":
        return "should not be empty"
    if kind == "json_invalid":
        return "is nested too deeply, or no JSON"
    text = item["msg"].removeprefix("Input ").removeprefix("Value error, ")
    return str(text[:1].lower() + text[1:])


def unfit_values(data: object) -> Iterator[tuple[str, str]]:
    """Path and complaint of every value that not every reader of JSON can hold (RFC 8259, 6 and 8.2)."""
    waiting: list[tuple[str, object]] = [("$", data)]
    while waiting:
        path, value = waiting.pop()
        if isinstance(value, dict):
            if not all(map(_is_text, value)):
                yield path, "has a key that is no text"
            waiting += [(below(path, key), inner) for key, inner in reversed(value.items())]
        elif isinstance(value, list):
            waiting += [(f"{path}[{place}]", inner) for place, inner in reversed(list(enumerate(value)))]
        elif isinstance(value, float) and not math.isfinite(value):
            yield path, "should be a finite number"
        elif isinstance(value, int) and abs(value) >= WHOLE_LIMIT:
            yield path, "has more digits than every program can hold"
        elif isinstance(value, str) and not _is_text(value):
            yield path, "holds half a character"


def _is_text(value: str) -> bool:
    """False for a text with half of a pair of code units, which cannot be written anywhere."""
    return value.isascii() or not HALF_A_CHARACTER.search(value)


def _ends_of_parts(path: str) -> Iterable[int]:
    """Where the paths end that lead to a path."""
    return (place for place, sign in enumerate(path) if sign in ".[")


def _json_path(location: Iterable[int | str], data: Any, *, missing: bool) -> str:
    """The path of a problem; the validator's own words for alternatives of a type are left out."""
    path, here = "$", data
    parts = list(location)
    for i, part in enumerate(parts):
        if isinstance(part, int) and isinstance(here, list) and part < len(here):
            path, here = f"{path}[{part}]", here[part]
        elif isinstance(here, dict) and part in here:
            path, here = below(path, str(part)), here[part]
        elif missing and i == len(parts) - 1:
            path = below(path, str(part))
    return path


def _identifiers_used_twice(session: Session) -> Iterable[Problem]:
    def check(records: Sequence[Record] | None, path: str) -> Iterable[Problem]:
        seen: set[str] = set()
        for i, record in enumerate(records or ()):
            name = str(getattr(record, "id"))  # noqa: B009  (the three kinds share no base with an id)
            if name in seen:
                yield Problem(f"$.{path}[{i}].id", f"stands twice: {name!r}")
            seen.add(name)

    yield from check(session.players, "players")
    yield from check(session.recordings, "recordings")
    yield from check(session.attempt_sets, "attempt_sets")


def _rules_that_cannot_be(session: Session) -> Iterable[Problem]:
    """Numbers of a match that no table can hold, and that would be counted to."""
    reds = (session.rules or {}).get("reds")
    if isinstance(reds, int) and not 1 <= reds <= MOST_REDS:
        yield Problem("$.rules.reds", f"should be from 1 to {MOST_REDS}")
    for name in ("race_to", "target_points"):
        value = (session.rules or {}).get(name)
        if isinstance(value, int | float) and not 1 <= value <= MOST_POINTS:
            yield Problem(f"$.rules.{name}", f"should be from 1 to {MOST_POINTS}")


def session_schema() -> JsonObject:
    """The JSON Schema (draft 2020-12) of a session file, generated from the model."""
    schema = Session.model_json_schema(by_alias=True)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Ripasso session",
        **{key: value for key, value in schema.items() if key != "title"},
    }
