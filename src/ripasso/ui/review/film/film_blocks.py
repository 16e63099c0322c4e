"""The shots of a film as blocks of its strip, made anew for the racks that changed alone."""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.review.document.snapshot import RackRow, Snapshot


@dataclass(frozen=True)
class Block:
    """A shot on the strip, in seconds; without an end it is drawn short."""

    key: str
    start_s: float
    end_s: float | None


class FilmBlocks:
    """Gives the blocks of a recording; the very same ones while no mark moved."""

    def __init__(self) -> None:
        self._recording: str | None = None
        self._racks: tuple[RackRow, ...] = ()
        self._by_rack: dict[str, tuple[RackRow, tuple[Block, ...]]] = {}
        self._blocks: tuple[Block, ...] = ()

    def of(self, snapshot: Snapshot, recording: str) -> tuple[Block, ...]:
        """The blocks of all shots of a recording, in order."""
        if recording != self._recording:
            self._recording, self._by_rack = recording, {}
        elif snapshot.racks == self._racks:
            return self._blocks
        self._by_rack = {rack.key: (rack, self._of_rack(rack, recording)) for rack in snapshot.racks}
        blocks = tuple(block for _, own in self._by_rack.values() for block in own)
        self._racks = snapshot.racks
        if blocks != self._blocks:
            self._blocks = blocks
        return self._blocks

    def _of_rack(self, rack: RackRow, recording: str) -> tuple[Block, ...]:
        kept = self._by_rack.get(rack.key)
        if kept is not None and kept[0] is rack:
            return kept[1]
        made = tuple(
            Block(s.key, float(s.record.t_strike), float(s.record.t_rest) if s.record.t_rest else None)
            for s in rack.shots
            if s.record.recording == recording and s.record.t_strike is not None
        )
        return kept[1] if kept is not None and kept[1] == made else made
