"""What a stroke promises: counted by the rules, agreeing with independent repetitions; layouts as files."""

import contextlib
import io
import json
import math
import tempfile
import unittest
from pathlib import Path

from ripasso.cli import main
from ripasso.core.physics.aiming import aim_at
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.expected import expected
from ripasso.core.planning.layout_file import BadLayout, problem_of, stroke_of
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.table import table_spec

CLUB = spreads_of_level("club", snooker=False)
DATA = {
    "game": "nine_ball",
    "table": {"preset": "pool_9ft"},
    "layout": {"cue": [1.2, 0.4], "1": [1.9, 0.9], "2": [0.8, 1.0], "9": [2.2, 0.3]},
    "call": {"ball": "1", "pocket": "foot_left"},
}


def aimed(problem, speed, a=0.0, b=0.0):
    target = (problem.spec.length, problem.spec.width)
    places = problem.layout
    return aim_at(Stroke(0.0, speed, a, b), places["cue"], places["1"], target, problem.physics)


class Expecting(unittest.TestCase):
    def setUp(self):
        self.problem = problem_of(DATA)

    def test_a_stroke_is_counted(self):
        found = expected(self.problem, aimed(self.problem, 2.0), CLUB)
        self.assertEqual(found.pot.of, 400)
        self.assertGreater(found.pot.rate, 0.6)
        self.assertLess(found.foul.rate, 0.1)
        self.assertEqual(found.leave.of, 120)
        self.assertTrue(0 < found.leave.low <= found.leave.value <= found.leave.high < 1)
        self.assertEqual(len(found.cloud), found.pot.made)
        self.assertTrue(found.ended)

    def test_twenty_thousand_more_agree(self):
        stroke = aimed(self.problem, 2.5, b=-0.2)
        few = expected(self.problem, stroke, CLUB, seed=1, repetitions=400)
        many = expected(self.problem, stroke, CLUB, seed=99, repetitions=20_000)
        for name in ("pot", "foul", "scratch"):
            one, other = getattr(few, name), getattr(many, name).rate
            self.assertTrue(one.low - 0.01 <= other <= one.high + 0.01, (name, one, other))

    def test_a_better_player_pots_more(self):
        stroke = aimed(self.problem, 2.5)
        rates = [
            expected(self.problem, stroke, spreads_of_level(level, snooker=False)).pot.rate
            for level in ("beginner", "club", "professional")
        ]
        self.assertEqual(rates, sorted(rates))
        self.assertGreater(rates[2], rates[0] + 0.05)

    def test_fouls_are_those_of_the_game(self):
        # Straight at the 9 first: a foul at nine-ball, none at straight pool where a cushion follows.
        cue, nine = self.problem.layout["cue"], self.problem.layout["9"]
        stroke = Stroke(math.atan2(nine[1] - cue[1], nine[0] - cue[0]), 3.0)
        self.assertEqual(expected(self.problem, stroke, CLUB, repetitions=50).foul.rate, 1.0)
        other = problem_of({**DATA, "game": "straight_pool", "call": {}})
        self.assertLess(expected(other, stroke, CLUB, repetitions=50).foul.rate, 0.5)
        # Too soft for a cushion.
        ball = self.problem.layout["1"]
        soft = Stroke(math.atan2(ball[1] - cue[1], ball[0] - cue[0]), 0.55)
        self.assertEqual(expected(self.problem, soft, CLUB, repetitions=50).foul.rate, 1.0)
        snooker = Problem(
            "snooker",
            table_spec({"preset": "snooker_12ft"}),
            {"cue": (1.0, 0.6), "red1": (1.6, 0.6)},
            ("red1",),
        )
        gentle = expected(snooker, Stroke(0.0, 0.6), spreads_of_level("club", snooker=True), repetitions=50)
        self.assertEqual(gentle.foul.rate, 0.0)

    def test_balls_on_of_a_bare_layout(self):
        self.assertEqual(balls_on("nine_ball", ("cue", "9", "3", "5")), ("3",))
        self.assertEqual(balls_on("snooker", ("cue", "blue", "black")), ("blue",))
        self.assertEqual(balls_on("snooker", ("cue", "red4", "black")), ("red4",))
        self.assertEqual(balls_on("eight_ball", ("cue", "3", "8", "12"), "stripes"), ("12",))
        self.assertEqual(balls_on("eight_ball", ("cue", "8", "12"), "solids"), ("8",))
        self.assertEqual(set(balls_on("straight_pool", ("cue", "3", "4"))), {"3", "4"})
        colours = problem_of(
            {
                "game": "snooker",
                "table": {"preset": "snooker_12ft"},
                "layout": {"cue": [1, 1], "red1": [2, 1], "blue": [1.7, 0.9], "black": [3.2, 0.9]},
            }
        )
        self.assertEqual(set(colours.after(["red1"])), {"blue", "black"})
        self.assertEqual(colours.after(["blue"]), ("red1",))


