"""Plans, readings and clearings in words, branch by branch, from plain values."""

import unittest
from dataclasses import replace

from ripasso.core.geometry.zones import Polygon
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.backward.plans import RackPlan, Step
from ripasso.core.planning.reading.balls import BallRead, PocketRead
from ripasso.core.planning.reading.bumps import Bump
from ripasso.core.planning.reading.links import BreakBall, Link, Opening
from ripasso.core.planning.reading.table_reading import ClusterRead, GroupRead, TableReading
from ripasso.review.language.vocabulary import pocket_letters
from ripasso.review.present.rack_plan_words import (
    answer_words,
    interval_words,
    own_order_words,
    plan_lines,
    question_words,
)
from ripasso.review.present.reading_words import flag_word, reading_lines
from ripasso.review.present.weighed_words import clearing_story, weighed_words
from ripasso.review.record.model import Shot
from ripasso.review.scoring.weighed import cleared_away, losing_shot

STROKE = Stroke(0.0, 2.0)


def step(ball, *, hard=False, keeps=0.9, zone=True):
    area = Polygon(((0, 0), (1, 0), (1, 1))) if zone else None
    return Step(ball, "foot_left", STROKE, (1, 0.5), (1.2, 0.6), 0.9, 0.7, 0.8, keeps, hard, area)


PLAN = RackPlan((1, 0.5), 0.5, 0.1, (step("1"), step("2"), step("9", zone=False)), True)


class Plans(unittest.TestCase):
    def test_lines_of_a_plan(self):
        self.assertIn("No step of it is hard.", plan_lines(PLAN, "nine_ball"))
        self.assertEqual(plan_lines(PLAN, "nine_ball", "aim")[-1], "What decides is the aim.")
        hard = replace(PLAN, steps=(step("1"), step("2", hard=True, keeps=0.4), step("9")))
        self.assertIn(
            "The hard step is from the 2 to the 9: 36 % of the chance is kept.", plan_lines(hard, "nine_ball")
        )
        last = replace(PLAN, steps=(step("1"), step("9", hard=True)))
        self.assertIn("The hard step is the 9: 90 %.", plan_lines(last, "nine_ball"))
        others = replace(PLAN, others=((("2", "1"), 0.45),))
        self.assertEqual(plan_lines(others, "straight_pool")[-1], "Else the 2 first: 45 %.")
        ahead = replace(PLAN, whole=False, steps=(step("1"),))
        lines = plan_lines(ahead, "straight_pool")
        self.assertEqual(lines[0], "The next 1 pots: 50 % (40–60 %); further was not looked.")
        self.assertEqual(lines[1], "In this order: 1.")
        self.assertEqual(interval_words(replace(PLAN, clear=0.98)), "98 % (88–100 %)")

    def test_orders_questions_and_answers(self):
        self.assertIn("being worked out", own_order_words(("2", "1"), None, PLAN))
        self.assertIn("40 %, against 50 %", own_order_words(("2", "1"), 0.4, PLAN))
        self.assertIn("is the last ball", question_words(step("9"), last=True))
        self.assertIn("Before that the 2", question_words(step("2"), last=False))
        self.assertIn("cleared in 80 %", answer_words(step("2"), 0.8, "nine_ball"))
        self.assertRegex(pocket_letters("foot_left", "nine_ball"), r"^\w+ L$")
        self.assertTrue(pocket_letters("foot_left", "snooker"))


def ball(name, flags=(), pockets=()):
    return BallRead(name, (1, 0.5), tuple(pockets), tuple(flags))


def pocket(name="foot_left", best=1.0, gone=()):
    return PocketRead(name, None, best, 0.5, tuple(gone))


EMPTY = TableReading((), (), (), (), (), (), ())


