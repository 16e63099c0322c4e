"""Planned strokes and options in words, and one kept with its shot."""

import json
import math
import unittest
from dataclasses import replace

from ripasso.core.physics.motion import simulate
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.differences import differences
from ripasso.core.planning.expected import Share, expected
from ripasso.core.planning.explaining import Explained
from ripasso.core.planning.options import option_of
from ripasso.core.planning.problem import Problem
from ripasso.core.planning.variations import Variation, variations
from ripasso.core.table import table_spec
from ripasso.review.language.translation import tr
from ripasso.review.planner.planned_options import planned_option
from ripasso.review.present.option_words import option_sentence, tip_words
from ripasso.review.present.plan_words import (
    aim_words,
    difference_lines,
    played_words,
    promise_lines,
    stroke_lines,
    variation_line,
    variation_lines,
)
from ripasso.review.record.model import Shot

SPEC = table_spec(None)
CLUB = spreads_of_level("club", snooker=False)


def problem(call=("1", "foot_left")):
    layout = {"cue": (1.6, 0.5), "1": (2.2, 0.95), "9": (0.4, 0.4)}
    return Problem("nine_ball", SPEC, layout, ("1",), call)


class Words(unittest.TestCase):
    def setUp(self):
        self.addCleanup(tr.use, "")
        self.problem = problem()
        self.stroke = Stroke(math.atan2(0.45, 0.6), 2.0, 0.2, -0.3, 0.1)

    def test_a_stroke(self):
        self.assertEqual(
            aim_words(self.stroke, self.problem.call, "nine_ball"),
            "1 to foot left, back spin, right side, medium",
        )
        self.assertTrue(aim_words(self.stroke, None, "nine_ball").startswith("A free stroke"))
        lines = dict(stroke_lines(self.stroke, SPEC))
        self.assertEqual(lines["tip, mm"], "right 6, low 9")
        self.assertEqual(lines["pace"], "2.0 m/s, medium")
        self.assertEqual(dict(stroke_lines(Stroke(-0.1, 1.0), SPEC))["tip, mm"], "middle")
        self.assertEqual(dict(stroke_lines(Stroke(-0.1, 1.0), SPEC))["aim"], "354.3°")

    def test_what_parts_two_strokes(self):
        """One thing changed moves the cue ball as the stroke with it does; the rest moves it not at all."""
        other = replace(self.stroke, speed=1.1 * self.stroke.speed)
        found = differences(self.problem, self.stroke, other)
        self.assertEqual((found.by_aim_m, found.by_tip_m), (0.0, 0.0))
        self.assertEqual(found.by_pace_m, found.together_m)
        rests = [
            simulate(self.problem.layout, one, self.problem.bed, self.problem.physics).rest()["cue"]
            for one in (self.stroke, other)
        ]
        self.assertAlmostEqual(found.by_pace_m, math.dist(*rests))
        names = [name for name, _ in difference_lines(found, SPEC, "mm")]
        self.assertEqual(names, ["aim 0.0° right", "10 % harder", "same tip", "all together"])
        tip = 0.001 / SPEC.ball_radius
        moved = replace(self.stroke, a=self.stroke.a - 2 * tip, b=self.stroke.b + tip)
        lines = difference_lines(differences(self.problem, self.stroke, moved), SPEC, "mm")
        self.assertEqual(lines[2][0], "tip 2 left, 1 higher mm")
        self.assertRegex(lines[3][1], r"^stops \d+ mm away$")
        lost = replace(found, together_m=None)
        self.assertEqual(difference_lines(lost, SPEC, "mm")[3][1], "the cue ball falls")

    def test_what_it_promises(self):
        self.assertEqual(promise_lines(None)[0][1], "…")
        promise = expected(self.problem, self.stroke, CLUB, repetitions=60)
        lines = dict(promise_lines(promise))
        self.assertRegex(lines["made"], r"^\d+ % \(\d+–\d+\)$")
        bare = replace(promise, leave=Share(None, None, None, 0), left=Share(None, None, None, 0), side=None)
        self.assertEqual([name for name, _ in promise_lines(bare)], ["made", "foul", "in-off"])
        tr.use("en_US")
        self.assertIn("scratch", dict(promise_lines(promise)))
        self.assertEqual(tip_words(0.3, 0.2), "follow, right english")
        tr.use("en_GB")
        self.assertEqual(tip_words(-0.3, -0.3), "screw, left side")

    def test_a_little_more(self):
        waiting = variation_lines(None, SPEC, "mm", was_potted=True)
        self.assertEqual((waiting[0], len(waiting)), (("0.1° thinner", "…"), 8))
        found = variations(self.problem, self.stroke)
        lines = variation_lines(found, SPEC, "mm", was_potted=True)
        self.assertEqual([name for name, _ in lines], [name for name, _ in waiting])
        self.assertEqual(
            [one.name for one in found],
            ["thinner", "thicker", "harder", "softer", "left", "right", "higher", "lower"],
        )
        # Thinner meets less of the ball: it goes off more to the side.
        cut = {}
        for one in found[:2]:
            motion = simulate(self.problem.layout, one.stroke, self.problem.bed, self.problem.physics)
            hit = next(event for event in motion.events if event.kind == "ball_ball")
            away = hit.before[1][:2] - hit.before[0][:2]
            cut[one.name] = abs(math.atan2(away[1], away[0]) - one.stroke.phi)
        self.assertGreater(cut["thinner"], cut["thicker"])
        for moved, falls, potted, was, words in (
            (0.1, False, False, True, "missed, stops 100 mm away"),
            (0.1, False, True, False, "potted, stops 100 mm away"),
            (0.1, False, True, True, "stops 100 mm away"),
            (None, True, False, True, "the cue ball falls"),
        ):
            one = Variation("harder", self.stroke, moved, falls, potted)
            self.assertEqual(variation_line(one, SPEC, "mm", was_potted=was), ("5 % harder", words))
        # Past every ball there is no thin and no thick.
        free = variations(problem(None), Stroke(math.pi, 0.3))
        self.assertEqual(free[0].name, "harder")
        self.assertFalse(free[0].potted)

    def test_as_it_was_played(self):
        motion = simulate(self.problem.layout, self.stroke, self.problem.bed, self.problem.physics)
        sure = Explained(self.stroke, 0.001, 0.05, 0.02, 0.02, 0.004, motion)
        self.assertEqual(played_words(sure), "Played: back spin, right side, 2.00 ± 0.10 m/s, 4 mm off")
        self.assertIn("side not to be told", played_words(replace(sure, sd_a=0.4)))
        self.assertIn("so none is told", played_words(replace(sure, residual_m=0.2)))

    def test_an_option_in_a_sentence(self):
        option = option_of(self.problem, self.stroke, CLUB, repetitions=60)
        self.assertTrue(option_sentence(option, "nine_ball").startswith(f"{option.ball} "))
        for kind, words in (
            ("bank", "1 banked into foot left"),
            ("combination", "1 by a combination into foot left"),
            ("carom", "1 by a carom into foot left"),
            ("kick", "1 by a kick into foot left"),
        ):
            other = replace(option, kind=kind, ball="1", pocket="foot_left", cushions=("head", "left"))
            self.assertTrue(option_sentence(other, "nine_ball").startswith(words))
            self.assertIn("off 2 cushions", option_sentence(other, "nine_ball"))
        scratched = replace(option.expected, scratch=replace(option.expected.scratch, rate=0.1))
        risky = replace(option, ball="1", pocket="foot_left", expected=scratched)
        self.assertIn("; in-off 10 %", option_sentence(risky, "nine_ball"))
        safety = replace(option, kind="safety", ball="1", pocket=None)
        self.assertTrue(option_sentence(safety, "nine_ball").startswith("Safety on the 1"))
        kicked = replace(safety, kind="kick", cushions=("head",))
        self.assertIn("off 1 cushion:", option_sentence(kicked, "nine_ball"))