class Files(unittest.TestCase):
    def run_with(self, data, *more):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "layout.json"
            path.write_text(json.dumps(data), encoding="utf-8")
            out, err = io.StringIO(), io.StringIO()
            with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
                code = main(["simulate", str(path), *more])
            return code, out.getvalue(), err.getvalue()

    def test_simulate_answers_in_json_and_in_lines(self):
        data = {**DATA, "strike": {"ball": "cue", "phi_deg": 36.0, "v0": 2.0, "b": -0.2}}
        code, out, _ = self.run_with(data, "--repetitions", "200", "--seed", "3", "--json")
        report = json.loads(out)
        self.assertEqual((code, report["format"]), (0, "ripasso-motion"))
        self.assertEqual(report["repeated"]["n"], 200)
        self.assertEqual(report["repeated"]["pot"]["of"], 200)
        self.assertEqual(len(report["repeated"]["rest"]["cov"]), 2)
        self.assertEqual({ball["id"] for ball in report["final"]}, set(DATA["layout"]))
        again = json.loads(self.run_with(data, "--repetitions", "200", "--seed", "3", "--json")[1])
        again["repeated"]["seconds"] = report["repeated"]["seconds"]
        self.assertEqual(again, report)
        code, out, _ = self.run_with(data, "--repetitions", "50", "--level", "professional")
        self.assertIn("50 times:", out)
        self.assertIn("ball ball", out)

    def test_what_is_no_layout_is_told_in_a_sentence(self):
        good = {**DATA, "strike": {"phi_deg": 36.0, "v0": 2.0}}
        for wrong, words in (
            ({**good, "layout": {}}, "needs “layout”"),
            ({**good, "layout": {"cue": [1]}}, "two numbers"),
            ({**good, "layout": {"1": [1, 0.5]}}, "no cue ball"),
            ({**good, "strike": {"phi_deg": 1}}, "needs “v0”"),
            ({**good, "strike": {"phi_deg": "x", "v0": 1}}, "should be a number"),
            ({**good, "strike": {"phi_deg": 0, "v0": 1, "theta_deg": 90.5}}, "goes forward"),
            ({**good, "call": {"ball": "1", "pocket": "attic"}}, "no pocket"),
            ({"balls": [], "params": {"colour": 1}}, "no constant"),
            ({"balls": [{"x": 0, "y": 0}], "strike": {"ball": 7, "phi_deg": 0, "v0": 1}}, "no ball"),
        ):
            code, _, complaint = self.run_with(wrong)
            self.assertEqual(code, 2, wrong)
            self.assertIn(words, complaint)
            self.assertEqual(complaint.count("\n"), 1)

    def test_the_cue_s_speed_may_be_given(self):
        problem = problem_of(DATA)
        stroke = stroke_of({"phi_deg": 0, "V": 2.0}, problem.physics)
        self.assertAlmostEqual(stroke.speed, 2.0 * 1.75 / (1 + problem.physics.mass / 0.54), places=9)
        with self.assertRaises(BadLayout):
            stroke_of({"phi_deg": 0}, problem.physics)
        with contextlib.redirect_stderr(io.StringIO()):
            self.assertEqual(main(["simulate", "/nowhere/at/all.json"]), 2)
