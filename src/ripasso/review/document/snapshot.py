"""A session in memory: an immutable tree of keyed rows, changed only by applying a command.

A snapshot after a command shares every rack that the command left alone with the one before it: whatever is
kept for a rack (its complete record, its facts, what other modules compute of it) is computed once.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import cast

from ripasso.core.json_data import JsonObject
from ripasso.core.rules import MatchScore, RackFacts, RackScore
from ripasso.review.document.command import Change, Entry, Table
from ripasso.review.record.model import Rack, Session, Shot
from ripasso.review.record.practice import AttemptSet
from ripasso.review.scoring.outcome import is_judged
from ripasso.review.scoring.scoring import Scoring, rack_facts, scored, session_facts
from ripasso.review.scoring.weighed import weighing_of

Rows = Mapping[tuple[Table, str], Entry]


@dataclass(frozen=True)
class ShotRow:
    """A shot with its key and its rack's."""

    key: str
    rack: str
    record: Shot


@dataclass(frozen=True, eq=False)
class RackRow:
    """A rack with its shots in order. Two are the same only when they are one object."""

    key: str
    record: Rack
    shots: tuple[ShotRow, ...]

    def place(self, shot: str) -> int:
        """The place of a shot among the rack's, 0 first; raises ValueError for a shot of another rack."""
        return [row.key for row in self.shots].index(shot)

    @cached_property
    def by_key(self) -> Mapping[str, ShotRow]:
        """Its shots by their keys."""
        return {shot.key: shot for shot in self.shots}

    @cached_property
    def complete(self) -> Rack:
        """The rack with its shots, as a file holds it."""
        if not self.shots and "shots" not in self.record.model_fields_set:
            return self.record
        return self.record.model_copy(update={"shots": tuple(shot.record for shot in self.shots)})

    @cached_property
    def facts(self) -> RackFacts:
        """What the rules read of it."""
        return rack_facts(self.complete)

    def with_facts_of(self, before: RackRow | None) -> RackRow:
        """The same; where the rules read what they read of it before, they know it as the same."""
        if before is not None and "facts" in before.__dict__ and self.facts == before.facts:
            self.__dict__["facts"] = before.facts
        return self

    @cached_property
    def judged(self) -> int:
        """How many of its shots somebody judged."""
        return sum(is_judged(shot.record) for shot in self.shots)

    @cached_property
    def weighed(self) -> tuple[ShotRow, ...]:
        """Its shots whose choice the program weighed."""
        return tuple(shot for shot in self.shots if weighing_of(shot.record) is not None)

    @cached_property
    def clipped(self) -> tuple[ShotRow, ...]:
        """Its shots that are seen on further places of a film."""
        return tuple(shot for shot in self.shots if shot.record.clips)


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
    def shot_count(self) -> int:
        """How many shots there are."""
        return sum(len(rack.shots) for rack in self.racks)

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
    def scoring(self) -> Scoring | None:
        """The score with what it was computed from; None for a game that is not known."""
        facts = session_facts(self.head, [rack.facts for rack in self.racks])
        return scored(facts, self._scored_before)

    @property
    def score(self) -> MatchScore | None:
        """The score by the rules; None for a game whose rules the program does not know."""
        return self.scoring.score if self.scoring is not None else None

    @cached_property
    def _scored_before(self) -> Scoring | None:
        """The score before the last command; `applied` hands it on."""
        return None

    @cached_property
    def _places(self) -> Mapping[str, int]:
        return {rack.key: place for place, rack in enumerate(self.racks)}

    def rack(self, key: str) -> RackRow | None:
        """The rack with this key."""
        place = self._places.get(key)
        return self.racks[place] if place is not None else None

    def rack_index(self, key: str) -> int:
        """The place of a rack among the racks; raises KeyError for a rack that is not there."""
        return self._places[key]

    def rack_score(self, key: str) -> RackScore | None:
        """A rack by the rules; None for a game that is not known."""
        return self.score.racks[self._places[key]] if self.score is not None else None

    def shot(self, key: str) -> ShotRow | None:
        """The shot with this key."""
        entry = self.rows.get(("shot", key))
        rack = self.rack(entry.parent or "") if entry is not None else None
        return rack.by_key.get(key) if rack else None

    def beside(self, key: str, by: int) -> ShotRow | None:
        """The shot so many shots later (earlier, below 0), across racks; None beyond the ends."""
        row = self.shot(key)
        place = self._places.get(row.rack) if row is not None else None
        if place is None:
            return None
        racks, at = self.racks, self.racks[place].place(key) + by
        while at < 0 and place > 0:
            place -= 1
            at += len(racks[place].shots)
        while at >= len(racks[place].shots) and place + 1 < len(racks):
            at -= len(racks[place].shots)
            place += 1
        return racks[place].shots[at] if 0 <= at < len(racks[place].shots) else None

    def entry(self, table: Table, key: str) -> Entry:
        """The row as commands see it; raises KeyError for a row that is not there."""
        return self.rows[table, key]

    def applied(self, changes: Iterable[Change]) -> Snapshot | None:
        """The session after the changes; None when it was deleted."""
        changes = tuple(changes)
        rows = dict(self.rows)
        for change in changes:
            if change.after is None:
                rows.pop((change.table, change.key), None)
            else:
                rows[change.table, change.key] = change.after
        if ("session", self.key) not in rows:
            return None
        after = replace(self, rows=rows)
        after.__dict__.update(self._shared(changes, rows))
        return after

    def _shared(self, changes: Sequence[Change], rows: Rows) -> JsonObject:
        """What the session after the changes need not compute again, by the names of cached properties."""
        shared: JsonObject = {}
        if "racks" in self.__dict__:
            shared["racks"] = self._racks_after(changes, rows)
            if [rack.key for rack in shared["racks"]] == list(self._places):
                shared["_places"] = self._places
        if "attempt_sets" in self.__dict__ and not any(c.table == "attempt_set" for c in changes):
            shared["attempt_sets"] = self.attempt_sets
        if "scoring" in self.__dict__:
            shared["_scored_before"] = self.scoring
        return shared

    def _racks_after(self, changes: Sequence[Change], rows: Rows) -> tuple[RackRow, ...]:
        touched = {key for change in changes for key in _racks_of(change)}
        if not touched:
            return self.racks
        known = {rack.key: rack for rack in self.racks}
        for key in touched:
            entry = rows.get(("rack", key))
            if entry is None:
                known.pop(key, None)
            else:
                row = RackRow(key, cast(Rack, entry.record), _shots_after(key, known, changes, rows))
                known[key] = row.with_facts_of(known.get(key))
        if not any(change.table == "rack" for change in changes):
            return tuple(known.values())
        return tuple(sorted(known.values(), key=lambda rack: (rows["rack", rack.key].position, rack.key)))

    def _ordered(self, table: Table) -> list[tuple[str, Entry]]:
        found = [(key, entry) for (name, key), entry in self.rows.items() if name == table]
        return sorted(found, key=lambda pair: (pair[1].position, pair[0]))


def _racks_of(change: Change) -> set[str]:
    """The racks that a change touches."""
    if change.table == "rack":
        return {change.key}
    if change.table != "shot":
        return set()
    return {entry.parent or "" for entry in (change.before, change.after) if entry is not None}


def _shots_after(
    rack: str, known: Mapping[str, RackRow], changes: Sequence[Change], rows: Rows
) -> tuple[ShotRow, ...]:
    """The shots of a rack after the changes; those that did not change stay the same objects."""
    shots = {shot.key: shot for shot in known[rack].shots} if rack in known else {}
    for change in changes:
        if change.table != "shot":
            continue
        entry = rows.get(("shot", change.key))
        if entry is None or entry.parent != rack:
            shots.pop(change.key, None)
        else:
            shots[change.key] = ShotRow(change.key, rack, cast(Shot, entry.record))
    return tuple(sorted(shots.values(), key=lambda shot: (rows["shot", shot.key].position, shot.key)))
