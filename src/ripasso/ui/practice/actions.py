"""What can be done in Practice, as data. A presenter's buttons (PgDn, PgUp) and the keypad count as well."""

from __future__ import annotations

from ripasso.review.language.translation import noop
from ripasso.ui.actions import ActionSpec

GROUP = "Practice"
ACTIONS = (
    ActionSpec("attempt_made", "made", ("G", "1", "+", "PgDown"), GROUP, "one attempt more, made"),
    ActionSpec("attempt_missed", "missed", ("M", "0", "-", "PgUp"), GROUP, "one attempt more, missed"),
    ActionSpec("attempt_granted", "granted", ("X",), GROUP, "the last one is granted against the criteria"),
    ActionSpec("attempt_back", "take back", ("Backspace",), GROUP, "take the last attempt back"),
    ActionSpec("attempt_change", "changed", ("C",), GROUP, "what is changed next, one thing at a time"),
    ActionSpec("attempt_balls", "balls run", ("B",), GROUP, "one run more, by its balls"),
    ActionSpec("attempt_on_film", "from the film", ("F",), GROUP, "the next attempt that the film shows"),
    ActionSpec("end_set", "end the set", ("E",), GROUP, "passed or not: level and date follow"),
    ActionSpec("put_off", "not today", ("S",), GROUP, "due tomorrow, on the same level"),
    ActionSpec("new_exercise", "new exercise", ("N",), GROUP, "an exercise of any kind"),
    ActionSpec("weak_spots", "weak spots", ("W",), GROUP, "what costs most racks, as exercises"),
    ActionSpec("edit_exercise", "change it", ("Return",), GROUP, "title, goal, minutes and what is asked"),
    ActionSpec("delete_exercise", "delete", ("Delete",), GROUP, "take the exercise away; its sets stay"),
    ActionSpec("next_exercise", "next one", ("Down",), GROUP, "the next exercise"),
    ActionSpec("previous_exercise", "one before", ("Up",), GROUP, "the exercise before"),
    ActionSpec("view_exercise", "exercise", ("F2",), GROUP, "the exercise in large letters"),
    ActionSpec("view_progress", "progress", ("F3",), GROUP, "how it went over time"),
    ActionSpec("view_timetable", "timetable", ("F4",), GROUP, "four weeks of practice"),
    ActionSpec("view_table", "table", ("F6",), GROUP, noop("is the table level, and how fast is its cloth")),
    ActionSpec("projector", "projector", ("P",), GROUP, "balls and zone as circles on black, full screen"),
    ActionSpec("set_up_page", "set-up page", ("Ctrl+P",), GROUP, "how the balls are put down, on one page"),
    *(
        ActionSpec(f"criterion_{n}", f"criterion {n}", (f"Alt+{n}",), GROUP, f"the last one met it: {n}")
        for n in range(1, 5)
    ),
    ActionSpec("report", "into the report", ("Ctrl+Shift+E",), GROUP, "the practice list as a page of it"),
    ActionSpec("save_calendar", "calendar", ("Ctrl+E",), GROUP, "the timetable as a calendar file"),
)
