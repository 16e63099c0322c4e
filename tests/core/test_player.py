"""Figures of one player, from facts written out by hand."""

import unittest

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import NO, YES
from tests.rows_of_facts import fact
from tests.rows_of_facts import facts as facts_of


def pot(made=True, **values):
    return fact(person="a", intent="pot", tried=True, made=made, failed=not made, down=made, **values)


class Potting(unittest.TestCase):
    def test_bands_hold_their_lower_end(self):
        facts = facts_of(
            [
                pot(cut_deg=cut, cue_travel=1.0, object_travel=0.27, table_length=2.54)
                for cut in (0.0, 14.9, 15.0, -30.0, 75.0)
            ]
            + [pot()]
        )
        found = of.slices(facts)
        self.assertEqual(
            {k: r.of for k, r in found["cut"].items()}, {"0-15": 2, "15-30": 1, "30-45": 1, "60+": 1}
        )
        self.assertEqual({k: r.of for k, r in found["distance"].items()}, {"50-75": 5})

    def test_long_pots_need_one_long_leg_and_two_thirds_together(self):
        facts = facts_of(
            [
                pot(cue_travel=1.1, object_travel=0.7, table_length=2.54),  # long to the ball
                pot(cue_travel=0.5, object_travel=1.2, table_length=2.54),  # long to the pocket
                pot(cue_travel=0.95, object_travel=0.95, table_length=2.54),  # far, but no long leg
                pot(cue_travel=1.1, object_travel=0.2, table_length=2.54),  # a long leg alone
            ]
        )
        self.assertEqual([rate.of for rate in of.long_pots(facts)], [2, 2, 1])

    def test_a_leg_of_just_that_length_is_long(self):
        leg, rest = of.LONG_LEG * 2.0, (of.LONG_TOGETHER - of.LONG_LEG) * 2.0
        facts = facts_of(
            [
                pot(cue_travel=leg, object_travel=rest, table_length=2.0),
                pot(cue_travel=rest, object_travel=leg, table_length=2.0),
            ]
        )
        self.assertEqual([rate.of for rate in of.long_pots(facts)], [2, 1, 1])

    def test_a_foul_on_the_break_is_no_dry_break(self):
        own = {"person": "a", "intent": "break"}
        facts = facts_of([fact(potted=0, **own), fact(potted=0, fouled=True, **own), fact(potted=1, **own)])
        dry = of.breaks(facts)["dry"]
        self.assertEqual((dry.made, dry.of), (1, 3))

    def test_slices_of_flags_and_pockets(self):
        facts = facts_of(
            [
                pot(target="foot_left", delivery="rest reach"),
                pot(False, target="foot_left"),
                pot(delivery="reach", methods="bank", phase="last"),
            ]
        )
        found = of.slices(facts)
        self.assertEqual((found["pocket"]["foot_left"].made, found["pocket"]["foot_left"].of), (1, 2))
        self.assertEqual({k: r.of for k, r in found["delivery"].items()}, {"reach": 2, "rest": 1})
        self.assertEqual(found["phase"]["last"].of, 1)


class Habits(unittest.TestCase):
    def test_three_shots_after_an_error(self):
        rows = [pot(), pot(False, unforced="pot"), pot(), pot(False), pot(), pot()]
        after, rest, _ = of.after_error(facts_of(rows))
        self.assertEqual((after.made, after.of, rest.made, rest.of), (2, 3, 2, 3))

    def test_not_across_sessions(self):
        rows = [pot(False, unforced="pot"), pot(session=1), pot(session=1)]
        self.assertEqual(of.after_error(facts_of(rows))[0].of, 0)

    def test_the_next_shot_of_the_same_visit(self):
        facts = facts_of([pot(visit=1), pot(visit=1), pot(visit=2)])
        starts = np.array([True, True, False])
        self.assertEqual(of.next_mask(facts, starts).tolist(), [False, True, False])


class BreaksAndSafeties(unittest.TestCase):
    def test_breaks(self):
        rows = [
            fact(intent="break", potted=2, outer=YES, leave=0.5, left_in_rack=2.0),
            fact(intent="break", potted=0, outer=NO, leave=0.1, left_in_rack=5.0),
            fact(intent="break", potted=1, fouled=True, cue_potted=True),
        ]
        found = of.breaks(facts_of(rows))
        counts = {k: (v.made, v.of) for k, v in found.items() if hasattr(v, "made")}
        self.assertEqual(counts["legal"], (2, 3))
        self.assertEqual(counts["wet"], (2, 3))
        self.assertEqual(counts["dry"], (1, 3))
        self.assertEqual(counts["scratch"], (1, 3))
        self.assertEqual(counts["outer"], (1, 2))
        self.assertEqual(counts["shot_after"], (1, 2))
        self.assertEqual((found["balls_mean"], found["left_in_rack_mean"]), (1.0, 3.5))

    def test_safeties_count_when_somebody_answers(self):
        rows = [
            fact(intent="safety", has_next=True, goes_to_other=True, leave=0.2),
            fact(intent="safety", has_next=True, goes_to_other=True, leave=0.8, answered=True),
            fact(intent="safety", has_next=True, fouled=True, answered=True),
            fact(intent="safety"),  # the last of its rack
        ]
        found = of.safeties(facts_of(rows))
        self.assertEqual((found["result"].made, found["result"].of), (1, 3))
        self.assertEqual((found["leave"].made, found["leave"].of), (1, 3))

    def test_escapes(self):
        rows = [
            fact(intent="escape", goes_to_other=True, leave=0.6),
            fact(intent="escape", goes_to_other=True, leave=0.1),
            fact(intent="escape", fouled=True),
        ]
        found = of.escapes(facts_of(rows))
        self.assertEqual((found["hit"].made, found["hit"].of), (2, 3))
        self.assertEqual((found["left_pot"].made, found["left_pot"].of), (1, 2))


class Position(unittest.TestCase):
    def test_made_pots_with_a_plan(self):
        rows = [
            pot(zone=YES, distance=0.1, along=0.1, side="right_side", leave=0.5),
            pot(zone=NO, distance=0.3, along=-0.1, side="wrong_side"),
            pot(False, distance=9.0),
            pot(),
        ]
        found = of.position(facts_of(rows))
        self.assertEqual((found["zone"].made, found["zone"].of), (1, 2))
        self.assertEqual((found["distance_median"].of, found["right_side"].made), (2, 1))
        self.assertAlmostEqual(found["along_mean"].value, 0.0)
        self.assertEqual(of.leave_after_pots(facts_of(rows)).value, 0.5)

    def test_times(self):
        rows = [pot(since_rest_s=20.0, to_rest_s=30.0, legal_balls=1), pot(since_rest_s=10.0)]
        found = of.times(facts_of(rows))
        self.assertEqual((found["shots"], found["mean"], found["balls_per_minute"]), (2, 15.0, 2.0))
