"""A timetable: the minutes of a player's days filled with what is due, the dearest weak spots first.

Each session begins with a warm-up and ends with a measured set. No kind takes more than half of a session's
minutes between these. What is played is taken to come back by its level's gap.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta

from ripasso.core.practice.due import GAPS_DAYS

#: Minutes at the beginning and at the end of a session (common practice, no source).
WARM_UP_MIN, MEASURED_MIN = 5, 10
#: A session shorter than this has neither.
SHORT_MIN = 25
#: No kind has more than this share of the minutes between warm-up and measured end.
MOST_OF_A_KIND = 0.5
WEEK = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


@dataclass(frozen=True, slots=True)
class Wish:
    """An exercise to be placed: its kind, minutes, level, the day it is due, and what its weakness costs."""

    exercise: str
    kind: str
    minutes: int
    due: date
    level: int = 0
    cost: float = 0.0


@dataclass(frozen=True, slots=True)
class Slot:
    """A part of a session: `warm_up`, `exercise` or `measured`, with the exercise it is of."""

    what: str
    minutes: int
    exercise: str | None = None


@dataclass(frozen=True)
class PlannedSession:
    """One day's slots; they take no more than the day's minutes."""

    day: date
    slots: tuple[Slot, ...]

    @property
    def minutes(self) -> int:
        """All of its minutes."""
        return sum(slot.minutes for slot in self.slots)


@dataclass(frozen=True)
class Timetable:
    """Sessions in order, and the exercises that were due and fit nowhere, each with the reason.

    Reasons: `too_long` for any session, `no_room` until the last day, `no_day` without any day.
    """

    sessions: tuple[PlannedSession, ...]
    left_out: tuple[tuple[str, str], ...]


def days_of(first: date, weeks: int, days: Iterable[str]) -> list[date]:
    """The days of so many weeks on which there is time, by the names of `WEEK`."""
    wanted = {WEEK.index(day) for day in days if day in WEEK}
    every = (first + timedelta(days=n) for n in range(7 * weeks))
    return [day for day in every if day.weekday() in wanted]


def timetable(wishes: Sequence[Wish], days: Sequence[date], minutes: int) -> Timetable:
    """Fill the days: what is due the longest first, of one day the dearest; nothing twice on a day."""
    if not days:
        return Timetable((), tuple((one.exercise, "no_day") for one in wishes))
    waiting = {one.exercise: one for one in wishes}
    placed: set[str] = set()
    sessions = []
    for day in days:
        filling = _Filling(minutes)
        for wish in sorted(waiting.values(), key=lambda one: (one.due, -one.cost, one.exercise)):
            if wish.due <= day and filling.take(wish):
                placed.add(wish.exercise)
                again = day + timedelta(days=GAPS_DAYS[wish.level])
                waiting[wish.exercise] = replace(wish, due=again)
        if filling.taken:
            sessions.append(PlannedSession(day, filling.slots()))
    left = [
        (one.exercise, "too_long" if not _Filling(minutes).take(one) else "no_room")
        for one in wishes
        if one.exercise not in placed and one.due <= days[-1]
    ]
    return Timetable(tuple(sessions), tuple(left))


@dataclass
class _Filling:
    """One day that is being filled."""

    minutes: int
    taken: list[Wish] = field(default_factory=list)

    @property
    def _has_ends(self) -> bool:
        return self.minutes >= SHORT_MIN

    @property
    def _room(self) -> int:
        return self.minutes - (WARM_UP_MIN + MEASURED_MIN if self._has_ends else 0)

    def take(self, wish: Wish) -> bool:
        """Take an exercise in where its minutes fit, and its kind's."""
        of_kind = sum(one.minutes for one in self.taken if one.kind == wish.kind)
        fits = sum(one.minutes for one in self.taken) + wish.minutes <= self._room
        if not fits or of_kind + wish.minutes > MOST_OF_A_KIND * self._room:
            return False
        self.taken.append(wish)
        return True

    def slots(self) -> tuple[Slot, ...]:
        """The parts of the day; the dearest exercise is measured at its end."""
        between = [Slot("exercise", one.minutes, one.exercise) for one in self.taken]
        if not self._has_ends:
            return tuple(between)
        dearest = max(self.taken, key=lambda one: one.cost)
        return (
            Slot("warm_up", WARM_UP_MIN),
            *between,
            Slot("measured", MEASURED_MIN, dearest.exercise),
        )
