"""Text to a session record, or every problem with its JSON path in plain words."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from ripasso.core.json_data import JsonObject
from ripasso.review.record.model import FORMAT, VERSION, Record, Session

#: The reds of a full frame, and more racks or points than anybody plays for.
MOST_REDS, MOST_POINTS = 15, 100_000


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
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InvalidSession([Problem("$.version", "should be a whole number from 1")])
    try:
        session = Session.model_validate_json(text)
    except ValidationError as error:
        raise InvalidSession(_problems(error, data)) from None
    wrong = [*_identifiers_used_twice(session), *_rules_that_cannot_be(session)]
    if wrong:
        raise InvalidSession(wrong)
    return session


def is_newer(session: Session) -> bool:
    """True when the file was written by a later version of the format."""
    return session.version > VERSION


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
    for item in error.errors(include_url=False, include_context=False):
        path = _json_path(item["loc"], data, missing=item["type"] == "missing")
        text = item["msg"].removeprefix("Input ").removeprefix("Value error, ")
        if item["type"] == "int_type" and item["loc"][-1] == "int":
            text = "should be a number"
        found.setdefault(path, Problem(path, text[:1].lower() + text[1:]))
    # Where one of several types fits part of the way, only its own, deeper complaint helps.
    above = {path[:end] for path in found for end in _ends_of_parts(path)}
    return [problem for path, problem in found.items() if path not in above]


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
            path, here = f"{path}.{part}", here[part]
        elif missing and i == len(parts) - 1:
            path = f"{path}.{part}"
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
