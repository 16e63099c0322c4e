"""The shots of a film as blocks of its strip, made anew for the racks that changed alone."""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.record.model import Session
from ripasso.review.record.values import Number
from ripasso.review.recordings.films import time_in


@dataclass(frozen=True)
class Block:
    """A shot on the strip, in seconds; without an end it is drawn short."""

    key: str
    start_s: float
    end_s: float | None


class FilmBlocks:
    """Gives the blocks of a recording; the very same ones while no mark moved."""

    def __init__(self) -> None:
        # The film, and what its times are against those of the others.
        self._films: tuple[str, object] = "", None
        self._racks: tuple[RackRow, ...] = ()
        self._by_rack: dict[str, tuple[RackRow, tuple[Block, ...]]] = {}
        self._blocks: tuple[Block, ...] = ()

    def of(self, snapshot: Snapshot, recording: str) -> tuple[Block, ...]:
        """The blocks of all shots of a recording, in order."""
        films = recording, snapshot.head.recordings
        if films != self._films:
            self._films, self._by_rack = films, {}
        elif snapshot.racks == self._racks:
            return self._blocks
        self._by_rack = {
            rack.key: (rack, self._of_rack(snapshot.head, rack, recording)) for rack in snapshot.racks
        }
        blocks = tuple(block for _, own in self._by_rack.values() for block in own)
        self._racks = snapshot.racks
        if blocks != self._blocks:
            self._blocks = blocks
        return self._blocks

    def _of_rack(self, head: Session, rack: RackRow, film: str) -> tuple[Block, ...]:
        kept = self._by_rack.get(rack.key)
        if kept is not None and kept[0] is rack:
            return kept[1]
        found = []
        for shot in rack.shots:
            record = shot.record
            start = _time_in(head, record.t_strike, record.recording, film)
            if start is not None:
                end = _time_in(head, record.t_rest, record.recording, film)
                found.append(Block(shot.key, start, end))
        made = tuple(found)
        return kept[1] if kept is not None and kept[1] == made else made


def _time_in(head: Session, mark: Number | None, of: str | None, film: str) -> float | None:
    return time_in(head, float(mark), of, film) if mark is not None else None
