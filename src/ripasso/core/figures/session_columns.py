"""The facts of one session as a few plain arrays, as they are kept in the library, and many joined.

A column of texts is kept as codes into its different texts. Columns of many sessions are joined when they
are asked for; a session that changed is put in the place of what it was without joining all anew.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any
from zlib import crc32

import numpy as np

from ripasso.core.figures.facts import Array, Codes, Facts, coded_texts
from ripasso.core.figures.schema import COLUMNS, SESSION, Column
from ripasso.core.json_data import JsonMapping

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
_PLACES = {
    name: place
    for names in (TEXT_COLUMNS, FLAG_COLUMNS, INT_COLUMNS, NUMBER_COLUMNS)
    for place, name in enumerate(names)
}
#: Step when `statistics.rows.encoding` computes a column otherwise.
ENCODING_VERSION = 1


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


@dataclass(frozen=True, eq=False)
class SessionColumns:
    """The facts of a session. Arrays have a row a column, in the order of `TEXT_COLUMNS` and its like."""

    constants: SessionConstants
    keys: Array  # bytes
    texts: Array  # codes
    values: tuple[tuple[str, ...], ...]  # of each column of texts
    flags: Array
    ints: Array
    numbers: Array

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
        head["sum"] = crc32(data)
        return json.dumps(head, ensure_ascii=False, separators=(",", ":")).encode() + b"\n" + data

    @classmethod
    def from_bytes(cls, data: object, constants: SessionConstants) -> SessionColumns | None:
        """What was kept; None where it is of another schema, damaged or no such thing."""
        if not isinstance(data, bytes):
            return None
        end = data.find(b"\n")
        try:
            head = json.loads(data[:end])
            if head["stamp"] != STAMP or head["sum"] != crc32(data[end + 1 :]):
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
        except (ValueError, KeyError, TypeError):
            return None
        numbers, keys, ints, texts, flags = arrays
        return cls(constants, keys[0], texts, values, flags, ints, numbers)

    @cached_property
    def facts(self) -> Facts:
        """The facts of this session alone."""
        return Facts(JoinedColumns([self]))


def _code_type(coded: Sequence[Codes]) -> Any:
    return np.uint16 if all(len(values) < 2**16 for _, values in coded) else np.uint32


class JoinedColumns:
    """The columns of sessions, one after the other. Immutable but for what it remembers of itself."""

    def __init__(self, sessions: Sequence[SessionColumns]) -> None:
        self.sessions = tuple(sessions)
        self._counts = np.array([len(one) for one in sessions], dtype=np.int64)
        self._starts = np.concatenate([[0], np.cumsum(self._counts)]).astype(np.int64)
        self._arrays: dict[str, Array] = {}
        self._coded: dict[str, tuple[Array, dict[str, int]]] = {}
        self._used: set[str] = set()

    def __len__(self) -> int:
        return int(self._starts[-1])

    def array(self, name: str) -> Array:
        """A joined column of flags, counts, answers or numbers."""
        if name not in self._arrays:
            if name == "session":
                self._arrays[name] = np.repeat(np.arange(len(self.sessions)), self._counts)
            elif name == KEY:
                self._arrays[name] = np.concatenate(
                    [np.array([], "S1"), *(one.keys for one in self.sessions)]
                )
            elif name == "table_length":
                lengths = [one.constants.table_length for one in self.sessions]
                self._arrays[name] = np.repeat(np.array(lengths, dtype=np.float64), self._counts)
            else:
                parts = [_part(one, name) for one in self.sessions]
                self._arrays[name] = np.concatenate(parts) if parts else _part_of_nothing(name)
        self._used.add(name)
        return self._arrays[name]

    def codes(self, name: str) -> Codes:
        """A joined column of texts."""
        if name not in self._coded:
            known: dict[str, int] = {}
            parts = [_recoded(one, name, known) for one in self.sessions]
            self._coded[name] = (np.concatenate(parts) if parts else np.array([], np.int32), known)
        self._used.add(name)
        codes, known = self._coded[name]
        return codes, tuple(known)

    def replaced(self, place: int, session: SessionColumns) -> JoinedColumns:
        """The same with another session at a place.

        Where the lengths are equal, the columns in use are taken over with its values put in their place; the
        others are joined again when they are asked for, so that no more is held than is looked at.
        """
        sessions = (*self.sessions[:place], session, *self.sessions[place + 1 :])
        made = JoinedColumns(sessions)
        if len(session) != len(self.sessions[place]):
            return made
        here = slice(int(self._starts[place]), int(self._starts[place + 1]))
        for name in self._used & self._arrays.keys():
            if name in _PLACES or name == KEY:
                renewed = made._arrays[name] = self._arrays[name].copy()
                renewed[here] = session.keys if name == KEY else _part(session, name)
        for name in self._used & self._coded.keys():
            codes, known = self._coded[name]
            fresh = made._coded[name] = (codes.copy(), dict(known))
            fresh[0][here] = _recoded(session, name, fresh[1])
        return made


def _part(session: SessionColumns, name: str) -> Array:
    place, kind = _PLACES[name], COLUMNS[name].kind
    if kind == "flag":
        return np.asarray(session.flags[place])
    return np.asarray(session.numbers[place] if kind == "number" else session.ints[place])


def _part_of_nothing(name: str) -> Array:
    kinds: JsonMapping = {"flag": np.bool_, "number": np.float64}
    return np.array([], dtype=kinds.get(COLUMNS[name].kind, np.int64))


def _recoded(session: SessionColumns, name: str, known: dict[str, int]) -> Array:
    """The codes of a session's texts in the codes of all; new texts are added to those known."""
    constants = session.constants
    own = {
        "session_key": constants.key,
        "date": constants.date,
        "game": constants.game,
        "table": constants.table,
    }
    if name in own:
        return np.full(len(session), known.setdefault(own[name], len(known)), dtype=np.int64)
    place = _PLACES[name]
    of_all = [known.setdefault(text, len(known)) for text in session.values[place]]
    recoded: Array = np.array(of_all, dtype=np.int32)[session.texts[place]]
    return recoded
