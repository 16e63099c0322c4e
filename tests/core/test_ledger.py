"""The visit ledger and the course of a match, worked out by hand."""

import unittest

from ripasso.core.figures.ledger import Stamp, match_course
from tests.core.games import broke, rack, score, shot

RUN = [shot("a", str(n)) for n in (1, 3, 4, 5, 6, 7, 8, 9)]


class Course(unittest.TestCase):
    """a runs from the break; b wins after a miss with six balls; a gap; a wins on a combination."""

    RACKS = (
        rack(broke("a", "2"), *RUN),
        rack(
            broke("b"),
            shot("a", "1", "2", "3"),
            shot("a"),
            *(shot("b", str(n)) for n in (4, 5, 6, 7, 8, 9)),
            breaker="b",
        ),
        rack(not_shown=True, breaker=None),
        rack(broke("a"), shot("b", cue_potted=True), shot("a", "9"), score_before={"a": 2, "b": 1}),
    )

    def setUp(self):
        self.score = score("nine_ball", *self.RACKS, race_to=7)
        stamps = {}
        for r, facts in enumerate(self.RACKS, start=1):
            for n, stroke in enumerate(facts.shots, start=1):
                stamps[r, n] = Stamp("f", 100.0 * r + 20 * n, 100.0 * r + 20 * n + 5, stroke.intent)
        breakers, shown = ["a", "b", None, "a"], [True, True, False, True]
        self.course = match_course(self.score, stamps, breakers, shown)

    def test_racks(self):
        lines = self.course.racks
        self.assertEqual([line.winner for line in lines], ["a", "b", None, "a"])
        self.assertEqual([line.run for line in lines], ["break_and_run", "run_out", None, None])
        self.assertEqual([line.on_own_break for line in lines], [True, True, None, True])
        self.assertEqual(
            [dict(line.after) for line in lines],
            [{"a": 1, "b": 0}, {"a": 1, "b": 1}, {"a": 2, "b": 1}, {"a": 3, "b": 1}],
        )
        self.assertEqual((lines[0].best.balls, lines[0].shots, lines[0].seconds), (9, 9, 165.0))

    def test_how_visits_began_and_ended(self):
        found = [
            (v.visit.player, v.began, v.visit.ended_by, v.visit.balls, v.strokes) for v in self.course.visits
        ]
        self.assertEqual(
            found,
            [
                ("a", "own_break", "rack_won", 9, 9),
                ("b", "own_break", "miss", 0, 1),
                ("a", "miss", "miss", 3, 2),
                ("b", "miss", "rack_won", 6, 6),
                ("a", "own_break", "miss", 0, 1),
                ("b", "miss", "foul", 0, 1),
                ("a", "ball_in_hand", "rack_won", 1, 1),
            ],
        )

    def test_seconds_and_seconds_a_stroke(self):
        run = self.course.visits[0]
        self.assertEqual(run.seconds, 8 * 20 + 5)
        self.assertAlmostEqual(run.seconds_per_stroke, 165 / 9)

    def test_no_streak_across_a_gap(self):
        self.assertEqual(self.course.longest_streak, {"a": 1, "b": 1})
        self.assertEqual(self.course.break_and_runs_in_a_row, {"a": 1, "b": 0})
        three = score("nine_ball", *[rack(broke("a", "9"))] * 3)
        stamps = {(r, 1): Stamp(intent="break") for r in (1, 2, 3)}
        streak = match_course(three, stamps, ["a"] * 3, [True] * 3)
        self.assertEqual((streak.longest_streak["a"], streak.break_and_runs_in_a_row["a"]), (3, 3))
        gap = match_course(three, stamps, ["a"] * 3, [True, False, True])
        self.assertEqual(gap.longest_streak["a"], 1)

    def test_without_marks_there_is_no_time(self):
        bare = match_course(self.score, {}, ["a", "b", None, "a"], [True, True, False, True])
        self.assertEqual({v.seconds for v in bare.visits}, {None})

    def test_two_recordings_give_no_time_between_them(self):
        stamps = {(1, 1): Stamp("f", 1.0, 2.0), (1, 9): Stamp("g", 300.0, 310.0)}
        self.assertIsNone(match_course(self.score, stamps, ["a"] * 4, [True] * 4).visits[0].seconds)

    def test_a_visit_over_three_racks_of_straight_pool(self):
        one = [shot("b", str(n), call=str(n)) for n in range(1, 15)]
        racks = (rack(broke("a"), *one), rack(shot("b", "15", call="15"), shot("b"), breaker=None))
        found = match_course(score("straight_pool", *racks), {}, ["a", None], [True, True])
        self.assertEqual([(v.strokes, v.visit.points) for v in found.visits], [(1, 0), (16, 15)])


if __name__ == "__main__":
    unittest.main()
