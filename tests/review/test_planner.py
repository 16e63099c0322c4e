"""What the simulator says of choices, straight from its functions: clearings, kept plans, drawings."""

import unittest
from dataclasses import replace

from ripasso.core.geometry.zones import Polygon
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.backward.plans import RackPlan, Step
from ripasso.core.planning.backward.solving import Stopped
from ripasso.core.planning.clearing import RackFollower
from ripasso.core.planning.problem import Problem
from ripasso.core.table import table_spec
from ripasso.drawing.chain import chain, landings
from ripasso.drawing.rack_plan import DrawnStep, flags, plan_ways, shades
from ripasso.review.planner.rack_plans import keep_plan
from ripasso.review.planner.weighed_choices import Choice, clearings, level_of
from ripasso.review.record.people import PROGRAM
from tests.sessions import document_with, played, rack_of, session

SPEC = table_spec({"preset": "pool_9ft"})
CLUB = spreads_of_level("club", snooker=False)
#: The 8 hangs at foot left, the 9 at the side pocket.
LAYOUT = {"cue": (1.9, 0.95), "8": (2.46, 1.2), "9": (1.27, 0.12)}
AFTER = {"cue": (1.5, 0.6), "9": (1.27, 0.12)}


def choice(number, layout, on, meant, **more):
    problem = Problem("nine_ball", SPEC, layout, on)
    return Choice(f"shot {number}", number, problem, meant, more.pop("reached", 0.5), **more)


class Clearings(unittest.TestCase):
    def test_before_with_and_after_each_choice(self):
        first = choice(1, LAYOUT, ("8",), ("8", "foot_left"), goes_on=True)
        last = choice(2, AFTER, ("9",), ("9", "side_right"), reached=1.0, ends=True)
        found = clearings([first, last], CLUB, lambda: True)
        one, two = found["shot 1"], found["shot 2"]
        self.assertGreater(one["before"], 0.7)
        self.assertGreaterEqual(one["before"], one["chosen"])
        self.assertEqual(one["after"], two["before"])
        self.assertEqual((one["hard"], one["clusters"]), (0, 0))
        self.assertNotIn("hard", two, "the visit goes on")
        self.assertEqual(two["after"], 1.0)
        self.assertEqual(len(one["rest"]), 2)

    def test_a_safety_and_a_miss(self):
        safe = choice(1, LAYOUT, ("8",), None)
        missed = choice(2, LAYOUT, ("8",), ("8", "foot_left"))
        found = clearings([safe, missed], CLUB, lambda: True)
        self.assertEqual(set(found["shot 1"]), {"before", "hard", "clusters"})
        self.assertEqual(found["shot 2"]["after"], 0.0)

    def test_work_that_is_stopped_says_nothing(self):
        self.assertEqual(clearings([choice(1, LAYOUT, ("8",), None)], CLUB, lambda: False), {})
        with self.assertRaises(Stopped):
            RackFollower(CLUB, lambda: False).chances(Problem("nine_ball", SPEC, LAYOUT, ("8",)), None)

    def test_whose_spreads_are_meant(self):
        self.assertEqual(level_of(session()), "club")
        self.assertEqual(level_of(session(level="county")), "county")
        self.assertEqual(level_of(session(level={"aim_spread_mrad": 1.2})), "stated")


def step(ball, *, hard=False, zone=None):
    stroke = Stroke(0.0, 2.0, 0.0, 0.0)
    return Step(ball, "foot_left", stroke, (1, 0.5), (1.5, 0.6), 0.9, 0.8, 0.85, 0.9, hard, zone)


class Kept(unittest.TestCase):
    def test_a_plan_is_one_more_and_replaces_the_program_s_older_one(self):
        document = document_with(session(racks=[rack_of(played("a", "1"), played("a"))]))
        zone = Polygon(((1.0, 0.5), (1.2, 0.5), (1.1, 0.7)))
        plan = RackPlan((1, 0.5), 0.7, 0.1, (step("8", hard=True, zone=zone), step("9")), True)
        for shot, group in ((1, None), (2, "solids"), (2, None)):
            now = document.session("test")
            document.run(keep_plan(now, now.racks[0], plan, shot=shot, group=group))
        plans = document.session("test").racks[0].record.plans
        told = [(one.by, one.made_at_shot, one.group) for one in plans]
        self.assertEqual(told, [(PROGRAM, None, None), (PROGRAM, 2, None)])
        self.assertEqual(plans[0].key_ball, "8")
        self.assertEqual([one.link for one in plans[0].order], ["hard", "easy"])
        self.assertEqual(len(plans[0].order[0].zone.polygon), 3)
        alone = replace(plan, steps=(step("9"),))
        now = document.session("test")
        document.run(keep_plan(now, now.racks[0], alone, shot=1))
        self.assertIsNone(document.session("test").racks[0].record.plans[-1].key_ball)
        for _ in range(2):  # one's own order stands beside it, once
            now = document.session("test")
            document.run(keep_plan(now, now.racks[0], plan, shot=1, by=None))
        plans = document.session("test").racks[0].record.plans
        self.assertEqual([(one.by, one.made_at_shot) for one in plans][-2:], [(PROGRAM, None), (None, None)])
        self.assertEqual([one.version for one in plans], sorted({one.version for one in plans}))


class Drawn(unittest.TestCase):
    def test_the_chosen_step_stands_out_and_the_last_has_no_rest(self):
        last = DrawnStep((1.5, 0.5), (1, 1), (1.27, 1.27), None)
        drawn = plan_ways([DrawnStep((1, 0.5), (2, 0.6), (2.5, 1.2), (1.5, 0.5)), last], 1, 0.028)
        self.assertEqual(len(drawn), 6)
        lines = [one.role for one in drawn if hasattr(one, "points")]
        self.assertEqual(lines, ["mark.plan"] * 2 + ["mark.played"] * 2)

    def test_a_chain_counted_from_either_end_passes_balls_that_are_gone(self):
        balls = {"8": (1.0, 0.3), "9": (2.0, 1.0)}
        zone = Polygon(((1.0, 0.5), (1.2, 0.5), (1.1, 0.7)))
        order = [("7", None, None), ("8", "foot_left", zone), ("9", None, None)]
        under, over = chain(SPEC, balls, order)
        self.assertEqual([one.text for one in over], ["1", "2"])
        self.assertEqual(len(under), 3)
        _, over = chain(SPEC, balls, order, backwards=True)
        self.assertEqual([one.text for one in over], ["2", "1"])
        self.assertGreater(over[0].at[1], 0.3)
        self.assertLess(over[1].at[1], 1.0)
        rings = landings(SPEC, [(3, (1.0, 0.3)), (4, (1.0, 1.0))])
        self.assertEqual([one.text for one in rings[1::2]], ["shot 3", "shot 4"])

    def test_shades_and_flags(self):
        square = ((0, 0), (1, 0), (1, 1))
        self.assertEqual(len(shades([(0.5, [square, square[:2]]), (0.9, [square])])), 2)
        ring, word = flags([((1.0, 0.5), "no pocket")], 0.028)
        self.assertEqual((ring.centre, word.text), ((1.0, 0.5), "no pocket"))


if __name__ == "__main__":
    unittest.main()
