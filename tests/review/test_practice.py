"""Exercises in the document: made, begun, ended, put off, undone; their words; calendars read back."""

import json
import unittest
from datetime import date, timedelta

from icalendar import Calendar

from ripasso.core.practice.table_checks import Drift, LevelCheck, Roll, level_check
from ripasso.core.practice.timetable import Wish, days_of, timetable
from ripasso.core.practice.weak_spots import WeakSpot, weak_spots
from ripasso.core.table import table_spec
from ripasso.demo.matches.planted import PLANTED, planted_facts
from ripasso.review.document.edits import RefusedEdit, new_key, set_values
from ripasso.review.entry.attempts import with_attempt
from ripasso.review.practice.calendar import calendar_of, day_words
from ripasso.review.practice.exercises import (
    add_exercise,
    begin_set,
    change_exercise,
    due_on,
    end_set,
    exercise_of,
    exercise_of_shot,
    exercises_of,
    has_passed,
    open_set,
    plain_exercise,
    plan_of,
    practice_session,
    remove_exercise,
    set_time,
    sets_of,
    skip,
)
from ripasso.review.practice.film_attempts import attempts_on_film
from ripasso.review.practice.weak_spot_words import reason_words, spot_words
from ripasso.review.practice.words import (
    ball_lines,
    due_words,
    ended_words,
    goal_words,
    level_lines,
    progress_lines,
    rule_words,
    standing_words,
)
from ripasso.review.record.model import serialize
from ripasso.review.record.practice import Exercise
from tests.sessions import document_with, played, rack_of, session

SPEC = table_spec({"preset": "pool_9ft"})
DAY = date(2026, 11, 30)


def exercise(**values):
    made = {"id": "x", "title": "Stun", "kind": "one_shot", **values}
    return Exercise.model_validate_json(json.dumps(made))


class Plans(unittest.TestCase):
    def setUp(self):
        self.document = document_with(session())
        self.run_command(add_exercise, plain_exercise("one_shot", "Stun", DAY, goal={"made": 2, "of": 3}))
        self.name = self.exercise.id

    @property
    def snapshot(self):
        return self.document.session("test")

    @property
    def exercise(self):
        return exercises_of(self.snapshot)[0]

    def run_command(self, make, *arguments):
        self.document.run(make(self.snapshot, *arguments))

    def attempt(self, key, *outcomes):
        for outcome in outcomes:
            made = next(one for found, one in self.snapshot.attempt_sets if found == key)
            self.document.run(
                set_values(self.snapshot, "attempt_set", key, with_attempt(made, outcome), "count")
            )

    def test_a_set_that_passes_and_one_that_does_not(self):
        key = new_key()
        self.run_command(begin_set, self.name, DAY, key)
        self.assertEqual(open_set(self.snapshot, self.name)[0], key)
        with self.assertRaises(RefusedEdit):
            end_set(self.snapshot, self.name, key, DAY)
        self.attempt(key, True, False, True)
        self.run_command(end_set, self.name, key, DAY)
        self.assertEqual((self.exercise.level, self.exercise.due), (1, "2026-12-02"))
        self.assertIsNone(open_set(self.snapshot, self.name), "what was ended is not gone on with")
        done = plan_of(self.snapshot).done[-1]
        self.assertEqual((done.exercise, done.passed, done.date), (self.name, True, "2026-11-30"))
        again = new_key()
        self.run_command(begin_set, self.name, date(2026, 12, 2), again)
        self.attempt(again, False, False)
        self.run_command(end_set, self.name, again, date(2026, 12, 2))
        self.assertEqual((self.exercise.level, self.exercise.due), (0, "2026-12-03"))
        self.assertEqual(
            [one.date for one in sets_of(self.snapshot, self.name)], ["2026-11-30", "2026-12-02"]
        )

    def test_every_step_is_taken_back_exactly(self):
        key = new_key()
        steps = (
            (begin_set, self.name, DAY, key),
            (skip, self.name, DAY),
            (set_time, 45, ["tue"]),
            (change_exercise, self.name, {"minutes": 5, "note": None}, "Change"),
            (remove_exercise, self.name),
        )
        for make, *arguments in steps:
            with self.subTest(make.__name__):
                before = self.snapshot
                self.run_command(make, *arguments)
                after = self.snapshot
                self.assertNotEqual(before.head, after.head) if make is not begin_set else None
                self.document.undo()
                self.assertEqual(serialize(self.snapshot.head), serialize(before.head))
                self.document.redo()
                self.assertEqual(serialize(self.snapshot.head), serialize(after.head))
        self.assertEqual(exercises_of(self.snapshot), ())
        for make, *arguments in ((begin_set, self.name, DAY, key), (skip, self.name, DAY)):
            with self.assertRaises(RefusedEdit):
                make(self.snapshot, *arguments)

    def test_a_shot_becomes_an_exercise(self):
        zone = {"circle": {"centre": [1.0, 0.5], "radius": 0.1}}
        shot = {
            **played("a", "1"),
            "call": {"ball": "1", "pocket": "foot_left"},
            "before": {"cue": [0.5, 0.5], "1": [2.0, 1.0]},
            "plan": {"zone": zone},
        }
        record = session(racks=[rack_of(shot)])
        made = exercise_of_shot(record.racks[0].shots[0], 1, record, DAY, [("cut", "45-60")])
        self.run_command(add_exercise, made)
        found = next(one for one in exercises_of(self.snapshot) if one.slices)
        self.assertEqual((found.target.ball, found.layout["1"]), ("1", (2.0, 1.0)))
        self.assertEqual([one.id for one in found.criteria], ["pot", "area"])
        self.assertEqual((found.from_.session, found.from_.rack, found.from_.shot), ("test", 1, 1))
        key = new_key()
        self.run_command(begin_set, found.id, DAY, key)
        made = open_set(self.snapshot, found.id)[1]
        self.assertEqual((made.layout["cue"], made.target.pocket), ((0.5, 0.5), "foot_left"))
        self.assertEqual(made.criteria[1].zone.circle.radius, 0.1)

    def test_a_session_for_a_player_goes_out_and_comes_back(self):
        player = session().players[0]
        made = practice_session(player, "nine_ball", {"preset": "pool_9ft"}, DAY)
        self.assertEqual((made.kind, made.practice_plan.days), ("practice", ("mon", "wed", "fri")))
        document = document_with(made)
        document.run(add_exercise(document.session(made.id), plain_exercise("ghost", "Ghost", DAY)))
        kept = document.session(made.id).head
        again = type(kept).model_validate_json(json.dumps(serialize(kept)))
        self.assertEqual(again, kept)

    def test_when_it_is_due(self):
        self.assertEqual(due_on(exercise(due="2026-12-04"), DAY), date(2026, 12, 4))
        self.assertEqual(due_on(exercise(due="soon"), DAY), DAY)
        self.assertIsNone(exercise_of(self.snapshot, "nothing"))


