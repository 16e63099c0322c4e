"""The facts of one session as a few plain arrays, as they are kept in the library, and many joined.

A column of texts is kept as codes into its different texts. Columns of many sessions are joined when they
are asked for; a session that changed is put in the place of what it was without joining all anew.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any
from zlib import crc32

import numpy as np

from ripasso.core.figures.facts import Array, Codes, Facts, coded_texts
from ripasso.core.figures.rack_results import RackResult
from ripasso.core.figures.schema import COLUMNS, SESSION, Column

#: The different texts of each column of texts.
Values = tuple[tuple[str, ...], ...]
#: Kept as bytes of their own: keys are all different, so codes would not help.
KEY = "key"
KEY_BYTES = 40
_KEPT = [
    column for column in COLUMNS.values() if column not in SESSION and column.name not in (KEY, "session_key")
]
TEXT_COLUMNS = tuple(column.name for column in _KEPT if column.kind in ("text", "words"))
FLAG_COLUMNS = tuple(column.name for column in _KEPT if column.kind == "flag")
INT_COLUMNS = tuple(column.name for column in _KEPT if column.kind in ("answer", "count"))
NUMBER_COLUMNS = tuple(column.name for column in _KEPT if column.kind == "number")
_BLOCKS = (TEXT_COLUMNS, FLAG_COLUMNS, INT_COLUMNS, NUMBER_COLUMNS)
_PLACES = {name: place for names in _BLOCKS for place, name in enumerate(names)}
#: The texts that are the same for all shots of a session.
CONSTANT_TEXTS = frozenset(("session_key", "date", "game", "table"))
#: Step when `statistics.rows.encoding` computes a column otherwise.
ENCODING_VERSION = 2


def _stamp(columns: Sequence[Column]) -> str:
    words = " ".join(f"{column.name}:{column.kind}" for column in columns)
    return hashlib.sha1(f"{ENCODING_VERSION} {words}".encode()).hexdigest()[:16]


#: Tells columns of another schema.
STAMP = _stamp(_KEPT)


@dataclass(frozen=True)
class SessionConstants:
    """What is the same for all shots of a session; the table's length in metres."""

    key: str = ""
    date: str = ""
    game: str = ""
    table: str = ""
    table_length: float = float("nan")

    def text(self, name: str) -> str:
        """One of `CONSTANT_TEXTS`."""
        found: str = self.key if name == "session_key" else getattr(self, name)
        return found


@dataclass(frozen=True, eq=False)
class SessionColumns:
    """The facts of a session. Arrays have a row a column, in the order of `TEXT_COLUMNS` and its like."""

    constants: SessionConstants
    keys: Array  # bytes
    texts: Array  # codes
    values: Values
    flags: Array
    ints: Array
    numbers: Array
    racks: tuple[RackResult, ...] = ()

    @classmethod
    def of(cls, constants: SessionConstants, columns: Mapping[str, Sequence[Any] | Array]) -> SessionColumns:
        """From the values of every column by its name; ValueError for a key that is too long."""
        count, longest = len(columns[KEY]), max(map(len, columns[KEY]), default=0)
        if longest > KEY_BYTES:
            raise ValueError(f"a key of {longest} bytes does not fit into {KEY_BYTES}")
        coded = [coded_texts([str(text) for text in columns[name]]) for name in TEXT_COLUMNS]
        return cls(
            constants,
            np.array([str(key).encode() for key in columns[KEY]], dtype=f"S{KEY_BYTES}"),
            np.array([codes for codes, _ in coded], dtype=_code_type(coded)).reshape(len(coded), count),
            tuple(values for _, values in coded),
            np.array([columns[name] for name in FLAG_COLUMNS], dtype=np.bool_).reshape(
                len(FLAG_COLUMNS), count
            ),
            np.array([columns[name] for name in INT_COLUMNS], dtype=np.int32).reshape(
                len(INT_COLUMNS), count
            ),
            np.array([columns[name] for name in NUMBER_COLUMNS], dtype=np.float64).reshape(
                len(NUMBER_COLUMNS), count
            ),
        )

    def __len__(self) -> int:
        return len(self.keys)

    def to_bytes(self) -> bytes:
        """As they are kept: a line of JSON, then the arrays."""
        parts = (self.numbers, self.keys, self.ints, self.texts, self.flags)
        data = b"".join(np.ascontiguousarray(part).tobytes() for part in parts)
        head = {"stamp": STAMP, "shots": len(self), "codes": self.texts.dtype.str, "values": self.values}
        head |= {"racks": [one.data() for one in self.racks], "sum": crc32(data)}
        return json.dumps(head, ensure_ascii=False, separators=(",", ":")).encode() + b"\n" + data

    @classmethod
    def from_bytes(cls, data: object, constants: SessionConstants) -> SessionColumns | None:
        """What was kept; None where it is of another schema, damaged or no such thing."""
        if not isinstance(data, bytes):
            return None
        end = data.find(b"\n")
        try:
            head = json.loads(data[:end])
            if head["stamp"] != STAMP or head["sum"] != crc32(memoryview(data)[end + 1 :]):
                return None
            count, at = int(head["shots"]), end + 1
            arrays = []
            for rows, dtype in (
                (len(NUMBER_COLUMNS), np.dtype(np.float64)),
                (1, np.dtype(f"S{KEY_BYTES}")),
                (len(INT_COLUMNS), np.dtype(np.int32)),
                (len(TEXT_COLUMNS), np.dtype(head["codes"])),
                (len(FLAG_COLUMNS), np.dtype(np.bool_)),
            ):
                array = np.frombuffer(data, dtype, rows * count, at)
                at += array.nbytes
                arrays.append(array.reshape(rows, count))
            values = tuple(tuple(map(str, texts)) for texts in head["values"])
            racks = tuple(map(RackResult.of, head["racks"]))
        except (ValueError, KeyError, TypeError):
            return None
        numbers, keys, ints, texts, flags = arrays
        return cls(constants, keys[0], texts, values, flags, ints, numbers, racks)

    @cached_property
    def facts(self) -> Facts:
        """The facts of this session alone."""
        return Facts(JoinedColumns([self]))