class Readings(unittest.TestCase):
    def test_trouble(self):
        told = reading_lines(
            replace(
                EMPTY,
                balls=(
                    ball("1", ("no_pocket", "trouble")),
                    ball("2", ("no_pocket", "trouble"), [pocket(best=0.0, gone=("3", "4"))]),
                    ball("3", ("no_pocket", "trouble"), [pocket(best=0.0, gone=("4",))]),
                    ball("4", ("one_pocket", "on_rail", "trouble"), [pocket()]),
                    ball("5", ("one_pocket",), [pocket()]),
                ),
            ),
            "nine_ball",
        )
        self.assertEqual(told[0], "The 1 has no pocket.")
        self.assertEqual(told[1], "The 2 has no pocket until the 3 and 4 are gone.")
        self.assertEqual(told[2], "The 3 has no pocket until the 4 is gone.")
        self.assertIn("lies on the rail", told[3])
        self.assertEqual(len(told), 4)
        self.assertEqual(flag_word(ball("1", ("cluster",))), "cluster")
        self.assertEqual(flag_word(ball("1", ("one_pocket",))), "one pocket")

    def test_clusters_links_groups_and_the_rest(self):
        opening = Opening("5", "foot_left", 0.2, (20.0, 45.0))
        clusters = (
            ClusterRead(("6", "7"), (opening,), ("8",)),
            ClusterRead(("2", "3"), (opening,), ("5",)),
            ClusterRead(("10", "11"), (), ()),
        )
        told = reading_lines(replace(EMPTY, clusters=clusters), "nine_ball")
        self.assertIn("and the 8 is on afterwards", told[0])
        self.assertIn("no ball is on afterwards for sure", told[1])
        self.assertIn("no plain pot opens them", told[2])
        links = (Link("1", "2", 0.3), Link("2", "3", 0.7), Link("3", "4", 0.9))
        self.assertEqual([one.kind for one in links], ["hard", "fair", "easy"])
        told = reading_lines(replace(EMPTY, links=links), "nine_ball")
        self.assertEqual(told[0], "From the 1 to the 2 is hard: 30 % from a good place.")
        self.assertEqual(told[1], "Easy steps: 3 to 4.")
        groups = (GroupRead("solids", ("1",), (), 0.2), GroupRead("stripes", ("9",), (), 0.6))
        self.assertEqual(
            reading_lines(replace(EMPTY, groups=groups), "eight_ball"),
            ["Stripes 60 %, solids 20 % to clear."],
        )
        troubled = (GroupRead("solids", ("1",), ("1",), 0.2), groups[1])
        self.assertIn("1 ball of solids in trouble", reading_lines(replace(EMPTY, groups=troubled), "x")[0])
        breaks = (BreakBall("1", 0.9, None, 0.0), BreakBall("2", 0.8, "3", 0.7))
        told = reading_lines(replace(EMPTY, break_balls=breaks), "straight_pool")
        self.assertEqual(told, ["The 1 is the break ball.", "Else the 2."])
        bump = Bump("2", "3", "foot_left", Stroke(0.0, 1.0, 0.0, 0.0, 0.0), (1.0, 0.5), 0.6, 0.1, 0.4)
        told = reading_lines(replace(EMPTY, break_balls=breaks[:1], bumps=(bump,)), "straight_pool")
        self.assertEqual(told[0], "The 1 comes nearest to a break ball as it lies.")
        self.assertIn("The 2 can be bumped into place off the 3", told[1])
        told = reading_lines(replace(EMPTY, open_reds=("red1",), free_colours=("blue", "pink")), "snooker")
        self.assertEqual(told[0], "1 red can be potted.")
        self.assertIn("blue and pink", told[1].lower())


def shot(number, **clear):
    option = {"kind": "pot", "ball": "1", "pocket": "foot_left", "value": 0.6, "low": 0.5, "high": 0.7}
    weighed = {"best": option, "chosen": option, "level": "club"}
    if clear:
        weighed["clear"] = clear
    return Shot.model_validate({"number": number, "decision": {"weighed": weighed}})


class Clearings(unittest.TestCase):
    def test_a_rack_without_and_with_chances(self):
        plain, safe = shot(1), shot(2, before=0.5)
        self.assertEqual(clearing_story([plain, safe]), "")
        self.assertIsNone(cleared_away(safe))
        self.assertIsNone(losing_shot([plain]))
        kept, lost = shot(3, before=0.8, chosen=0.8, after=0.9), shot(4, before=0.9, chosen=0.7, after=0.0)
        self.assertIsNone(losing_shot([kept]))
        self.assertEqual(clearing_story([kept]), "")
        self.assertEqual(losing_shot([kept, lost])[0], 4)
        self.assertIn("most at shot 4: 0.90", clearing_story([kept, lost]))
        self.assertIn("to clear 50 % before it", weighed_words(safe, "nine_ball"))
        self.assertIn("to clear 90 % before it, 0 % after it", weighed_words(lost, "nine_ball"))


class Kept(unittest.TestCase):
    def test_the_plan_as_it_is_kept(self):
        from ripasso.review.planner import rack_plans

        made = rack_plans._planned_ball(step("1", hard=True))
        self.assertEqual((made["link"], len(made["zone"]["polygon"])), ("hard", 3))
        self.assertNotIn("zone", rack_plans._planned_ball(step("9", zone=False)))
