"""Facts of shots as columns: what every figure reads. Nothing here knows records, window or library.

Numbers that are not known are NaN, texts "", counts and answers −1. `schema` says which columns there are.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any, Protocol

import numpy as np
import numpy.typing as npt

from ripasso.core.figures.rack_results import RackResult
from ripasso.core.figures.schema import COLUMNS, NO, UNKNOWN, YES, Kind, unknown_of

Texts = npt.NDArray[np.object_]
Floats = npt.NDArray[np.float64]
Flags = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]
Array = npt.NDArray[Any]
#: A column of texts as numbers, and the texts that these stand for.
Codes = tuple[npt.NDArray[np.integer[Any]], tuple[str, ...]]

__all__ = ["NO", "UNKNOWN", "YES", "Facts", "Flags", "Floats", "Ints", "Texts"]
DTYPES: Mapping[Kind, Any] = {
    "text": object,
    "words": object,
    "flag": np.bool_,
    "answer": np.int64,
    "count": np.int64,
    "number": np.float64,
}


class Source(Protocol):
    """Where columns come from, each when it is asked for."""

    def __len__(self) -> int: ...

    @property
    def racks(self) -> Sequence[Sequence[RackResult]]:
        """What came of the racks of each session, also of sessions that have no shot here."""
        ...

    def array(self, name: str) -> Array:
        """A column of flags, counts, answers or numbers."""
        ...

    def codes(self, name: str) -> Codes:
        """A column of texts; the same text has one code."""
        ...


class Facts:
    """Columns of shots by their names, all of one length, in the order of sessions, racks and shots."""

    def __init__(self, source: Source) -> None:
        self._source = source
        self._arrays: dict[str, Array] = {}
        self._coded: dict[str, Codes] = {}

    @classmethod
    def of_columns(cls, columns: Mapping[str, Array], length: int) -> Facts:
        """Facts from columns by name; those that are not given are unknown."""
        return cls(_Given(columns, length))

    def __len__(self) -> int:
        return len(self._source)

    @property
    def is_whole(self) -> bool:
        """No choice of the shots of other facts."""
        return not isinstance(self._source, _Chosen)

    @property
    def racks(self) -> Sequence[Sequence[RackResult]]:
        """What came of the racks of each session, also of sessions of which no shot was chosen."""
        return self._source.racks

    def texts(self, name: str) -> Texts:
        """A column of texts; it is made anew each time, codes are what is kept."""
        codes, values = self.coded(name)
        found: Texts = np.array(values, dtype=object)[codes] if values else np.empty(0, object)
        return found

    def coded(self, name: str) -> Codes:
        """A column of texts as numbers and the texts they stand for.

        Comparing numbers is many times as fast as comparing texts. Of a choice of shots all texts of the
        source are given.
        """
        if name not in self._coded:
            self._coded[name] = self._source.codes(name)
        return self._coded[name]

    def equal(self, name: str, *wanted: str) -> Flags:
        """The shots whose text is one of those wanted."""
        codes, values = self.coded(name)
        asked = frozenset(wanted)
        found = [code for code, text in enumerate(values) if text in asked]
        if len(found) == 1:
            flags: Flags = codes == found[0]  # many times as fast as to look each code up
            return flags
        return self.of_text(name, asked.__contains__)

    def of_text(self, name: str, test: Callable[[str], bool]) -> Flags:
        """The shots whose text passes a test, which is asked of each different text once."""
        codes, values = self.coded(name)
        return np.fromiter(map(test, values), np.bool_, len(values))[codes]

    def known(self, name: str) -> Flags:
        """The shots that have a text at all."""
        return ~self.equal(name, "")

    def values(self, name: str) -> dict[str, Flags]:
        """The shots of each text, in the order of their first shots; "" is left out."""
        codes, values = self.coded(name)
        return {values[code]: codes == code for code in _in_order(codes) if values[code]}

    def words(self, name: str) -> dict[str, Flags]:
        """Where each word stands in a column of several words each, in the order they first appear."""
        codes, values = self.coded(name)
        words = [set(value.split()) for value in values]
        known = dict.fromkeys(word for code in _in_order(codes) for word in sorted(words[code]))
        return {word: np.array([word in one for one in words], dtype=np.bool_)[codes] for word in known}

    def key(self, place: int) -> str:
        """The key of a shot in the library."""
        found: bytes = self.array("key")[place]
        return found.decode()

    def int_at(self, name: str, place: int) -> int:
        """One whole number; a list of single shots asks so, and no column is made for it."""
        return int(self.array(name)[place])

    def text_at(self, name: str, place: int) -> str:
        """One text."""
        codes, values = self.coded(name)
        found: str = values[codes[place]]
        return found

    def flags(self, name: str) -> Flags:
        """A column of yes and no."""
        return self.array(name)

    def numbers(self, name: str) -> Floats:
        """A column of numbers."""
        return self.array(name).astype(np.float64, copy=False)

    def ints(self, name: str) -> Ints:
        """A column of whole numbers."""
        return self.array(name).astype(np.int64, copy=False)

    def where(self, keep: Flags | Ints) -> Facts:
        """The shots for which `keep` is true, or those at its places."""
        return Facts(_Chosen(self, keep))

    def by_person(self, keep: Flags) -> tuple[Facts, Ints]:
        """The shots for which `keep` is true, each person's together and in order, and their places.

        A session played by several people counts as one for each of them, so that no shot follows another's.
        """
        places = np.flatnonzero(keep)
        codes, people = self.coded("person")
        own = codes[places]
        if len(places) == 0 or (own == own[0]).all():
            return self.where(places), places
        places = places[np.argsort(own, kind="stable")]
        made = self.where(places)
        made.replace_column("session", self.ints("session")[places] * len(people) + codes[places])
        return made, places

    def replace_column(self, name: str, values: Array) -> None:
        """Another column in place of the source's."""
        self._arrays[name] = values

    def array(self, name: str) -> Array:
        """A column as it is stored."""
        if name not in self._arrays:
            self._arrays[name] = self._source.array(name)
        return self._arrays[name]


