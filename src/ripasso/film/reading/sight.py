"""How much of the film shows the table: frames that do and do not, and the gaps between those that do."""

from __future__ import annotations

#: A gap is longer than this, seconds.
GAP_S = 1.0


class Sight:
    """Counts frames since the table was last known to be calm in sight; keeps the gaps of the whole film."""

    def __init__(self) -> None:
        self.gaps: list[tuple[float, float]] = []
        self.last_s: float | None = None
        self._frames = self._unseen = 0

    def seen(self, time_s: float) -> None:
        """A frame shows the table."""
        self._frames += 1
        if self.last_s is not None and time_s - self.last_s > GAP_S:
            self.gaps.append((self.last_s, time_s))
        self.last_s = time_s

    def unseen(self) -> None:
        """A frame does not show it."""
        self._frames += 1
        self._unseen += 1

    def begin_anew(self) -> None:
        """All lies still in sight: what was not shown before does not matter."""
        self._frames = self._unseen = 0

    def take_share(self) -> float:
        """The share of frames that showed the table since it was begun; it begins anew."""
        share = 1 - self._unseen / max(1, self._frames)
        self.begin_anew()
        return share
