"""The visit ledger and the course of a match, worked out by hand."""

import unittest

from ripasso.core.figures.ledger import Stamp, match_course, run_of
from ripasso.core.figures.rack_results import RackResult
from tests.core.games import broke, rack, score, shot

RUN = [shot("a", str(n)) for n in (1, 3, 4, 5, 6, 7, 8, 9)]


def results(scored, racks):
    """What came of racks, from the plain facts of the rule engine."""
    found = []
    for place, (facts, judged) in enumerate(zip(racks, scored.racks, strict=True)):
        winning = next((v for v in scored.visits_begun[place] if v.ended_by == "rack_won"), None)
        before = scored.score_before[place]
        found.append(
            RackResult(
                number=place + 1,
                sides=tuple(before),
                before=tuple(before.values()),
                winner=None if facts.not_shown else judged.winner,
                breaker=facts.breaker,
                run=(winning and run_of(judged, winning, facts.shots[0].intent)) or "",
                shown=not facts.not_shown,
                stated=facts.score_before is not None,
            )
        )
    return found


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
        self.course = match_course(self.score, stamps, results(self.score, self.RACKS))

    def test_racks(self):
        lines = self.course.racks
        came = [line.result for line in lines]
        self.assertEqual([one.winner for one in came], ["a", "b", None, "a"])
        self.assertEqual([one.run for one in came], ["break_and_run", "run_out", "", ""])
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
        # From 1–1 to 2–1: the score leaves no other course than that a won what is not shown.
        said = {side: streak.words for side, streak in self.course.longest_streak.items()}
        self.assertEqual(said, {"a": "2, by the score", "b": "1"})
        runs = {side: row.words for side, row in self.course.break_and_runs_in_a_row.items()}
        self.assertEqual(runs, {"a": "at least 1 shown", "b": "0"})

    def test_rows_of_three_racks(self):
        run = rack(broke("a", "2"), *RUN)
        three = (run,) * 3
        found = match_course(score("nine_ball", *three), {}, results(score("nine_ball", *three), three))
        self.assertEqual(found.longest_streak["a"].words, "3")
        self.assertEqual(found.break_and_runs_in_a_row["a"].words, "3")
        gap = (run, rack(not_shown=True, breaker=None), run)
        found = match_course(score("nine_ball", *gap), {}, results(score("nine_ball", *gap), gap))
        self.assertEqual(found.longest_streak["a"].words, "at least 1 shown")

    def test_a_nine_on_the_break_is_no_break_and_run(self):
        three = (rack(broke("a", "9")),) * 3
        found = match_course(score("nine_ball", *three), {}, results(score("nine_ball", *three), three))
        self.assertEqual({line.result.run for line in found.racks}, {"won_on_break"})
        self.assertEqual(found.break_and_runs_in_a_row["a"].length, 0)
        self.assertEqual(found.longest_streak["a"].length, 3)

    def test_without_marks_there_is_no_time(self):
        bare = match_course(self.score, {}, results(self.score, self.RACKS))
        self.assertEqual({v.seconds for v in bare.visits}, {None})

    def test_two_recordings_give_no_time_between_them(self):
        stamps = {(1, 1): Stamp("f", 1.0, 2.0), (1, 9): Stamp("g", 300.0, 310.0)}
        self.assertIsNone(match_course(self.score, stamps, results(self.score, self.RACKS)).visits[0].seconds)

    def test_a_visit_over_three_racks_of_straight_pool(self):
        one = [shot("b", str(n), call=str(n)) for n in range(1, 15)]
        racks = (rack(broke("a"), *one), rack(shot("b", "15", call="15"), shot("b"), breaker=None))
        scored = score("straight_pool", *racks)
        found = match_course(scored, {}, results(scored, racks))
        self.assertEqual([(v.strokes, v.visit.points) for v in found.visits], [(1, 0), (16, 15)])


if __name__ == "__main__":
    unittest.main()