def _code_type(coded: Sequence[Codes]) -> Any:
    return np.uint16 if all(len(values) < 2**16 for _, values in coded) else np.uint32


class _Tables:
    """The different texts of each column of texts, over many sessions."""

    def __init__(self, values: Values) -> None:
        self._known = [dict(zip(one, range(len(one)), strict=True)) for one in values]
        self._last: tuple[Values | None, Array] = None, np.array([], np.uint16)

    def codes(self, session: SessionColumns) -> Array:
        """The texts of a session as codes into these tables, which learn its new texts."""
        if session.values is not self._last[0]:
            # Sessions that were joined before share what they stand for.
            found = [
                known.setdefault(text, len(known))
                for known, values in zip(self._known, session.values, strict=True)
                for text in values
            ]
            self._last = session.values, np.array(found, self.kind)
        starts = np.cumsum([0, *map(len, session.values)])[:-1, np.newaxis]
        return self._last[1][session.texts + starts] if len(session) else session.texts

    @property
    def kind(self) -> Any:
        """The numbers that the codes need."""
        return np.uint16 if all(len(known) <= 2**16 for known in self._known) else np.uint32

    def values(self) -> Values:
        """The texts of each column, each at its code."""
        return tuple(map(tuple, self._known))


class _Blocks:
    """The arrays of sessions one after the other, as they are filled."""

    def __init__(self, expected: int) -> None:
        self.keys = np.empty((1, expected), f"S{KEY_BYTES}")
        self.texts = np.empty((len(TEXT_COLUMNS), expected), np.uint16)
        self.flags = np.empty((len(FLAG_COLUMNS), expected), np.bool_)
        self.ints = np.empty((len(INT_COLUMNS), expected), np.int32)
        self.numbers = np.empty((len(NUMBER_COLUMNS), expected), np.float64)
        self.tables = _Tables(((),) * len(TEXT_COLUMNS))
        self._used = 0

    def add(self, session: SessionColumns) -> slice:
        """Put a session behind those that are there; where it stands."""
        here = slice(self._used, self._used + len(session))
        if here.stop > self.keys.shape[1]:
            self._resize(max(here.stop, self._used * 3 // 2))
        codes = self.tables.codes(session)
        if self.tables.kind != self.texts.dtype:
            self.texts = self.texts.astype(self.tables.kind)
        self.keys[0, here] = session.keys
        self.texts[:, here], self.flags[:, here] = codes, session.flags
        self.ints[:, here], self.numbers[:, here] = session.ints, session.numbers
        self._used = here.stop
        return here

    def close(self) -> None:
        """Nothing more comes: what was expected and did not come is let go."""
        if self._used < self.keys.shape[1]:
            self._resize(self._used)

    def rows(self) -> dict[str, Array]:
        """Every column by its name."""
        found = {KEY: self.keys[0]}
        blocks: Sequence[Array] = (self.texts, self.flags, self.ints, self.numbers)
        for names, block in zip(_BLOCKS, blocks, strict=True):
            found.update(zip(names, block, strict=True))
        return found

    def _resize(self, count: int) -> None:
        for name in ("keys", "texts", "flags", "ints", "numbers"):
            old = getattr(self, name)
            made = np.empty((old.shape[0], count), old.dtype)
            made[:, : self._used] = old[:, : self._used]
            setattr(self, name, made)


class JoinedColumns:
    """The columns of sessions, one after the other. Immutable but for what it remembers of itself.

    `sessions` are views of what was joined: who keeps them instead of those that were given holds every
    value once.
    """

    def __init__(
        self,
        sessions: Iterable[SessionColumns],
        joined: tuple[Mapping[str, Array], Values] | None = None,
        *,
        expected: int = 0,
    ) -> None:
        """Join sessions, each let go before the next is taken; so many shots are expected of them.

        `joined` are their columns by name and the texts of each, where they have been joined already.
        """
        if joined is None:
            self.sessions, self._rows, self._values = _joined(sessions, expected)
        else:
            self.sessions = tuple(sessions)
            self._rows, self._values = joined
        self._counts = np.array([len(one) for one in self.sessions], dtype=np.int64)
        self._starts = np.concatenate([[0], np.cumsum(self._counts)]).astype(np.int64)
        self._made: dict[str, Array] = {}

    def __len__(self) -> int:
        return int(self._starts[-1])

    @property
    def racks(self) -> Sequence[Sequence[RackResult]]:
        """What came of the racks, by session."""
        return [one.racks for one in self.sessions]

    def array(self, name: str) -> Array:
        """A joined column of flags, counts, answers or numbers."""
        if name in self._rows:
            return self._rows[name]
        if name not in self._made:
            each: Array = np.arange(len(self.sessions))
            if name == "table_length":
                each = np.array([one.constants.table_length for one in self.sessions], dtype=np.float64)
            self._made[name] = np.repeat(each, self._counts)
        return self._made[name]

    def codes(self, name: str) -> Codes:
        """A joined column of texts."""
        if name not in CONSTANT_TEXTS:
            return self._rows[name], self._values[_PLACES[name]]
        known: dict[str, int] = {}
        each = [known.setdefault(one.constants.text(name), len(known)) for one in self.sessions]
        return np.repeat(np.array(each, dtype=np.int32), self._counts), tuple(known)

    def replaced(self, place: int, session: SessionColumns) -> JoinedColumns:
        """The same with another session at a place; columns whose values are what they were are shared."""
        old = self.sessions[place]
        tables = _Tables(self._values)
        codes = tables.codes(session)
        if len(session) != len(old) or tables.kind != old.texts.dtype:
            others = (*self.sessions[:place], session, *self.sessions[place + 1 :])
            return JoinedColumns(others, expected=len(self) - len(old) + len(session))
        values = tables.values()
        session = replace(session, texts=codes, values=values)
        sessions = (*self.sessions[:place], session, *self.sessions[place + 1 :])
        here = slice(int(self._starts[place]), int(self._starts[place + 1]))
        rows = dict(self._rows)
        for name, row in self._rows.items():
            own = _own_row(session, name)
            if not np.array_equal(own, row[here], equal_nan=name in NUMBER_COLUMNS):
                rows[name] = row.copy()
                rows[name][here] = own
        return JoinedColumns(sessions, (rows, values))


def _joined(
    sessions: Iterable[SessionColumns], expected: int
) -> tuple[tuple[SessionColumns, ...], Mapping[str, Array], Values]:
    """Sessions as views of their joined columns, these by name, and the texts of each column of texts."""
    blocks = _Blocks(expected)
    places = [(one.constants, one.racks, blocks.add(one)) for one in sessions]
    blocks.close()
    values = blocks.tables.values()
    views = (
        SessionColumns(
            constants,
            blocks.keys[0, here],
            blocks.texts[:, here],
            values,
            blocks.flags[:, here],
            blocks.ints[:, here],
            blocks.numbers[:, here],
            racks,
        )
        for constants, racks, here in places
    )
    return tuple(views), blocks.rows(), values


def _own_row(session: SessionColumns, name: str) -> Array:
    """A column of one session; texts as its own codes."""
    if name == KEY:
        return session.keys
    kind = COLUMNS[name].kind
    if kind in ("text", "words"):
        return np.asarray(session.texts[_PLACES[name]])
    if kind == "flag":
        return np.asarray(session.flags[_PLACES[name]])
    return np.asarray((session.numbers if kind == "number" else session.ints)[_PLACES[name]])