class OnFilm(unittest.TestCase):
    """Fifteen strokes from one layout, set up again by hand, and one that is none."""

    LAYOUT = {"cue": [1.0, 0.5], "1": [2.0, 0.9]}  # noqa: RUF012
    ZONE = {"circle": {"centre": [1.8, 0.8], "radius": 0.1}}  # noqa: RUF012

    def shots(self):
        for number in range(16):
            made, inside = number % 3 != 0, number % 2 == 0
            off = 0.002 * number if number < 15 else 0.3
            yield {
                **played("a", *(["1"] if made else [])),
                "recording": "f",
                "t_strike": 10.0 * number,
                "before": {"cue": [1.0 + off, 0.5], "1": [2.0, 0.9 - off / 2], "7": [0.2, 0.2]},
                "after": {"cue": [1.8, 0.8 if inside else 0.4]},
            }

    def test_all_are_found_with_what_they_met_and_counted_once(self):
        asked = {"layout": self.LAYOUT, "target": {"ball": "1", "pocket": "foot_left"}}
        criteria = [{"id": "pot", "text": "falls"}, {"id": "area", "text": "stops", "zone": self.ZONE}]
        made = exercise(**asked, criteria=criteria)
        racks = [rack_of(*self.shots())]
        document = document_with(session(racks=racks, recordings=[{"id": "f", "file": "f.mp4"}]))
        found = attempts_on_film(document.session("test"), made, None)
        self.assertEqual([one.t_strike for one in found], [10.0 * n for n in range(15)])
        self.assertEqual([one.success for one in found], [n % 3 != 0 and n % 2 == 0 for n in range(15)])
        self.assertEqual(dict(found[1].met), {"pot": True, "area": False})
        attempts = [{"number": 1, "recording": "f", "t_strike": 0.0}]
        (counted,) = session(attempt_sets=[{"id": "s", "attempts": attempts}]).attempt_sets
        self.assertEqual(len(attempts_on_film(document.session("test"), made, counted)), 14)
        self.assertEqual(attempts_on_film(document.session("test"), exercise(), None), [])


