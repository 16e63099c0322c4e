"""The weeks of a practice plan, filled from its exercises."""

from __future__ import annotations

from datetime import date

from ripasso.core.practice.timetable import Timetable, Wish, days_of, timetable
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.practice.exercises import DAY_MINUTES, DAYS, MINUTES, due_on, exercises_of, plan_of

WEEKS = 4


def planned_weeks(snapshot: Snapshot, today: date, weeks: int = WEEKS) -> Timetable:
    """The sessions from today on, by the plan's minutes and days."""
    plan = plan_of(snapshot)
    wishes = [
        Wish(one.id, one.kind, one.minutes or MINUTES, due_on(one, today), one.level or 0)
        for one in exercises_of(snapshot)
    ]
    return timetable(wishes, days_of(today, weeks, plan.days or DAYS), plan.minutes or DAY_MINUTES)
