"""Visits: shots of one player up to the end of the turn, collected as the shots are judged."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ripasso.core.rules.interface import Outcome

#: Where a visit began: the place of its rack and the number of its first shot, both from 1.
VisitStart = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Visit:
    """Shots of one player up to the end of the turn; shot numbers within their racks."""

    rack: int
    player: str
    first_shot: int
    last_rack: int
    last_shot: int
    balls: int
    points: int
    ended_by: str
    #: What of it was made before the film began.
    carried: int = 0


@dataclass(frozen=True, slots=True)
class OpenVisit:
    """A visit that still goes on."""

    rack: int
    player: str
    first_shot: int
    last_rack: int
    last_shot: int
    balls: int = 0
    points: int = 0
    carried: int = 0

    def ended(self, by: str) -> Visit:
        """The visit, over."""
        return Visit(
            self.rack,
            self.player,
            self.first_shot,
            self.last_rack,
            self.last_shot,
            self.balls,
            self.points,
            by,
            self.carried,
        )


class VisitBuilder:
    """Collects the visits of a rack as its shots are judged; one may have begun in an earlier rack."""

    def __init__(self, open_visit: OpenVisit | None) -> None:
        self.open = open_visit
        self.ended: list[Visit] = []
        self.current: VisitStart | None = None  # where the visit of the last shot began

    def add(self, rack: int, number: int, player: str, outcome: Outcome, carried: int = 0) -> None:
        """Count a shot into the running visit, or begin a new one with what was carried in."""
        if outcome.rerack:
            self.close("rerack")
        if self.open is not None and self.open.player != player:
            self.close("interrupted")
        visit = self.open or OpenVisit(
            rack, player, number, rack, number, balls=carried, points=carried, carried=carried
        )
        self.current = (visit.rack, visit.first_shot)
        self.open = replace(
            visit,
            last_rack=rack,
            last_shot=number,
            balls=visit.balls + len(outcome.counted),
            # A penalty takes nothing from what the visit has made.
            points=visit.points + max(0, outcome.points.get(player, 0)),
        )
        if outcome.turn_ends:
            self.close(outcome.visit_end or "miss")

    def concede(self, winner: str | None) -> None:
        """A concession ends a running visit."""
        if self.open is not None:
            self.close("rack_won" if self.open.player == winner else "rack_lost")

    def close(self, ended_by: str) -> None:
        """End the running visit, when there is one."""
        if self.open is not None:
            self.ended.append(self.open.ended(ended_by))
            self.open = None
