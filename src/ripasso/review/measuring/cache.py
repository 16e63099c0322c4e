"""Measures of shots as a window needs them: computed once, kept while nothing they depend on changes."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from operator import is_

from ripasso.core.figures.measure_rows import MEASURES_VERSION
from ripasso.core.measures.shots import ShotInput, ShotMeasures, measure_shots
from ripasso.core.table import TableSpec, table_spec
from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.measuring.measuring import rack_inputs, spread_of

#: So much is kept in memory; the library has the measures of the others.
MOST_SHOTS, MOST_RACKS = 30_000, 3000


@dataclass(frozen=True)
class Request:
    """Shots to be measured, with everything that is needed: it can be computed in any thread."""

    session: str
    spec: TableSpec
    spread: float
    keys: tuple[str, ...]
    inputs: tuple[ShotInput, ...]

    def compute(self) -> list[ShotMeasures]:
        """The measures, in the order of the keys."""
        return measure_shots(self.spec, self.inputs, self.spread)

    def stamps(self) -> list[str]:
        """What each shot's measures are computed from, as a short text: inputs, settings, version."""
        settings = f"{MEASURES_VERSION} {self.spec!r} {self.spread!r}"
        return [hashlib.sha1(f"{settings} {one!r}".encode()).hexdigest() for one in self.inputs]

    def part(self, places: Sequence[int]) -> Request:
        """Only some of the shots."""
        keys = tuple(self.keys[i] for i in places)
        return replace(self, keys=keys, inputs=tuple(self.inputs[i] for i in places))


def origin_of(snapshot: Snapshot, rack: RackRow) -> tuple[object, object, object]:
    """What the measures of a rack hang on; while all three are the same objects, so are its measures."""
    return snapshot.head, rack, snapshot.rack_score(rack.key)


@dataclass(frozen=True)
class _Kept:
    settings: tuple[TableSpec, float]
    given: ShotInput
    measures: ShotMeasures


class MeasureCache:
    """Remembers what was measured; a shot is measured again when its layouts, plan or settings changed."""

    def __init__(self) -> None:
        self._kept: dict[str, _Kept] = {}
        # The inputs of racks, with what they were made from: one refresh of a window asks many times.
        self._given: dict[str, tuple[tuple[object, ...], list[ShotInput]]] = {}

    def rack(self, snapshot: Snapshot, rack: RackRow) -> list[ShotMeasures]:
        """The measures of every shot of a rack."""
        request = self.request(snapshot, [rack])
        if request.keys:
            self.keep(request, request.compute())
        return [self._kept[shot.key].measures for shot in rack.shots]

    def shot(self, snapshot: Snapshot, shot: str) -> ShotMeasures | None:
        """The measures of one shot; only this one is computed."""
        row = snapshot.shot(shot)
        rack = snapshot.rack(row.rack) if row else None
        if rack is None:
            return None
        request = self.request(snapshot, [rack], only=shot)
        if request.keys:
            self.keep(request, request.compute())
        return self._kept[shot].measures

    def given(self, shot: str) -> ShotInput | None:
        """What the last measures of a shot were computed from."""
        kept = self._kept.get(shot)
        return kept.given if kept else None

    def known(self, shot: str) -> ShotMeasures | None:
        """What was measured of a shot last, without computing anything."""
        kept = self._kept.get(shot)
        return kept.measures if kept else None

    def knows(self, request: Request, place: int) -> bool:
        """One shot of a request is measured already, from the same."""
        kept = self._kept.get(request.keys[place])
        settings = (request.spec, request.spread)
        return kept is not None and kept.settings == settings and kept.given == request.inputs[place]

    def request(
        self,
        snapshot: Snapshot,
        racks: Sequence[RackRow],
        only: str | None = None,
        *,
        everything: bool = False,
    ) -> Request:
        """What is not measured yet, or has changed since; or everything."""
        self._make_room()
        spec, spread = table_spec(snapshot.head.table), spread_of(snapshot.head)
        keys, inputs = [], []
        for rack in racks:
            given = self._inputs(snapshot, rack, spec)
            for shot, one in zip(rack.shots, given, strict=True):
                kept = self._kept.get(shot.key)
                same = kept is not None and kept.settings == (spec, spread) and kept.given == one
                if (everything or not same) and only in (None, shot.key):
                    keys.append(shot.key)
                    inputs.append(one)
        return Request(snapshot.key, spec, spread, tuple(keys), tuple(inputs))

    def _inputs(self, snapshot: Snapshot, rack: RackRow, spec: TableSpec) -> list[ShotInput]:
        """What the shots of a rack are measured from; background work may ask at the same time."""
        origin = origin_of(snapshot, rack)
        kept = self._given.get(rack.key)
        if kept is not None and all(map(is_, kept[0], origin)):
            return kept[1]
        score = snapshot.rack_score(rack.key)
        found = rack_inputs(snapshot.head, rack.complete, score, spec)
        self._given[rack.key] = (origin, found)
        return found

    def _make_room(self) -> None:
        """Forget what was measured longest ago, before it is looked what is missing."""
        if len(self._kept) > MOST_SHOTS:
            for key in list(self._kept)[: MOST_SHOTS // 4]:
                del self._kept[key]
        if len(self._given) > MOST_RACKS:
            self._given.clear()

    def keep(self, request: Request, measured: Sequence[ShotMeasures]) -> None:
        """Remember an answer."""
        settings = (request.spec, request.spread)
        for key, given, one in zip(request.keys, request.inputs, measured, strict=True):
            self._kept[key] = _Kept(settings, given, one)
