"""A table read: known layouts, and what the command line and the words make of plan and reading."""

import json
import math
import tempfile
import unittest
from contextlib import redirect_stdout
from io import StringIO
from pathlib import Path
from typing import ClassVar

import numpy as np

from ripasso.core.physics.motion import simulate
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.repeating import repeat, strokes_with_errors
from ripasso.core.planning.layout_file import BadLayout
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.planning.reading.balls import read_balls
from ripasso.core.planning.reading.clusters import clusters
from ripasso.core.planning.reading.table_reading import read_table
from ripasso.core.table import POCKETS, snooker_spots, table_spec
from ripasso.planning_command import plan_report, reading_report
from ripasso.report_lines import sentence_lines
from ripasso.review.present.reading_words import flag_word, reading_lines

CLUB = spreads_of_level("club", snooker=False)
POOL = table_spec(None)
#: The 6 and the 7 touch; the 8 hides in the mouth of the pocket that the 9 is frozen beside.
LAYOUT = {"cue": (0.7, 0.45), "5": (1.75, 0.85), "6": (0.9, 1.0), "7": (0.957, 1.0), "9": (2.2, 0.3)}


def problem(layout, game="nine_ball", group=None, spec=POOL):
    return Problem(game, spec, layout, balls_on(game, layout, group))


class Balls(unittest.TestCase):
    def test_clusters_are_balls_that_nearly_touch(self):
        self.assertEqual(clusters(problem(LAYOUT)), [("6", "7")])
        wide = {**LAYOUT, "7": (0.9 + 0.0572 + 0.006, 1.0)}
        self.assertEqual(clusters(problem(wide)), [])
        three = {**LAYOUT, "5": (1.014, 1.0)}
        self.assertEqual(clusters(problem(three)), [("5", "6", "7")])

    def test_a_ball_behind_another_has_its_pocket_once_that_is_gone(self):
        # The 1 frozen in the middle of the foot rail, a ball beside it on both sides: no pocket is left.
        near = {"2": (2.5114, 0.635 + 0.06), "3": (2.5114, 0.635 - 0.06)}
        layout = {"cue": (1.0, 0.6), "1": (2.5114, 0.635), **near}
        one = next(ball for ball in read_balls(problem(layout), CLUB) if ball.ball == "1")
        gone = {pocket.pocket: pocket.when_gone for pocket in one.pockets}
        self.assertEqual(gone["foot_left"], ("2",))
        self.assertEqual(gone["foot_right"], ("3",))
        self.assertIn("no_pocket", one.flags)
        self.assertEqual(flag_word(one), "no pocket")

    def test_a_ball_far_from_all_others_stands_alone(self):
        layout = {"cue": (1, 1), "1": (0.1, 0.1), "2": (2.4, 1.1), "3": (2.3, 0.9)}
        flags = {one.ball: one.flags for one in read_balls(problem(layout), CLUB)}
        self.assertIn("alone", flags["1"])
        self.assertNotIn("alone", flags["3"])


class Tables(unittest.TestCase):
    def test_a_cluster_with_what_opens_it_and_insurance(self):
        reading = read_table(problem(LAYOUT), CLUB)
        (cluster,) = reading.clusters
        self.assertEqual(cluster.balls, ("6", "7"))
        self.assertIn("5", [one.ball for one in cluster.openings])
        self.assertIn("9", cluster.insurance)
        told = "\n".join(reading_lines(reading, "nine_ball"))
        self.assertIn("The 6 and 7 lie together", told)
        links = {(one.first, one.then): one.kind for one in reading.links}
        self.assertEqual(links["5", "6"], "hard")

    def test_groups_are_compared_while_the_table_is_open(self):
        solids = {"1": (2.45, 1.18), "2": (0.1, 1.18)}
        stripes = {"9": (0.8, 0.64), "10": (0.857, 0.64)}
        layout = {"cue": (1.3, 0.7), "8": (0.12, 0.12), **solids, **stripes}
        reading = read_table(problem(layout, "eight_ball"), CLUB)
        first = {one.group: one for one in reading.groups}
        self.assertEqual(first["stripes"].trouble, ("9", "10"))
        self.assertGreater(first["solids"].clear, first["stripes"].clear)
        self.assertRegex("\n".join(reading_lines(reading, "eight_ball")), r"Solids \d+ %, stripes \d+ %")
        closed = read_table(problem(layout, "eight_ball", "solids"), CLUB)
        self.assertEqual(closed.groups, ())

    def test_the_break_ball_beside_the_rack_with_its_key_ball(self):
        layout = {"cue": (0.6, 0.5), "1": (1.72, 0.93), "2": (1.2, 1.1), "3": (0.1, 0.1)}
        reading = read_table(problem(layout, "straight_pool"), CLUB)
        self.assertEqual(reading.break_balls[0].ball, "1")
        self.assertIn(reading.break_balls[0].key_ball, ("2", "3"))
        self.assertIn("The 1 is the break ball", "\n".join(reading_lines(reading, "straight_pool")))

    def test_a_ball_is_bumped_into_place_where_no_break_ball_is(self):
        """All balls lie far from the rack: one is pushed nearer off another. Played, it comes off as said."""
        layout = {"cue": (0.63, 0.23), "1": (0.88, 0.4), "2": (1.09, 0.38), "3": (0.72, 0.52)}
        asked = problem(layout, "straight_pool")
        bump, *_ = read_table(asked, CLUB).bumps
        exact = simulate(layout, bump.stroke, asked.bed, asked.physics)
        self.assertEqual(exact.pockets, {bump.off: bump.pocket})
        self.assertLess(math.dist(exact.rest()[bump.ball], bump.place), 1e-6)
        self.assertGreater(bump.after, bump.before + 0.05)
        starts = strokes_with_errors(bump.stroke, CLUB, asked.physics, seed=99, count=2000)
        many = repeat(layout, starts, asked.bed, asked.physics)
        made = many.potted(bump.off) == POCKETS.index(bump.pocket)
        near = np.hypot(*(many.rest[:, many.balls.index(bump.ball)] - bump.place).T) < 0.2
        self.assertAlmostEqual(float((made & near).mean()), bump.share, delta=0.1)

    def test_a_good_break_ball_needs_no_bump(self):
        layout = {"cue": (0.6, 0.5), "1": (1.72, 0.93), "2": (1.2, 1.1)}
        self.assertEqual(read_table(problem(layout, "straight_pool"), CLUB).bumps, ())

    def test_reds_and_colours(self):
        spec = table_spec({"preset": "snooker_12ft"})
        spread = spreads_of_level("club", snooker=True)
        layout = {"cue": (1.0, 0.9), "red1": (2.9, 0.4), **snooker_spots(spec)}
        reading = read_table(problem(layout, "snooker", spec=spec), spread)
        self.assertEqual(reading.open_reds, ("red1",))
        self.assertIn("black", reading.free_colours)
        told = "\n".join(reading_lines(reading, "snooker"))
        self.assertIn("1 red can be potted", told)

    def test_an_open_table_has_nothing_in_the_way(self):
        reading = read_table(problem({"cue": (1.2, 0.6), "9": (2.0, 0.9)}), CLUB)
        self.assertIn("nothing stands in the way", reading_lines(reading, "nine_ball")[0])


