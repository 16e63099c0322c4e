"""The edges of definitions: one step below, at, and above each limit; definitions are docs/measures.md's."""

import unittest
from types import SimpleNamespace

from ripasso.core.figures.ledger import RUN_OUT_BALLS, run_of
from ripasso.core.measures.errors import Played, RecordedError, Seen, Thresholds, errors_of, shot_errors
from ripasso.core.measures.shots import (
    LONG_LEG,
    LONG_TOGETHER,
    PlanInput,
    ShotInput,
    is_long_pot,
    measure_shots,
)
from ripasso.core.rules import RackScore, Visit
from ripasso.core.table import table_spec

LIMITS = Thresholds()


def played(**values):
    return Played(**{"number": 1, "visit": (1, 1), "intent": "pot", "made": False, "failed": False} | values)


def asked(**values):
    """What is measured of a shot at the 1, with nothing after it."""
    nothing = {"after": None, "on_next": (), "is_break": False, "goes_on": False, "next_before": None}
    return ShotInput(**{**nothing, "balls_on": ("1",), "has_next": False, **values})


def unforced(**values):
    return [error.kind for error in shot_errors(played(**{"fouled": False} | values)) if error.unforced]


class Runs(unittest.TestCase):
    def run_out(
        self, balls, *, ended_by="rack_won", rack_ended_by="nine_potted", rack=1, first=2, intent="break"
    ):
        score = RackScore(1, (), {}, "a", rack_ended_by, (), (), frozenset())
        return run_of(score, Visit(rack, "a", first, 1, 9, balls, balls, ended_by), intent)

    def test_five_balls_make_a_run_out(self):
        self.assertEqual(RUN_OUT_BALLS, 5)
        self.assertEqual([self.run_out(n) for n in (4, 5, 6)], [None, "run_out", "run_out"])

    def test_a_conceded_rack_was_not_run(self):
        self.assertIsNone(self.run_out(9, rack_ended_by="conceded"))
        self.assertIsNone(self.run_out(9, ended_by="miss"))

    def test_from_the_break_whatever_its_balls(self):
        self.assertEqual(self.run_out(3, first=1), "break_and_run")
        self.assertIsNone(self.run_out(3, first=1, intent="pot"))


class Errors(unittest.TestCase):
    def test_a_pot_fair_to_expect(self):
        step = 1e-9
        self.assertEqual(unforced(failed=True, seen=Seen(chance=LIMITS.fair)), ["pot"])
        self.assertEqual(unforced(failed=True, seen=Seen(chance=LIMITS.fair - step)), [])
        self.assertEqual(unforced(failed=True), [])
        self.assertEqual(unforced(failed=True, awkward=True, seen=Seen(chance=1.0)), [])

    def test_what_was_judged_wins(self):
        said = (RecordedError("pot", False),)
        self.assertEqual(unforced(failed=True, recorded=said, seen=Seen(chance=1.0)), [])
        said = (RecordedError("pot", True),)
        self.assertEqual(unforced(failed=True, recorded=said, awkward=True), ["pot"])

    def safety(self, **seen):
        known = {"leave": LIMITS.open, "best_chance": LIMITS.open, "snookered": False}
        return unforced(intent="safety", leaves_to_other=True, seen=Seen(**known | seen))

    def test_a_safety_left_open_by_who_was_free_to_choose(self):
        self.assertEqual(self.safety(), ["safety"])
        # Free in one way is free enough: a pot was on, or a ball was in sight.
        self.assertEqual(self.safety(best_chance=0.0), ["safety"])
        self.assertEqual(self.safety(snookered=True), ["safety"])
        self.assertEqual(self.safety(best_chance=0.0, snookered=True), [])
        self.assertEqual(self.safety(leave=LIMITS.open - 1e-9), [])
        self.assertEqual(self.safety(snookered=None), [])

    def test_a_safety_that_was_called_an_error_and_left_little(self):
        said = (RecordedError("safety", None),)
        seen = Seen(leave=LIMITS.open - 1e-9, best_chance=LIMITS.open, snookered=False)
        self.assertEqual(unforced(intent="safety", recorded=said, leaves_to_other=True, seen=seen), [])

    def test_a_fouled_safety_is_a_foul_alone(self):
        seen = Seen(leave=1.0, best_chance=1.0, snookered=False)
        found = shot_errors(played(intent="safety", fouled=True, leaves_to_other=True, seen=seen))
        self.assertEqual([error.kind for error in found], ["foul"])

    def test_a_position_that_fell(self):
        def kinds(aim, rest):
            return unforced(made=True, seen=Seen(chance_aim=aim, chance_rest=rest))

        self.assertEqual(kinds(LIMITS.open, LIMITS.hardly - 1e-9), ["position"])
        self.assertEqual(kinds(LIMITS.open, LIMITS.hardly), [])
        self.assertEqual(kinds(LIMITS.open - 1e-9, 0.0), [])

    def test_a_cause_lies_in_the_visit_of_the_failure(self):
        off = Seen(position_loss=LIMITS.loss)
        rack = [
            played(number=1, visit=(1, 1), made=True, fouled=False, seen=off),
            played(number=2, visit=(1, 2), made=True, fouled=False, seen=off),
            played(number=3, visit=(1, 2), failed=True, fouled=False),
        ]
        self.assertEqual(errors_of(rack)[2][0].cause_suggested, 2)
        near = Seen(position_loss=LIMITS.loss - 1e-9)
        rack[1] = played(number=2, visit=(1, 2), made=True, fouled=False, seen=near)
        self.assertIsNone(errors_of(rack)[2][0].cause_suggested)


