"""The session and the shot in hand, and the ways from one to the next; no window."""

from __future__ import annotations

from collections.abc import Callable

from ripasso.core.rules import RackScore, ShotScore
from ripasso.review.document.document import Document
from ripasso.review.document.signal import Signal
from ripasso.review.document.snapshot import RackRow, ShotRow, Snapshot
from ripasso.review.scoring.outcome import is_judged

Say = Callable[[str, str], None]


class Selection:
    """What is in hand. Connect to `changed` for anything that may look different."""

    def __init__(self, document: Document, say: Say) -> None:
        self._document = document
        self._say = say
        self._session: str | None = None
        self._shot: str | None = None
        self.changed: Signal[None] = Signal()

    # What is in hand

    @property
    def snapshot(self) -> Snapshot | None:
        """The session in hand as it stands."""
        return self._document.session(self._session) if self._session else None

    @property
    def shot_key(self) -> str | None:
        """The key of the shot in hand."""
        return self._shot

    @property
    def shot(self) -> ShotRow | None:
        """The shot in hand."""
        snapshot = self.snapshot
        return snapshot.shot(self._shot) if snapshot and self._shot else None

    @property
    def rack(self) -> RackRow | None:
        """The rack of the shot in hand, the last one when there is none."""
        snapshot, shot = self.snapshot, self.shot
        if snapshot is None:
            return None
        if shot is not None:
            return snapshot.rack(shot.rack)
        return snapshot.racks[-1] if snapshot.racks else None

    @property
    def rack_score(self) -> RackScore | None:
        """The rack in hand by the rules."""
        snapshot, rack = self.snapshot, self.rack
        return snapshot.rack_score(rack.key) if snapshot is not None and rack is not None else None

    @property
    def shot_score(self) -> ShotScore | None:
        """The shot in hand by the rules."""
        shot, score, rack = self.shot, self.rack_score, self.rack
        if shot is None or score is None or rack is None:
            return None
        place = rack.place(shot.key)
        return score.shots[place]

    @property
    def problems(self) -> list[str]:
        """What the rules cannot make sense of in the shot in hand: a ball or a player that is not there."""
        snapshot, shot, rack = self.snapshot, self.shot, self.rack
        if snapshot is None or snapshot.score is None or shot is None or rack is None:
            return []
        place = rack.place(shot.key)
        path = f"$.racks[{snapshot.rack_index(rack.key)}].shots[{place}]."
        return [text for where, text in snapshot.score.problems if where.startswith(path)]

    # Choosing

    def open(self, session: str, shot: str | None = None) -> None:
        """Take a session in hand, at a shot or at its first."""
        self._session = session
        snapshot = self.snapshot
        if snapshot is None:
            self._session = None
        first = snapshot.shots[0].key if snapshot and snapshot.shots else None
        self._choose(shot or first)

    def close(self) -> None:
        """Put the session away."""
        self._session = None
        self._choose(None)

    def choose(self, shot: str) -> None:
        """Take a shot in hand."""
        if shot != self._shot:
            self._choose(shot)

    def step(self, by: int) -> None:
        """The next shot (1) or the one before (-1), across racks."""
        snapshot, shot = self.snapshot, self.shot
        if snapshot is None or shot is None:
            return
        beside = snapshot.beside(shot.key, by)
        if beside is not None:
            self._choose(beside.key)

    def step_rack(self, by: int) -> None:
        """The first shot of the next rack (1) or of the one before (-1)."""
        snapshot, rack = self.snapshot, self.rack
        if snapshot is None or rack is None:
            return
        place = snapshot.rack_index(rack.key) + by
        while 0 <= place < len(snapshot.racks):
            if snapshot.racks[place].shots:  # racks that are not shown are passed over
                self._choose(snapshot.racks[place].shots[0].key)
                return
            place += by

    def next_unjudged(self) -> None:
        """The next shot, from the one in hand on, of which nothing is judged yet."""
        snapshot, shot = self.snapshot, self.shot
        if snapshot is None or shot is None:
            return
        place = [s.key for s in snapshot.shots].index(shot.key) + 1
        later = (*snapshot.shots[place:], *snapshot.shots[:place])
        found = next((s for s in later if not is_judged(s.record)), None)
        if found is None:
            self._say("Every shot of this session is judged.", "good")
        else:
            self._choose(found.key)

    def _choose(self, shot: str | None) -> None:
        self._shot = shot
        self._begin_anew()
        self.changed.emit(None)

    def _begin_anew(self) -> None:
        """What is half typed belongs to the shot that was in hand before."""
