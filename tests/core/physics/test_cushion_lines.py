"""Banks and kicks: the mirror's line as geometry says, the stroke that the table takes as it plays out."""

import math
import unittest

from ripasso.core.physics.motion import simulate
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.cushion_lines import CUSHIONS, angles_at, bank, kick, mirror_line
from ripasso.core.planning.problem import Problem
from ripasso.core.table import table_spec
from ripasso.review.present.plan_words import cushion_words

SPEC = table_spec({"preset": "pool_9ft"})
LAYOUT = {"cue": (0.6, 0.4), "1": (1.6, 0.5), "9": (2.2, 1.0)}
PROBLEM = Problem("nine_ball", SPEC, LAYOUT, ("1",))
STROKE = Stroke(0.0, 2.5)


class Mirror(unittest.TestCase):
    def test_it_leaves_as_it_came_and_touches_at_a_ball_s_radius(self):
        for cushion in CUSHIONS:
            line = mirror_line(SPEC, LAYOUT["cue"], LAYOUT["1"], cushion)
            (x0, y0), (x1, y1), (x2, y2) = line
            axis = (x1, y1)[cushion in ("left", "right")]
            ends = (SPEC.length, SPEC.width)[cushion in ("left", "right")]
            self.assertAlmostEqual(min(axis, ends - axis), SPEC.ball_radius)
            came, goes = (abs(x1 - x0), abs(y1 - y0)), (abs(x2 - x1), abs(y2 - y1))
            self.assertAlmostEqual(math.atan2(*came), math.atan2(*goes))

    def test_no_rubber_in_a_pocket_s_mouth(self):
        self.assertIsNone(mirror_line(SPEC, (0.1, 0.6), (0.01, 1.2), "left"))

    def test_what_runs_along_a_cushion_is_no_bank(self):
        self.assertIsNone(mirror_line(SPEC, (1.8, 1.2), (0.2, 1.2), "left"))


class OnTheTable(unittest.TestCase):
    def test_a_kick_meets_the_ball_and_running_side_lengthens(self):
        found = kick(PROBLEM, STROKE, "1", "left")
        motion = simulate(LAYOUT, found.found, PROBLEM.bed, PROBLEM.physics)
        met = [e for e in motion.events if e.kind in ("cushion", "ball_ball")]
        self.assertEqual([(met[0].kind, met[0].met), met[1].kind], [("cushion", "left"), "ball_ball"])
        self.assertEqual(found.angles_deg, angles_at(motion, "cue", "left"))
        # Common practice, no source: running side lengthens, a plain ball at this pace comes off shorter.
        self.assertGreater(found.out_with_side_deg, found.angles_deg[1] + 5)
        self.assertNotAlmostEqual(*found.angles_deg, delta=1.0)

    def test_a_bank_falls_where_the_mirror_s_aim_alone_does_not(self):
        found = bank(PROBLEM, STROKE, "1", "side_left", "foot")
        for stroke, falls in ((found.found, True), (found.by_mirror, False)):
            motion = simulate(LAYOUT, stroke, PROBLEM.bed, PROBLEM.physics)
            self.assertEqual(motion.pockets.get("1") == "side_left", falls)
        self.assertGreater(abs(found.turn_deg), 0.2)
        self.assertIsNone(bank(PROBLEM, STROKE, "1", "foot_left", "left"))

    def test_words(self):
        told = cushion_words(kick(PROBLEM, STROKE, "1", "left"), "meets the ball")
        self.assertRegex(
            told,
            r"^Off the left cushion: \d\.\d° to the left of the mirror's aim it meets the ball; "
            r"in at 29°, out at 25°, with running side 41°\.$",
        )


if __name__ == "__main__":
    unittest.main()
