"""The facts of one session as a few plain arrays, as they are kept in the library, and many joined.

A column of texts is kept as codes into its different texts. Columns of many sessions are joined when they
are asked for; a session that changed is put in the place of what it was without joining all anew.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import Any
from zlib import crc32

import numpy as np

from ripasso.core.figures.facts import Array, Codes, Facts, coded_texts
from ripasso.core.figures.rack_results import RackResult
from ripasso.core.figures.schema import COLUMNS, SESSION, Column

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
    values: tuple[tuple[str, ...], ...]  # of each column of texts
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


class JoinedColumns:
    """The columns of sessions, one after the other. Immutable but for what it remembers of itself.

    `sessions` are views of what was joined: who keeps them instead of those that were given holds every
    value once.
    """

    def __init__(self, sessions: Sequence[SessionColumns], rows: Mapping[str, Array] | None = None) -> None:
        """Join sessions; `rows` are their columns by name where they have been joined already."""
        self._counts = np.array([len(one) for one in sessions], dtype=np.int64)
        self._starts = np.concatenate([[0], np.cumsum(self._counts)]).astype(np.int64)
        self._coded: dict[str, Codes] = {}
        self._session: Array | None = None
        if rows is not None:
            self.sessions, self._rows = tuple(sessions), rows
            return
        keys = np.concatenate([np.array([], f"S{KEY_BYTES}"), *(one.keys for one in sessions)])
        texts = _side_by_side([one.texts for one in sessions], len(TEXT_COLUMNS), np.uint16)
        flags = _side_by_side([one.flags for one in sessions], len(FLAG_COLUMNS), np.bool_)
        ints = _side_by_side([one.ints for one in sessions], len(INT_COLUMNS), np.int32)
        numbers = _side_by_side([one.numbers for one in sessions], len(NUMBER_COLUMNS), np.float64)
        self._rows = {KEY: keys}
        for names, block in zip(_BLOCKS, (texts, flags, ints, numbers), strict=True):
            self._rows.update(zip(names, block, strict=True))
        places = [slice(start, end) for start, end in pairwise(self._starts.tolist())]
        self.sessions = tuple(
            replace(
                one,
                keys=keys[here],
                texts=texts[:, here],
                flags=flags[:, here],
                ints=ints[:, here],
                numbers=numbers[:, here],
            )
            for one, here in zip(sessions, places, strict=True)
        )

    def __len__(self) -> int:
        return int(self._starts[-1])

    @property
    def racks(self) -> Sequence[Sequence[RackResult]]:
        """What came of the racks, by session."""
        return [one.racks for one in self.sessions]

    def array(self, name: str) -> Array:
        """A joined column of flags, counts, answers or numbers."""
        if name == "session":
            if self._session is None:
                self._session = np.repeat(np.arange(len(self.sessions)), self._counts)
            return self._session
        if name == "table_length":
            lengths = [one.constants.table_length for one in self.sessions]
            return np.repeat(np.array(lengths, dtype=np.float64), self._counts)
        return self._rows[name]

    def codes(self, name: str) -> Codes:
        """A joined column of texts."""
        if name not in self._coded:
            known: dict[str, int] = {}
            if name in CONSTANT_TEXTS:
                each = [known.setdefault(one.constants.text(name), len(known)) for one in self.sessions]
                codes = np.repeat(np.array(each, dtype=np.int32), self._counts)
            else:
                # The codes of each session stand for its own texts: one table of all, each from its start.
                place = _PLACES[name]
                values = [one.values[place] for one in self.sessions]
                of_all = [known.setdefault(text, len(known)) for texts in values for text in texts]
                starts = np.cumsum([0, *map(len, values)])[:-1]
                codes = np.array(of_all, np.int32)[self._rows[name] + np.repeat(starts, self._counts)]
            self._coded[name] = codes, tuple(known)
        return self._coded[name]

    def replaced(self, place: int, session: SessionColumns) -> JoinedColumns:
        """The same with another session at a place; columns whose values are what they were are shared."""
        old = self.sessions[place]
        sessions = (*self.sessions[:place], session, *self.sessions[place + 1 :])
        if len(session) != len(old):
            return JoinedColumns(sessions)
        here = slice(int(self._starts[place]), int(self._starts[place + 1]))
        rows, coded = dict(self._rows), dict(self._coded)
        for name, row in self._rows.items():
            values, were = _own_row(session, name), row[here]
            if not np.array_equal(values, were, equal_nan=name in NUMBER_COLUMNS):
                rows[name] = row.copy()
                rows[name][here] = values
            elif name not in TEXT_COLUMNS or session.values[_PLACES[name]] == old.values[_PLACES[name]]:
                continue
            if name in coded:
                coded[name] = _with_codes(coded[name], here, session, name)
        for name in CONSTANT_TEXTS & coded.keys():
            if session.constants.text(name) != old.constants.text(name):
                del coded[name]
        made = JoinedColumns(sessions, rows)
        made._coded = coded
        return made


def _side_by_side(parts: Sequence[Array], rows: int, kind: Any) -> Array:
    return np.concatenate([np.empty((rows, 0), kind), *parts], axis=1)


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


def _with_codes(coded: Codes, here: slice, session: SessionColumns, name: str) -> Codes:
    """Joined codes with those of a session in their place; new texts are added to those known."""
    codes, values = coded
    known = {text: code for code, text in enumerate(values)}
    of_all = [known.setdefault(text, len(known)) for text in session.values[_PLACES[name]]]
    codes = codes.copy()
    codes[here] = np.array(of_all, dtype=np.int32)[session.texts[_PLACES[name]]]
    return codes, tuple(known)
