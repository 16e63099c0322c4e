"""The simulator against a slow integrator that shares nothing with it, and against the reference cases."""

import json
import math
import unittest
from pathlib import Path

import numpy as np

from ripasso.core.physics.bed import unbounded_bed, walled_bed
from ripasso.core.physics.contact_figures import of_cushion, of_two_balls
from ripasso.core.physics.motion import simulate_states
from ripasso.core.physics.parameters import POOL, physics_of_case
from ripasso.planning_command import simulated
from tests.core.physics.slow_motion import CASES, answered, invented, kept_answers

REFERENCE = Path(__file__).resolve().parents[4] / "shared" / "reference" / "physics_cases.json"
PLACE_M, TIME_S = 1e-6, 1e-8


def bed_of_case(table):
    if not table["cushions"]:
        return unbounded_bed()
    names = [str(i) for i in range(len(table["pockets"]))]
    return walled_bed(table["L"], table["W"], table["d_c"], table["pockets"], names)


def _order(event):
    met = event.get("cushion", event.get("pocket"))
    return round(event["t"], 7), event["type"], event["balls"], met, event["state_after"]


class Cases(unittest.TestCase):
    def test_twenty_cases_of_a_slow_integrator(self):
        kinds = set()
        for number, case in enumerate(kept_answers()):
            with self.subTest(case=number):
                states = np.array(case["states"], dtype=np.float64)
                names = [str(i) for i in range(len(states))]
                motion = simulate_states(
                    names, states, bed_of_case(case["table"]), physics_of_case(case["params"])
                )
                self.compare(motion, case)
                kinds |= {event.kind for event in motion.events}
        self.assertEqual(number + 1, CASES)
        self.assertEqual(kinds, {"slide_end", "roll_end", "spin_end", "ball_ball", "cushion", "pocket"})

    def test_the_kept_answers_are_those_of_the_slow_integrator(self):
        for number, case in list(enumerate(kept_answers()))[::7]:
            again = answered(invented(number))
            self.assertEqual([e[1:] for e in again["events"]], [e[1:] for e in case["events"]])
            for one, other in zip(again["events"], case["events"], strict=True):
                self.assertAlmostEqual(one[0], other[0], delta=TIME_S)
            for one, other in zip(again["final"], case["final"], strict=True):
                self.assertLess(math.dist((one["x"], one["y"]), (other["x"], other["y"])), PLACE_M)

    def test_what_contacts_were_like(self):
        """Closed forms: a full hit has no slip, a cut slips by its sine, a square rebound by its height."""
        physics, radius = POOL, POOL.radius
        struck = np.array([0.0, 0.0, 2.0, 0.0, 0.0, 0.0, 0.0])
        full = of_two_balls(struck, np.array([2 * radius, 0.0, *[0.0] * 5]), physics)
        self.assertEqual((full["normal_deg"], full["approach"], full["slip_speed"]), (0.0, 2.0, 0.0))
        self.assertTrue(full["stick"])
        turn = math.radians(30)
        ball = np.array([2 * radius * math.cos(turn), 2 * radius * math.sin(turn), *[0.0] * 5])
        cut = of_two_balls(struck, ball, physics)
        self.assertAlmostEqual(cut["normal_deg"], 30.0)
        self.assertAlmostEqual(cut["approach"], 2.0 * math.cos(turn))
        self.assertAlmostEqual(cut["slip_speed"], 2.0 * math.sin(turn))
        # Friction between balls at a slip of 1 m/s, by the fit named in `Physics`.
        self.assertAlmostEqual(cut["mu"], 9.951e-3 + 0.108 * math.exp(-1.088))
        self.assertFalse(cut["stick"])
        nose = of_cushion(np.array([2.5, 0.6, 1.5, 0.0, 0.0, 0.0, 0.0]), "foot", physics)
        self.assertAlmostEqual(nose["slip_speed"], 1.5 * (2 * physics.nose_share - 1))
        self.assertEqual(of_cushion(struck, "jaw", physics), {})

    def compare(self, motion, case):
        # The slow one knows no spin that ends while its ball moves.
        mine = [e for e in motion.events if e.kind != "spin_end"]
        others = [e for e in case["events"] if e[1] != "spin_end"]
        self.assertEqual([e.kind for e in mine], [kind for _, kind, _ in others])
        for event, (time, _kind, ball) in zip(mine, others, strict=True):
            self.assertAlmostEqual(event.time, time, delta=TIME_S)
            self.assertIn(str(ball), event.balls)
        for i, final in enumerate(case["final"]):
            self.assertEqual(motion.kinds[i], final["state"])
            self.assertLess(math.dist(motion.end[i, :2], (final["x"], final["y"])), PLACE_M)

    @unittest.skipUnless(REFERENCE.exists(), "the reference cases lie beside the project")
    def test_reference_cases(self):
        cases = json.loads(REFERENCE.read_text(encoding="utf-8"))["cases"]
        for case in cases:
            with self.subTest(case=case["id"]):
                report = simulated(case, 0, 1, None)
                wanted = case["outputs"]
                self.assertAlmostEqual(report["t_end"], wanted["t_end"], delta=TIME_S)
                # Where two events are at the same instant their order is free: the slides of b06.
                events = [sorted(each["events"], key=_order) for each in (report, wanted)]
                self.assertEqual(*[[_order(e)[1:] for e in each] for each in events])
                for mine, other in zip(*events, strict=True):
                    self.assertAlmostEqual(mine["t"], other["t"], delta=TIME_S)
                    self.assertLessEqual(set(other), set(mine))
                    self.assertEqual(mine.get("stick"), other.get("stick"))
                    for name in ("normal_deg", "approach", "slip_speed", "mu"):
                        if name in other:
                            self.assertAlmostEqual(mine[name], other[name], delta=1e-6)
                for mine, other in zip(report["final"], wanted["final"], strict=True):
                    self.assertEqual((mine["id"], mine["state"]), (other["id"], other["state"]))
                    self.assertLess(math.dist((mine["x"], mine["y"]), (other["x"], other["y"])), PLACE_M)