def _in_order(codes: Array) -> list[int]:
    """The codes that there are, in the order in which they first appear."""
    first = np.full(int(codes.max()) + 1 if len(codes) else 0, len(codes))
    # Of several places for one code the last that is written stays: the first of them, backwards.
    first[codes[::-1]] = np.arange(len(codes))[::-1]
    order = np.argsort(first, kind="stable")
    return [int(code) for code in order if first[code] < len(codes)]


def coded_texts(texts: list[str]) -> Codes:
    """Texts as numbers, in the order in which they first appear."""
    known: dict[str, int] = {}
    numbers = [known.setdefault(text, len(known)) for text in texts]
    return np.array(numbers, dtype=np.int64), tuple(known)


class _Given:
    """Plain arrays by name; columns that are not given are unknown. Raises KeyError for a stranger."""

    def __init__(self, columns: Mapping[str, Array], length: int) -> None:
        strangers = set(columns) - set(COLUMNS)
        if strangers:
            raise KeyError(f"no such column: {', '.join(sorted(strangers))}")
        self._columns, self._length = columns, length

    def __len__(self) -> int:
        return self._length

    @property
    def racks(self) -> Sequence[Sequence[RackResult]]:
        return ()

    def array(self, name: str) -> Array:
        kind = COLUMNS[name].kind
        if name in self._columns:
            return np.asarray(self._columns[name]).astype(DTYPES[kind])
        return np.full(self._length, unknown_of(kind), dtype=DTYPES[kind])

    def codes(self, name: str) -> Codes:
        if name not in self._columns:
            return np.zeros(self._length, dtype=np.int64), ("",)
        return coded_texts(np.asarray(self._columns[name], dtype=object).tolist())


class _Chosen:
    """A choice of the shots of other facts; columns are cut when they are asked for: few of them are."""

    def __init__(self, of: Facts, keep: Flags | Ints) -> None:
        self._of, self._keep = of, keep
        self._length = int(keep.sum()) if keep.dtype == np.bool_ else len(keep)

    def __len__(self) -> int:
        return self._length

    @property
    def racks(self) -> Sequence[Sequence[RackResult]]:
        return self._of.racks

    def array(self, name: str) -> Array:
        return self._of.array(name)[self._keep]

    def codes(self, name: str) -> Codes:
        codes, values = self._of.coded(name)
        return codes[self._keep], values
