"""Time on film is not time at the table: it is cut, paused, slowed and shown twice.

Seconds are counted where the film runs live, and across a cut none are known.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

Span = tuple[float, float]
LIVE, CUT = "live", "cut_out"


@dataclass(frozen=True, slots=True)
class FilmStretch:
    """A stretch of a recording, in seconds of its film, and what runs there ("live", "replay", "cut_out")."""

    recording: str | None
    start_s: float
    end_s: float
    kind: str


class LiveFilm:
    """Which seconds of the films count.

    A recording with stretches said to be live counts those alone; any other counts everything that was not
    said to be a replay, slowed or paused. Stretches of one kind may overlap.
    """

    def __init__(self, stretches: Sequence[FilmStretch] = ()) -> None:
        self._stretches = tuple(stretches)

    def seconds(self, recording: str | None, start_s: float, end_s: float) -> float | None:
        """Seconds at the table from one place of a film to another; None across a cut, 0 backwards."""
        if not self._stretches:
            return max(0.0, end_s - start_s)  # asked of every shot of films of which nothing was said
        if self.is_cut(recording, start_s, end_s):
            return None
        own = [s for s in self._stretches if s.recording == recording]
        live = [(s.start_s, s.end_s) for s in own if s.kind == LIVE] or [(start_s, end_s)]
        dead = [(s.start_s, s.end_s) for s in own if s.kind not in (LIVE, CUT)]
        whole = _inside(live, start_s, end_s)
        counted = _length(_merged(whole))
        for first, last in _merged(whole):
            counted -= _length(_merged(_inside(dead, first, last)))
        return counted

    def is_cut(self, recording: str | None, start_s: float, end_s: float) -> bool:
        """Whether film is missing between two places."""
        cuts = [s for s in self._stretches if s.kind == CUT and s.recording == recording]
        # A cut may be a single place: a jump from one frame to the next.
        return any(cut.start_s < end_s and cut.end_s > start_s for cut in cuts)


def _inside(spans: Sequence[Span], start_s: float, end_s: float) -> list[Span]:
    clipped = [(max(a, start_s), min(b, end_s)) for a, b in spans]
    return [(a, b) for a, b in clipped if b > a]


def _merged(spans: Sequence[Span]) -> list[Span]:
    """The spans in order, those that touch made one."""
    merged: list[Span] = []
    for start, end in sorted(spans):
        if merged and start <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(merged[-1][1], end))
        else:
            merged.append((start, end))
    return merged


def _length(spans: Sequence[Span]) -> float:
    return sum(end - start for start, end in spans)
