"""Cuts a film as a broadcast is cut: parts one after the other, shown again, slowed; nothing is encoded anew.

A stand-in for an editor: it makes long films, replays and films of uneven rate for tests and measurements.
ReviewContext begin and end at key frames.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path
from typing import Any

import av

Part = tuple[float, float, int]


def splice(source: Path, target: Path, parts: Sequence[Part]) -> None:
    """Write the pictures of a film part by part: from second, to second, how many times slower."""
    with av.open(str(source)) as opened, av.open(str(target), "w") as made:
        stream = opened.streams.video[0]
        written = made.add_stream_from_template(stream)
        assert stream.time_base is not None
        written.time_base = stream.time_base
        packets = [_Kept(packet) for packet in opened.demux(stream) if packet.pts is not None]
        base, offset = float(stream.time_base), 0
        in_order = sorted(packet.pts for packet in packets)
        step = min(b - a for a, b in pairwise(in_order))
        # A picture is decoded so long before it is shown that every other has come by then.
        ahead = max(shown - p.pts for shown, p in zip(in_order, packets, strict=True))
        ahead *= max(slower for _, _, slower in parts)
        for from_s, to_s, slower in parts:
            chosen = _between(packets, round(from_s / base), round(to_s / base))
            order = sorted(p.pts for p in chosen)
            for shown, kept in zip(order, chosen, strict=True):
                pts, decoded = (offset + slower * (value - order[0]) for value in (kept.pts, shown))
                made.mux(kept.at(written, pts, decoded - ahead, slower))
            offset += slower * (order[-1] - order[0] + step)


class _Kept:
    """A packet's bytes and times; a packet can be written once only."""

    def __init__(self, packet: Any) -> None:
        self.pts, self.is_key = packet.pts, packet.is_keyframe
        self._bytes = bytes(packet)
        self._duration, self._base = packet.duration, packet.time_base

    def at(self, stream: Any, pts: int, dts: int, slower: int) -> Any:
        packet = av.Packet(self._bytes)
        packet.pts, packet.dts = pts, dts
        packet.duration = slower * (self._duration or 0)
        packet.time_base, packet.stream, packet.is_keyframe = self._base, stream, self.is_key
        return packet


def _between(packets: Sequence[_Kept], first: int, last: int) -> list[_Kept]:
    """Whole groups of pictures: from the last key frame not after `first` to the one not before `last`."""
    keys = [i for i, packet in enumerate(packets) if packet.is_key]
    begin = max((i for i in keys if packets[i].pts <= first), default=keys[0])
    end = min((i for i in keys if packets[i].pts >= last and i > begin), default=len(packets))
    return list(packets[begin:end])