class Angles(unittest.TestCase):
    """A pot of the 1, and the cut that the rest point leaves on the 2: too straight below 0."""

    def miss(self, low, high):
        layout = {"1": (1.9, 0.9), "2": (1.8, 0.6)}
        spec = table_spec({"preset": "pool_9ft"})
        plan = PlanInput(next_ball="2", angle_wanted_deg=(low, high))
        shot = asked(
            before={"cue": (0.9, 0.45), **layout},
            after={"cue": (1.0, 0.3), "2": layout["2"]},
            on_next=("2",),
            ball="1",
            pocket="foot_left",
            goes_on=True,
            has_next=True,
            plan=plan,
        )
        (found,) = measure_shots(spec, [shot], 0.002)
        return found.angle_left_deg, found.angle_miss_deg

    def test_too_straight_is_below_nothing_and_too_steep_above(self):
        left, _ = self.miss(0, 90)
        self.assertEqual(self.miss(left - 1, left + 1)[1], 0.0)
        self.assertAlmostEqual(self.miss(left + 5, left + 20)[1], -5.0)
        self.assertAlmostEqual(self.miss(left - 20, left - 5)[1], 5.0)


class Sight(unittest.TestCase):
    def snookered(self, *blockers):
        spec = table_spec({"preset": "pool_9ft"})
        others = {str(n): place for n, place in enumerate(blockers, start=2)}
        before = {"cue": (0.5, 0.6), "1": (1.5, 0.6), **others}
        (found,) = measure_shots(spec, [asked(before=before)], 0.002)
        return found.snookered

    def test_half_a_ball_in_sight_is_no_snooker(self):
        radius = table_spec({"preset": "pool_9ft"}).ball_radius
        self.assertFalse(self.snookered((1.0, 0.6 - 1.2 * radius)))
        self.assertTrue(self.snookered(*[(1.0, 0.6 + 1.9 * radius * k) for k in (-1, 0, 1)]))


class LongPots(unittest.TestCase):
    def long(self, to_ball, to_pocket):
        return is_long_pot(SimpleNamespace(cue_travel=to_ball, object_travel=to_pocket), 1.0)

    def test_long_altogether_and_in_one_leg(self):
        rest = LONG_TOGETHER - LONG_LEG
        self.assertTrue(self.long(LONG_LEG, rest))
        self.assertTrue(self.long(rest, LONG_LEG))
        self.assertFalse(self.long(LONG_LEG, rest - 1e-6))  # one long leg alone
        half = LONG_TOGETHER / 2
        self.assertEqual(self.long(half, half), half >= LONG_LEG)  # long only together
        self.assertFalse(is_long_pot(None, 1.0))


if __name__ == "__main__":
    unittest.main()
