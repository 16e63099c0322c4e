"""Damage to a text, to bytes and to JSON: the same for the same chance."""

from __future__ import annotations

import json
import random
from collections.abc import Callable, Iterator
from typing import Any

#: What should not be where it is put: the wrong kind, too large, too small, empty, or written to do harm.
ODD_VALUES: tuple[Any, ...] = (
    *(None, True, False, 0, -1, 1, 7, 2**31, 2**53, 2**63, 2**64, -(2**63), 10**40, 10**400),
    *(0.5, -0.0, 1e-300, 1e4, 1e5, 1e18, 1e200, 1e308, -1e308),
    *("", " ", "a", "cue", "1", "9", "16", "red1", "red99", "blue2", "Cue", "foot_left", "nowhere", "=1+1"),
    *("<b>bold</b>", "$x^2$", "a\x00b", "\x1b[31m", "x" * 3000, "\u202eabc", "\U0001f3b1", "../../etc", "'"),
    *([], {}, [[]], [None], [0, 0], [1, 2, 3], [1e9, 1e9], {"": 0}, {"cue": [0, 0]}, {"blue2": [1, 1]}),
    *([{}], [0.5, "x"], {"id": "a"}, ["1", "2"], [[0, 0]] * 3),
)
#: What only a text can hold: Python's own writer makes none of these.
ODD_TEXTS = (
    *(
        "NaN",
        "Infinity",
        "-Infinity",
        "1e400",
        "-1e999",
        '"\\ud800"',
        '"\\u0000"',
        "1E+2",
        "00",
        "tru",
        "'a'",
    ),
    *("9" * 4400, "[" * 400 + "]" * 400, '{"a":' * 300 + "1" + "}" * 300, "\ufeff", "/* */", ",", '"'),
)


def mutated(data: Any, chance: random.Random) -> Any:
    """A copy of some JSON with one to four places changed."""
    made = json.loads(json.dumps(data))
    for _ in range(chance.choice((1, 1, 1, 2, 4))):
        holders = list(_holders(made))
        if not holders:
            return made
        chance.choice(CHANGES)(chance.choice(holders), chance)
    return made


def mutated_text(text: str, chance: random.Random) -> bytes:
    """A text with something cut, doubled, turned or put in; sometimes no text any more."""
    data = text.encode("utf-8", "surrogatepass")
    kind = chance.randrange(5)
    at = chance.randrange(len(data) + 1)
    if kind == 0:
        return data[:at]
    if kind == 1:
        end = min(len(data), at + chance.randint(1, 200))
        return data[:at] + data[end:] if chance.random() < 0.5 else data[:end] + data[at:]
    if kind == 2:
        return mutated_bytes(data, chance)
    if kind == 3:
        return data[:at] + chance.choice(ODD_TEXTS).encode() + data[at:]
    return _with_odd_text(data, chance)


def mutated_bytes(data: bytes, chance: random.Random, most: int = 8) -> bytes:
    """Some bytes turned into others."""
    made = bytearray(data)
    for _ in range(chance.randint(1, most)):
        if made:
            made[chance.randrange(len(made))] = chance.randrange(256)
    return bytes(made)


def _with_odd_text(data: bytes, chance: random.Random) -> bytes:
    """One value of a JSON text replaced by what no writer makes."""
    places = [place for place, sign in enumerate(data) if sign == ord(":")]
    if not places:
        return data
    start = chance.choice(places) + 1
    end = start
    while end < len(data) and data[end : end + 1] not in b",}]":
        end += 1
    return data[:start] + chance.choice(ODD_TEXTS).encode() + data[end:]


def _holders(data: Any) -> Iterator[dict[str, Any] | list[Any]]:
    """Every object and list that holds something."""
    inner = data.values() if isinstance(data, dict) else data
    if isinstance(data, dict | list) and data:
        yield data
        for one in inner:
            yield from _holders(one)


def _place(holder: Any, chance: random.Random) -> Any:
    """A key of an object, or a place of a list."""
    return chance.choice(list(holder)) if isinstance(holder, dict) else chance.randrange(len(holder))


def _replace(holder: Any, chance: random.Random) -> None:
    if holder:
        holder[_place(holder, chance)] = json.loads(json.dumps(chance.choice(ODD_VALUES)))


def _near(holder: Any, chance: random.Random) -> None:
    """Another value of the same kind: the format may allow it where the game does not."""
    place = _place(holder, chance) if holder else None
    value = holder[place] if holder else None
    if isinstance(value, bool):
        holder[place] = not value
    elif isinstance(value, int | float):
        holder[place] = chance.choice((0, -value, value + 1, 2 * value, 100 * value, -1, 2**31, 1e-9))
    elif isinstance(value, str):
        holder[place] = chance.choice(("9", "red1", "cue", "", "black", "16", "foot_left", "a", "b", "=x"))


def _remove(holder: Any, chance: random.Random) -> None:
    if holder:
        del holder[_place(holder, chance)]


def _add(holder: Any, chance: random.Random) -> None:
    value = json.loads(json.dumps(chance.choice(ODD_VALUES)))
    if isinstance(holder, dict):
        holder[chance.choice(("own", "", "id", "kind", "at", "<i>x</i>", "cue", "16", "red3"))] = value
    else:
        holder.insert(chance.randint(0, len(holder)), value)


def _double(holder: Any, chance: random.Random) -> None:
    if holder and isinstance(holder, list):
        holder.extend([holder[_place(holder, chance)]] * chance.choice((1, 1, 2, 50)))


def _exchange(holder: Any, chance: random.Random) -> None:
    if holder:
        one, other = _place(holder, chance), _place(holder, chance)
        holder[one], holder[other] = holder[other], holder[one]


CHANGES: tuple[Callable[[Any, random.Random], None], ...] = (
    *(_replace, _near, _near, _near),
    *(_remove, _add, _double, _exchange),
)