class Commands(unittest.TestCase):
    DATA: ClassVar = {"game": "nine_ball", "layout": {"cue": [0.7, 0.45], "8": [1.75, 0.85], "9": [2.2, 0.3]}}

    def test_a_plan_as_json_and_in_sentences(self):
        report = plan_report(self.DATA, 20, 1, None)
        self.assertEqual((report["format"], report["version"]), ("ripasso-plan", 1))
        self.assertEqual([one["ball"] for one in report["order"]], ["8", "9"])
        clear = report["clear"]
        self.assertTrue(0 < clear["low"] < clear["value"] < clear["high"] <= 1)
        self.assertLessEqual(report["grid_m"], 0.1)
        rows = report["map"]["value"]
        self.assertEqual((len(rows), len(rows[0])), (len(report["map"]["y"]), len(report["map"]["x"])))
        self.assertEqual(report["played"]["of"], 20)
        lines = list(sentence_lines(report))
        self.assertRegex(lines[0], r"^To clear: \d+ % \(\d+–\d+ %\)\.$")
        self.assertIn("In this order: 8 and then 9.", lines)
        self.assertRegex(lines[-1], r"^Played out 20 times: cleared in ")
        json.dumps(report)

    def test_in_hand_the_best_place_is_found(self):
        data = {"game": "nine_ball", "layout": {"9": [2.47, 1.2]}}
        report = plan_report(data, 0, 1, "club")
        self.assertTrue(report["in_hand"])
        self.assertGreater(report["clear"]["value"], 0.97)

    def test_where_nothing_can_be_potted_it_says_so(self):
        wall = {str(i): [1.6, 0.635 + 0.0572 * (i - 5)] for i in range(2, 9)}
        data = {"game": "nine_ball", "layout": {"cue": [0.6, 0.635], "1": [2.2, 0.635], **wall}}
        report = plan_report(data, 0, 1, None)
        self.assertEqual(report["order"], [])
        self.assertEqual(list(sentence_lines(report)), ["Nothing can be potted from here."])

    def test_a_reading_as_json(self):
        layout = {ball: list(place) for ball, place in LAYOUT.items()}
        report = reading_report({"game": "nine_ball", "layout": layout}, 0, 1, None)
        self.assertEqual(report["format"], "ripasso-table-reading")
        self.assertEqual(report["clusters"], [["6", "7"]])
        self.assertIn("cluster", report["balls"]["6"]["flags"])
        self.assertGreater(report["balls"]["5"]["pockets"]["foot_left"]["best"], 0.9)
        json.dumps(report)

    def test_bad_input_gets_one_sentence(self):
        for work in (plan_report, reading_report):
            with self.assertRaises(BadLayout):
                work({"game": "nine_ball", "layout": {"cue": [1, 0.5]}}, 0, 1, None)
        with self.assertRaisesRegex(BadLayout, "Repetitions"):
            plan_report(self.DATA, -1, 1, None)

    def test_the_program_answers(self):
        from ripasso.cli import main

        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "layout.json"
            path.write_text(json.dumps(self.DATA))
            with redirect_stdout(StringIO()) as told:
                self.assertEqual(main(["reading", str(path), "--json"]), 0)
            self.assertEqual(json.loads(told.getvalue())["clusters"], [])