class Words(unittest.TestCase):
    def test_how_balls_are_put_down(self):
        lines = ball_lines(SPEC, {"cue": (0.635, 0.4), "5": (2.0, SPEC.width - SPEC.ball_radius)}, "mm")
        self.assertEqual(lines[0][:9], "1. The 5:")
        self.assertIn("touching the left cushion", lines[0])
        self.assertIn(
            "2. The cue ball: 606 mm from the head cushion (2.0 diamonds, level with the second", lines[1]
        )

    def test_days_and_goals(self):
        said = [due_words(DAY + timedelta(days=n), DAY) for n in (-3, 0, 1, 8)]
        self.assertEqual(said, ["3 d ago", "today", "tomorrow", "in 8 d"])
        self.assertEqual(goal_words(exercise(goal={"share": 0.6})), "60 % at the lower end")
        both = exercise(goal={"share": 0.6, "made": 4, "of": 5})
        self.assertEqual(goal_words(both), "60 % at the lower end or 4 of 5 in a row")
        self.assertEqual(goal_words(exercise(goal={"made": 3})), "3 in a row")
        self.assertEqual(goal_words(exercise()), "nothing asked")
        self.assertIn("1, 2, 4, 8, 16, 32, 64", rule_words())
        self.assertIn("not passed, level 2", ended_words(exercise(level=2), False, DAY, DAY))

    def sets(self, *texts):
        made = []
        for number, text in enumerate(texts):
            attempts = [
                {"number": n, "outcome": "success" if one == "1" else "failure"}
                for n, one in enumerate(text, 1)
            ]
            day = (DAY + timedelta(days=4 * number)).isoformat()
            made.append({"id": str(number), "exercise": "x", "date": day, "attempts": attempts})
        return session(attempt_sets=made).attempt_sets

    def test_a_set_against_its_goal_and_progress(self):
        asked = exercise(goal={"share": 0.6})
        self.assertEqual(standing_words(asked, None), "Asked: 60 % at the lower end.")
        (made,) = self.sets("1" * 16 + "0000")
        self.assertIn("80 % (80 % interval 66 to 89)", standing_words(asked, made))
        self.assertTrue(has_passed(asked, made))
        self.assertEqual(list(progress_lines(asked, (), None)), ["Nothing was played yet."])
        lines = list(progress_lines(asked, self.sets("0000100010", "1011010111", "1111101111"), None))
        self.assertRegex(lines[0], r"^It rises: \d+ % on the first day")
        self.assertRegex(lines[1], r"better\.$")
        lines = list(progress_lines(asked, self.sets("10"), ((10, 20), (12, 20))))
        self.assertIn("No trend can be told yet", lines[0])
        self.assertIn("in matches, before and since: 10 of 20 and 12 of 20", lines[2])
        lines = list(progress_lines(asked, self.sets("1111111011", "0000010000"), None))
        self.assertRegex(lines[0], r"^It falls")
        lines = list(progress_lines(asked, self.sets("1010101010", "1010101010"), ((0, 0), (1, 2))))
        self.assertRegex(lines[0], r"^No trend to be told")
        self.assertIn("0 of 0 and 1 of 2, no change", lines[2])

    def test_a_table_s_drift(self):
        rolls = [Roll((0.3, 0.6), (2.1, 0.6), (2.1, 0.6 + 0.0054 + n * 0.0002)) for n in range(4)]
        rolls.append(Roll((0.3, 0.6), (2.1, 0.6), (2.1, 0.612), "left"))
        lines = level_lines(level_check(rolls))
        self.assertIn("Across, to the left: +3.2 mm per metre (+2.9 to +3.4, 4 rolls)", lines[0])
        self.assertIn("no roll without side yet", lines[1])
        self.assertIn("With left side besides", lines[2])
        level = LevelCheck(Drift(0.1, -1.0, 1.2, 5), None, {})
        self.assertIn("not to be told from level", level_lines(level)[1])

    def test_weak_spots(self):
        first = weak_spots(planted_facts(5000, PLANTED["thin_cuts"], 1), "p")[0]
        self.assertRegex(spot_words(first), r"^pots: ")
        self.assertRegex(reason_words(first), r"^\d+ of \d+, \d+ expected by the own average; \d")
        lost = WeakSpot("position", (("cushions", "2"),), 4.0, 20, 2.0, 1.5, (), ())
        self.assertEqual(spot_words(lost), "position after: cushions 2")
        self.assertIn("20 points of chance a shot, 10 on average", reason_words(lost))


class Calendars(unittest.TestCase):
    def test_read_back_by_a_package(self):
        wishes = [Wish("x", "run", 20, DAY, cost=1.0), Wish("y", "ghost", 15, DAY)]
        found = timetable(wishes, days_of(DAY, 2, ["mon", "thu"]), 60)
        text = calendar_of(found, {"x": "Clear five balls", "y": "Ghost"}, "Ada Quill")
        events = list(Calendar.from_ical(text).walk("VEVENT"))
        self.assertEqual([one.decoded("dtstart").date() for one in events], [s.day for s in found.sessions])
        for event, planned in zip(events, found.sessions, strict=True):
            minutes = (event.decoded("dtend") - event.decoded("dtstart")).total_seconds() / 60
            self.assertEqual(minutes, planned.minutes)
        self.assertIn("20 min  Clear five balls", str(events[0]["description"]))
        self.assertEqual(len({str(one["uid"]) for one in events}), len(events))
        self.assertEqual(day_words(DAY), "Mon 30 Nov")


if __name__ == "__main__":
    unittest.main()
