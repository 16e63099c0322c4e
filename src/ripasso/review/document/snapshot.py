"""A session in memory: an immutable tree of keyed rows, changed only by applying a command."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import cast

from ripasso.core.rules import MatchScore
from ripasso.review.document.command import Change, Entry, Table
from ripasso.review.record.model import AttemptSet, Rack, Session, Shot
from ripasso.review.scoring.scoring import score_of

Rows = Mapping[tuple[Table, str], Entry]


@dataclass(frozen=True)
class ShotRow:
    """A shot with its key and its rack's."""

    key: str
    rack: str
    record: Shot


@dataclass(frozen=True)
class RackRow:
    """A rack with its shots in order."""

    key: str
    record: Rack
    shots: tuple[ShotRow, ...]

    def place(self, shot: str) -> int:
        """The place of a shot among the rack's, 0 first; raises ValueError for a shot of another rack."""
        return [row.key for row in self.shots].index(shot)

    @cached_property
    def complete(self) -> Rack:
        """The rack with its shots, as a file holds it."""
        if not self.shots and "shots" not in self.record.model_fields_set:
            return self.record
        return self.record.model_copy(update={"shots": tuple(shot.record for shot in self.shots)})


@dataclass(frozen=True)
class Snapshot:
    """One session as it stands. `rows` holds every row by table and key."""

    key: str
    rows: Rows

    @cached_property
    def head(self) -> Session:
        """The session's own record, without racks and attempt sets."""
        return cast(Session, self.rows["session", self.key].record)

    @cached_property
    def racks(self) -> tuple[RackRow, ...]:
        """The racks in order, each with its shots."""
        shots: dict[str, list[ShotRow]] = {}
        for key, entry in self._ordered("shot"):
            rack = entry.parent or ""
            shots.setdefault(rack, []).append(ShotRow(key, rack, cast(Shot, entry.record)))
        return tuple(
            RackRow(key, cast(Rack, entry.record), tuple(shots.get(key, ())))
            for key, entry in self._ordered("rack")
        )

    @cached_property
    def attempt_sets(self) -> tuple[tuple[str, AttemptSet], ...]:
        """The attempt sets with their keys, in order."""
        return tuple((key, cast(AttemptSet, entry.record)) for key, entry in self._ordered("attempt_set"))

    @cached_property
    def shots(self) -> tuple[ShotRow, ...]:
        """All shots in order."""
        return tuple(shot for rack in self.racks for shot in rack.shots)

    @cached_property
    def session(self) -> Session:
        """The complete record, as it is exported."""
        update: dict[str, object] = {}
        if self.racks or "racks" in self.head.model_fields_set:
            update["racks"] = tuple(rack.complete for rack in self.racks)
        if self.attempt_sets or "attempt_sets" in self.head.model_fields_set:
            update["attempt_sets"] = tuple(record for _, record in self.attempt_sets)
        return self.head.model_copy(update=update) if update else self.head

    @cached_property
    def score(self) -> MatchScore | None:
        """The score by the rules; None for a game whose rules the program does not know."""
        return score_of(self.session)

    def rack(self, key: str) -> RackRow | None:
        """The rack with this key."""
        return next((rack for rack in self.racks if rack.key == key), None)

    def rack_index(self, key: str) -> int:
        """The place of a rack among the racks."""
        return next(i for i, rack in enumerate(self.racks) if rack.key == key)

    def shot(self, key: str) -> ShotRow | None:
        """The shot with this key."""
        return next((shot for shot in self.shots if shot.key == key), None)

    def entry(self, table: Table, key: str) -> Entry:
        """The row as commands see it; raises KeyError for a row that is not there."""
        return self.rows[table, key]

    def applied(self, changes: Iterable[Change]) -> Snapshot | None:
        """The session after the changes; None when it was deleted."""
        rows = dict(self.rows)
        for change in changes:
            if change.after is None:
                rows.pop((change.table, change.key), None)
            else:
                rows[change.table, change.key] = change.after
        return replace(self, rows=rows) if ("session", self.key) in rows else None

    def _ordered(self, table: Table) -> list[tuple[str, Entry]]:
        found = [(key, entry) for (name, key), entry in self.rows.items() if name == table]
        return sorted(found, key=lambda pair: (pair[1].position, pair[0]))
