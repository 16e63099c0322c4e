"""The rule of due dates against a table written out by hand; timetables of random wishes; ladders."""

import unittest
from datetime import date, timedelta

import numpy as np

from ripasso.core.practice.due import (
    GAPS_DAYS,
    Goal,
    Standing,
    after_set,
    lower_end,
    passed,
    skipped,
)
from ripasso.core.practice.ladder import LadderRule, rungs
from ripasso.core.practice.timetable import MOST_OF_A_KIND, Wish, days_of, timetable

DAY = date(2026, 11, 30)
#: Level before, passed, level after, days until it is due: written out by hand from the rule.
BY_HAND = (
    (0, True, 1, 2),
    (1, True, 2, 4),
    (2, True, 3, 8),
    (3, True, 4, 16),
    (4, True, 5, 32),
    (5, True, 6, 64),
    (6, True, 6, 64),
    (0, False, 0, 1),
    (1, False, 0, 1),
    (2, False, 0, 1),
    (3, False, 1, 2),
    (4, False, 2, 4),
    (5, False, 3, 8),
    (6, False, 4, 16),
)


def outcomes(text):
    return [{"1": True, "0": False, "?": None}[one] for one in text]


class Due(unittest.TestCase):
    def test_the_table_by_hand(self):
        for level, is_passed, then, days in BY_HAND:
            with self.subTest(level=level, is_passed=is_passed):
                found = after_set(level, DAY, is_passed=is_passed)
                self.assertEqual(found, Standing(then, DAY + timedelta(days=days)))

    def test_skipping_moves_the_date_and_not_the_level(self):
        self.assertEqual(skipped(Standing(3, DAY - timedelta(days=9)), DAY), Standing(3, date(2026, 12, 1)))
        self.assertEqual(skipped(Standing(3, date(2026, 12, 4)), DAY), Standing(3, date(2026, 12, 5)))

    def test_a_share_is_reached_by_the_lower_end_of_the_80_per_cent_interval(self):
        """Wilson's interval at z = 1.2816: 16 of 20 begins at 0.664, 18 of 20 at 0.782."""
        self.assertAlmostEqual(lower_end(outcomes("1" * 16 + "0" * 4)), 0.6644, places=3)
        self.assertAlmostEqual(lower_end(outcomes("1" * 18 + "00")), 0.7816, places=3)
        self.assertTrue(passed(outcomes("1" * 16 + "0000"), Goal(share=0.66)))
        self.assertFalse(passed(outcomes("1" * 16 + "0000"), Goal(share=0.67)))
        self.assertFalse(passed([], Goal(share=0.1)))

    def test_so_many_of_so_many_in_a_row(self):
        self.assertTrue(passed(outcomes("0011101"), Goal(made=3)))
        self.assertFalse(passed(outcomes("0110110"), Goal(made=3)))
        self.assertTrue(passed(outcomes("0110110"), Goal(made=4, of=5)))
        self.assertTrue(passed(outcomes("1?11"), Goal(made=3)), "what nobody judged does not count")
        self.assertFalse(passed(outcomes("111"), Goal()))


class Ladder(unittest.TestCase):
    def test_up_and_down(self):
        rule = LadderRule(last=2, up=3, of=4, down=2)
        self.assertEqual(rungs(outcomes("111"), rule), [0, 0, 0, 1])
        self.assertEqual(rungs(outcomes("1101"), rule), [0, 0, 0, 0, 1])
        self.assertEqual(rungs(outcomes("11100"), rule), [0, 0, 0, 1, 1, 0])
        self.assertEqual(rungs(outcomes("111111111"), rule)[-1], 2, "there is no rung above the last")
        self.assertEqual(rungs(outcomes("0000"), rule)[-1], 0)
        self.assertEqual(rungs(outcomes("1?11"), rule), [0, 0, 0, 0, 1])


class Timetable(unittest.TestCase):
    def wishes(self, seed):
        draw = np.random.default_rng(seed)
        return [
            Wish(
                str(n),
                str(draw.choice(["one_shot", "run", "ghost", "lag"])),
                int(draw.choice([5, 10, 15, 20, 30, 45])),
                DAY + timedelta(days=int(draw.integers(-5, 20))),
                int(draw.integers(0, 7)),
                float(draw.uniform(0, 3)),
            )
            for n in range(int(draw.integers(1, 12)))
        ]

    def test_200_random_wishes(self):
        """No session over its minutes, no kind over its share, everything that is due placed or named."""
        for seed in range(200):
            draw = np.random.default_rng((seed, 1))
            wishes, minutes = self.wishes(seed), int(draw.choice([20, 30, 45, 60, 90, 120]))
            days = days_of(DAY, 4, draw.choice(["mon", "wed", "fri", "sun"], 2, replace=False))
            found = timetable(wishes, days, minutes)
            kinds = {one.exercise: one.kind for one in wishes}
            placed = set()
            for session in found.sessions:
                self.assertLessEqual(session.minutes, minutes)
                self.assertIn(session.day, days)
                own = [slot for slot in session.slots if slot.what == "exercise"]
                self.assertEqual(len({slot.exercise for slot in own}), len(own))
                placed |= {slot.exercise for slot in own}
                for kind in set(kinds.values()):
                    of_kind = sum(slot.minutes for slot in own if kinds[slot.exercise] == kind)
                    self.assertLessEqual(of_kind, MOST_OF_A_KIND * minutes)
            due = {one.exercise for one in wishes if one.due <= days[-1]}
            named = {exercise for exercise, _ in found.left_out}
            self.assertEqual(placed | named, due, seed)
            self.assertFalse(placed & named)

    def test_what_is_due_longest_comes_first_and_comes_back_by_its_gap(self):
        wishes = [
            Wish("late", "run", 10, date(2026, 12, 2), level=3),
            Wish("due", "one_shot", 10, DAY, level=1, cost=1.0),
        ]
        days = days_of(DAY, 2, ["mon", "wed", "fri"])
        found = timetable(wishes, days, 60)
        by_day = {
            s.day: [slot.exercise for slot in s.slots if slot.what == "exercise"] for s in found.sessions
        }
        self.assertEqual(by_day[DAY], ["due"])
        self.assertEqual(by_day[date(2026, 12, 2)], ["due", "late"])
        self.assertNotIn("late", by_day[date(2026, 12, 4)], "level 3 is eight days")
        first = found.sessions[0].slots
        self.assertEqual([slot.what for slot in first], ["warm_up", "exercise", "measured"])
        self.assertEqual(first[-1].exercise, "due")

    def test_what_does_not_fit_is_named_with_its_reason(self):
        long = Wish("long", "run", 90, DAY)
        self.assertEqual(timetable([long], days_of(DAY, 1, ["mon"]), 60).left_out, (("long", "too_long"),))
        self.assertEqual(timetable([long], [], 60).left_out, (("long", "no_day"),))
        many = [Wish(str(n), str(n), 20, DAY) for n in range(4)]
        self.assertEqual(timetable(many, [DAY], 60).left_out, (("2", "no_room"), ("3", "no_room")))

    def test_the_days_of_weeks(self):
        self.assertEqual(days_of(DAY, 1, ["sun", "mon", "noday"]), [DAY, date(2026, 12, 6)])
        self.assertEqual(len(GAPS_DAYS), 7)


if __name__ == "__main__":
    unittest.main()