class Kept(unittest.TestCase):
    def test_a_stroke_becomes_an_option_of_its_shot(self):
        asked = problem()
        stroke = Stroke(math.atan2(0.45, 0.6), 2.0, 0.2, -0.3)
        motion = simulate(asked.layout, stroke, asked.bed, asked.physics)
        promise = expected(asked, stroke, CLUB, repetitions=60)
        shot = Shot.model_validate({"number": 1})
        ((path, options),) = planned_option(shot, asked, stroke, motion, promise).items()
        self.assertEqual(path, ("plan", "options"))
        (option,) = options
        self.assertEqual(option["call"], {"ball": "1", "pocket": "foot_left"})
        self.assertEqual(option["stroke"]["pace"], "medium")
        self.assertEqual(option["chance"], round(promise.pot.rate, 3))
        self.assertLessEqual(len(option["route"]), 41)
        made = Shot.model_validate_json(json.dumps({"number": 1, "plan": {"options": options}}))
        # A safety has no call, and what it leaves is the opponent's.
        other = problem(None)
        more = planned_option(made, other, stroke, motion, expected(other, stroke, CLUB, repetitions=60))
        second = more[("plan", "options")][1]
        self.assertEqual((second["id"], second["intent"]), ("o2", "safety"))
        self.assertNotIn("call", second)
        self.assertNotIn("chance", planned_option(made, asked, stroke, motion, None)[("plan", "options")][1])
