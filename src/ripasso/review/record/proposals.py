"""Proposals: values the program found and nobody has accepted. They are shown as such and count in no figure.

A shot's `proposed` maps JSON pointers inside the shot (RFC 6901) to a confidence. Saying a value, or taking
it away, settles it; what was proposed beside it stays proposed.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any

from pydantic import ValidationError

from ripasso.core.json_data import JsonMapping
from ripasso.review.record.model import Shot, serialize

Path = tuple[str | int, ...]
OUTCOME: Path = ("facts", "potted")
#: No shot is without it, so that it is no proposal whatever a file says.
NUMBER = ("number",)


def pointer(path: Path) -> str:
    """The JSON pointer of a path, such as "/facts/potted"."""
    return "".join("/" + str(part).replace("~", "~0").replace("/", "~1") for part in path)


def parts_of(text: str) -> tuple[str, ...]:
    """The parts of a JSON pointer; places in a list stay text, as a pointer cannot tell them from keys."""
    return tuple(part.replace("~1", "/").replace("~0", "~") for part in text.split("/")[1:])


def is_proposed(shot: Shot, path: Path) -> bool:
    """Whether the value at a path, something inside it, or something around it is a proposal."""
    wanted = tuple(str(part) for part in path)
    return any(_one_holds_the_other(parts_of(text), wanted) for text in shot.proposed or ())


def _one_holds_the_other(first: tuple[str, ...], second: tuple[str, ...]) -> bool:
    shared = min(len(first), len(second))
    return first[:shared] == second[:shared]


def without_proposals(shot: Shot) -> Shot:
    """The shot without its proposals: what was said by a person."""
    if not shot.proposed:
        return shot
    data = serialize(shot)
    del data["proposed"]
    # The last place of a list first, so that those before it keep their numbers.
    proposed = [parts for parts in map(parts_of, shot.proposed) if parts and parts != NUMBER]
    for parts in sorted(proposed, reverse=True):
        _drop(data, parts)
    try:
        return Shot.model_validate_json(json.dumps(data))
    except ValidationError:
        # A proposal inside an object that cannot be without it: the whole of it goes.
        bare = {key: value for key, value in serialize(shot).items() if key != "proposed"}
        for parts in proposed:
            bare.pop(parts[0], None)
        return Shot.model_validate_json(json.dumps(bare))


def _drop(data: Any, parts: tuple[str, ...]) -> None:
    """Take the value at a pointer away, and the objects it leaves empty; nothing there is no error."""
    key, rest = parts[0], parts[1:]
    if isinstance(data, list):
        place = int(key) if key.isascii() and key.isdigit() and len(key) < 10 else len(data)
        if place >= len(data):
            return
        if rest:
            _drop(data[place], rest)
        else:
            del data[place]
    elif isinstance(data, dict) and key in data:
        if rest:
            _drop(data[key], rest)
        if not rest or data[key] == {}:
            del data[key]


def still_proposed(shot: Shot, said: Iterable[Path]) -> dict[str, float]:
    """What stays proposed of a shot when somebody says the values at these paths."""
    left = {text: float(share) for text, share in (shot.proposed or {}).items()}
    for path in said:
        wanted = tuple(str(part) for part in path)
        for text in list(left):
            parts = parts_of(text)
            if not _one_holds_the_other(parts, wanted):
                continue
            share = left.pop(text)
            if len(parts) < len(wanted):
                left |= dict.fromkeys(_beside(serialize(shot), parts, wanted), share)
    return left


def _beside(data: JsonMapping, around: tuple[str, ...], said: tuple[str, ...]) -> list[str]:
    """The pointers that cover a proposal apart from the value inside it that was said."""
    here: Any = data
    for part in around:
        here = here.get(part) if isinstance(here, dict) else None
    found: list[str] = []
    for depth in range(len(around), len(said)):
        if not isinstance(here, dict):
            break
        found += [pointer((*said[:depth], key)) for key in here if key != said[depth]]
        here = here.get(said[depth])
    return found
