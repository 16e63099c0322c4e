"""The page of practice against figures counted by hand, and what a search finds among attempts."""

import json
import unittest

from ripasso.core.finding import NotAQuery
from ripasso.core.finding.matching import FIELDS
from ripasso.core.finding.query import parse_query
from ripasso.review.record.model import Session
from ripasso.statistics.pages.attempt_pages import attempts_page
from ripasso.statistics.pages.practice_page import practice_page
from ripasso.statistics.rows.attempt_columns import found_attempts
from ripasso.store.rows.attempt_rows import StoredAttempts
from tests.sessions import session

LADDER, RUN, WAYS = "ladder", "run", "ways"


def attempts(text, **more):
    """`1` made, `0` missed, `?` not judged; `more` says further keys, a list each."""
    made = []
    for place, one in enumerate(text):
        attempt = {"number": place + 1}
        if one != "?":
            attempt["outcome"] = "success" if one == "1" else "failure"
        for key, values in more.items():
            if values[place] is not None:
                attempt[key] = values[place]
        made.append(attempt)
    return made


def practised():
    """A plan of three exercises with their sets, and one set that belongs to none."""
    exercises = [
        {"id": LADDER, "title": "Stun ladder", "kind": "ladder", "rungs": ["near", "far"], "level": 2},
        {"id": RUN, "title": "Long runs", "kind": "run", "due": "2026-12-02"},
        {"id": WAYS, "title": "Bank or safe", "kind": "two_ways", "ways": ["bank", "safe"]},
        {"id": "unplayed", "title": "Lag", "kind": "lag"},
    ]
    sets = [
        {"id": "l1", "exercise": LADDER, "date": "2026-11-01", "attempts": attempts("1110")},
        {"id": "l2", "exercise": LADDER, "date": "2026-11-05", "attempts": attempts("011111")},
        {"id": "r1", "exercise": RUN, "date": "2026-11-05", "attempts": attempts("?01", count=[14, 3, 20])},
        {"id": "w1", "exercise": WAYS, "attempts": attempts("1001", way=[0, 1, 0, 1])},
        {
            "id": "again",
            "title": "Two cushions",
            "attempts": attempts("01", causes=[["pace"], None], note=["too soft", None]),
        },
    ]
    sets[0]["attempts"][1]["changed"] = [{"what": "aim", "by": 2, "unit": "mm"}]
    done = [
        {"exercise": LADDER, "date": "2026-11-01", "set": "l1", "passed": True},
        {"exercise": LADDER, "date": "2026-11-05", "set": "l2", "passed": False},
    ]
    made = session(attempt_sets=sets, players=[{"id": "a", "name": "Ada Pot"}], kind="practice")
    data = json.loads(made.model_dump_json(by_alias=True, exclude_none=True))
    data["practice_plan"] = {"player": "a", "exercises": exercises, "done": done}
    read = Session.model_validate_json(json.dumps(data))
    return [StoredAttempts(read.id, read, one) for one in read.attempt_sets]


class Page(unittest.TestCase):
    def setUp(self):
        self.page = practice_page(practised(), None, "Ada Pot", {})
        self.rows = {(row.group, row.text): row.figures[""] for row in self.page.rows}

    def counted(self, group, text):
        found = self.rows[group, text].rate
        return found.made, found.of

    def test_all_exercises_together_without_what_belongs_to_none(self):
        together = {text: figure for (group, text), figure in self.rows.items() if group == "All exercises"}
        self.assertEqual(together["Exercises"].words, "3")
        self.assertEqual(together["Attempts"].words, "17 on 2 days")
        self.assertEqual(self.counted("All exercises", "Sets passed"), (1, 2))
        self.assertEqual(len(self.page.attempts), 17)

    def test_a_ladder_by_its_rungs(self):
        group = "Stun ladder (ladder)"
        self.assertEqual(self.counted(group, "Successes"), (8, 10))
        # Three of four on the first rung go up; each set begins anew on the first.
        self.assertEqual(self.counted(group, "– rung 1: near"), (6, 7))
        self.assertEqual(self.counted(group, "– rung 2: far"), (2, 3))
        row = self.rows[group, "Most in a row"]
        self.assertEqual((row.words, row.shots.tolist()), ("5", [5, 6, 7, 8, 9]))
        self.assertEqual(self.rows[group, "Level and date"].words, "level 2, due at once")

    def test_runs_by_their_balls(self):
        group = "Long runs (a run)"
        self.assertEqual(self.counted(group, "Runs that did what was asked"), (1, 2))
        self.assertEqual(
            self.rows[group, "Longest run"].words, "20 balls: 1 rack and 6, 8 to the next break shot"
        )
        self.assertEqual(self.rows[group, "Balls a run"].words.split()[0], "12.33")
        self.assertEqual(self.rows[group, "A ball made, of balls and misses"].words.split()[0], "92")
        self.assertEqual(self.counted(group, "Runs of a whole rack (14)"), (2, 3))

    def test_two_ways_and_a_chart_each(self):
        group = "Bank or safe (two ways)"
        self.assertEqual(self.counted(group, "– bank"), (1, 2))
        self.assertEqual(self.counted(group, "– safe"), (1, 2))
        self.assertEqual([one.name for one in self.page.charts], ["Stun ladder", "Long runs", "Bank or safe"])
        (line,) = self.page.charts[0].series
        self.assertEqual(line.y.round(1).tolist(), [75.0, 83.3])
        self.assertEqual([shots.tolist() for shots in line.shots], [[0, 1, 2, 3], [4, 5, 6, 7, 8, 9]])

    def test_who_did_not_practise_has_no_line(self):
        page = practice_page(practised(), "somebody", "", {})
        self.assertEqual((list(page.rows), list(page.charts)), ([], []))


class Search(unittest.TestCase):
    def found(self, line):
        sets = found_attempts(parse_query(line, FIELDS), practised())
        return sum(len(one.record.attempts) for one in sets)

    def test_attempts_are_found_by_what_was_said_of_them(self):
        for line, wanted in (
            ("", 19),
            ("exercise:ladder", 10),
            ('exercise:"two cushions"', 2),
            ("outcome:failure", 6),
            ("made:yes", 12),
            ("outcome:none", 1),
            ("changed:aim", 1),
            ("balls:>=14", 2),
            ("cause:pace", 1),
            ("soft", 1),
            ("date:2026-11-05", 9),
            ("player:pot kind:practice", 19),
            ("exercise:ladder or exercise:bank", 14),
            ("-exercise:ladder", 9),
            ("cut:>10", 0),
            ("foul:yes", 0),
            ("fluke:yes", 0),
        ):
            with self.subTest(line):
                self.assertEqual(self.found(line), wanted)

    def test_a_field_says_what_it_cannot_take(self):
        with self.assertRaises(NotAQuery):
            self.found("balls:many")

    def test_of_attempts_searched_for_nothing_is_said_that_needs_the_others(self):
        query = parse_query("exercise:ladder outcome:success", FIELDS)
        page = attempts_page(found_attempts(query, practised()), None, "", {})
        texts = {row.text for row in page.rows}
        self.assertIn("Successes", texts)
        self.assertFalse([text for text in texts if "first success" in text or "after" in text])


if __name__ == "__main__":
    unittest.main()
