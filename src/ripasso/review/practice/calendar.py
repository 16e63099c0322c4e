"""A timetable as a calendar file (iCalendar, RFC 5545): an event for each session with what is in it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime, time, timedelta

from icalendar import Calendar, Event

from ripasso.core.practice.timetable import PlannedSession, Timetable

#: When a session begins, where nobody said otherwise.
BEGINS = time(18, 0)


def calendar_of(
    found: Timetable, titles: Mapping[str, str], player: str, made: datetime | None = None
) -> bytes:
    """The sessions of a timetable; times are those of the place where it is read (no zone)."""
    calendar = Calendar()
    calendar.add("prodid", "-//Ripasso//Practice//EN")
    calendar.add("version", "2.0")
    for session in found.sessions:
        calendar.add_component(_event(session, titles, player, made or datetime.now(UTC)))
    return bytes(calendar.to_ical())


def _event(session: PlannedSession, titles: Mapping[str, str], player: str, made: datetime) -> Event:
    event = Event()
    begins = datetime.combine(session.day, BEGINS)
    event.add("uid", f"{session.day.isoformat()}-{player}@ripasso".replace(" ", "-"))
    event.add("dtstamp", made)
    event.add("dtstart", begins)
    event.add("dtend", begins + timedelta(minutes=session.minutes))
    event.add("summary", f"Practice, {player}")
    event.add("description", "\n".join(slot_lines(session, titles)))
    return event


def slot_lines(session: PlannedSession, titles: Mapping[str, str]) -> list[str]:
    """The parts of a session, a line each."""
    words = {"warm_up": "Warm up", "measured": "Measured set", "exercise": ""}
    lines = []
    for slot in session.slots:
        named = titles.get(slot.exercise or "", slot.exercise or "")
        parts = [part for part in (words[slot.what], named) if part]
        lines.append(f"{slot.minutes} min  {': '.join(parts)}")
    return lines


def day_words(day: date) -> str:
    """Such as "Mon 30 Nov"."""
    return f"{day:%a} {day.day} {day:%b}"
