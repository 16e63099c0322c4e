"""Planning at its edges: nothing to be found, work that is stopped, places where a mirror shows nothing."""

import math
import unittest
from dataclasses import replace

import numpy as np

from ripasso.core.figures.own_spreads import own_spreads
from ripasso.core.physics.motion import simulate
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.candidates import combinations, different, routes
from ripasso.core.planning.cushion_lines import CushionShot, angles_at, bank, kick, mirror_line
from ripasso.core.planning.differences import differences
from ripasso.core.planning.expected import right_side
from ripasso.core.planning.in_hand import find_places
from ripasso.core.planning.options import find_options, searched
from ripasso.core.planning.problem import Problem
from ripasso.core.planning.weighing import value_reached, weigh
from ripasso.core.table import pocket_mouth_middle, table_spec
from ripasso.review.present.plan_words import beside_lines, cushion_words, player_words, promise_lines
from ripasso.statistics.rows.search_columns import columns_of
from tests.sessions import played, rack_of, session

SPEC = table_spec({"preset": "pool_9ft"})
CLUB = spreads_of_level("club", snooker=False)
#: Balls between the cue ball at the head end and what lies in its corner.
WALL = {str(i): (0.03 + 0.0575 * (i - 2), 0.3) for i in range(2, 9)}
#: The 2, which is the next ball, has no pocket: the others lie about it.
AROUND = [
    (1.27 + 0.0573 * math.cos(turn), 0.635 + 0.0573 * math.sin(turn)) for turn in np.arange(6) * np.pi / 3
]
BEHIND_A_WALL = {"cue": (1.9, 0.9), "2": (1.27, 0.635), **{str(i + 3): at for i, at in enumerate(AROUND)}}
NEXT_IS_THE_2 = {"cue": (1.9, 0.95), "1": (2.46, 1.2), "2": (1.27, 0.3), "9": (0.3, 1.0)}
HANGER = {"cue": (1.9, 0.95), "1": (2.46, 1.2), "9": (1.27, 0.12)}


def problem(layout, on=("1",), **more):
    return Problem("nine_ball", SPEC, layout, on, **more)


class RightSide(unittest.TestCase):
    """The side of the next ball's line, counted anew by the sign of a cross product."""

    def cloud(self, middle, spread=0.06):
        return np.array(middle) + spread * np.random.default_rng(4).standard_normal((200, 2))

    def test_it_is_counted_from_the_middle_of_the_cloud(self):
        asked = problem(NEXT_IS_THE_2, call=("1", "foot_left"))
        cloud = self.cloud((1.6, 0.8), 0.2)
        found = right_side(asked, cloud, CLUB)
        self.assertEqual(found.ball, "2")
        ball, pocket = np.array(NEXT_IS_THE_2["2"]), np.array(pocket_mouth_middle(SPEC, found.pocket))
        line = ball - pocket

        def off(place):
            way = place - ball
            return math.atan2(line[0] * way[1] - line[1] * way[0], line @ way)

        wanted = off(cloud.mean(axis=0))
        angles = np.array([off(place) for place in cloud])
        right = (np.abs(angles) > math.radians(3)) & (np.sign(angles) == np.sign(wanted))
        self.assertEqual((found.share.made, found.share.of), (int(right.sum()), 200))
        self.assertTrue(0 < found.share.made < 200)

    def test_where_no_side_is_wanted_there_is_none(self):
        asked = problem(NEXT_IS_THE_2, call=("1", "foot_left"))
        ball, pocket = np.array(NEXT_IS_THE_2["2"]), np.array(pocket_mouth_middle(SPEC, "side_right"))
        behind = ball + 0.4 * (ball - pocket) / np.linalg.norm(ball - pocket)
        for cloud in (self.cloud(behind, 0.001), self.cloud(behind)):
            found = right_side(asked, cloud, CLUB)
            self.assertTrue(found is None or found.pocket != "side_right")
        self.assertIsNone(right_side(problem(NEXT_IS_THE_2), self.cloud((1.6, 0.8)), CLUB))
        won = problem({"cue": (1.9, 0.95), "9": (2.46, 1.2)}, ("9",), call=("9", "foot_left"))
        self.assertIsNone(right_side(won, self.cloud((1.6, 0.8)), CLUB))
        shut = problem({**BEHIND_A_WALL, "1": (2.46, 1.2)}, call=("1", "foot_left"))
        self.assertIsNone(right_side(shut, self.cloud((0.02, 0.02), 0.001), CLUB))


class Stopped(unittest.TestCase):
    def stops_at(self, count, layout=HANGER):
        told = []

        def go_on(share, _options):
            told.append(share)
            return len(told) < count

        found = find_options(problem(layout), CLUB, repetitions=40, progress=go_on)
        self.assertEqual(len(told), count)
        return found

    def test_at_the_first_and_at_the_second_answer(self):
        for count in (1, 2):
            self.assertTrue(self.stops_at(count))

    def test_in_the_middle_of_the_sweep(self):
        # The 1 behind a wall: no direct pot, so that the sweep comes at once.
        wall = {str(i): (1.6, 0.635 + 0.0572 * (i - 5)) for i in range(2, 9)}
        self.stops_at(2, {"cue": (0.6, 0.635), "1": (2.2, 0.635), **wall})

    def test_enough_is_enough(self):
        shares = []
        search = searched(
            problem(HANGER),
            CLUB,
            repetitions=40,
            enough=0.2,
            progress=lambda share, _: shares.append(share) or True,
        )
        self.assertEqual(shares[-1], 1.0)
        self.assertEqual({one.kind for one in search.found}, {"pot"})

    def test_ball_in_hand_after_the_first_place(self):
        layout = {ball: place for ball, place in HANGER.items() if ball != "cue"}
        found = find_places(problem(layout), CLUB, repetitions=40, progress=lambda share, found: not found)
        self.assertEqual(len(found), 1)
        with self.assertRaises(ValueError):
            find_places(problem(layout, ()), CLUB)


class Nothing(unittest.TestCase):
    def test_no_second_ball_no_combination_and_no_routes_of_nothing(self):
        self.assertEqual(combinations(problem({"cue": (0.6, 0.4), "1": (1.6, 0.5)}), CLUB), [])
        self.assertEqual((routes([], 3), different([], 3)), ([], []))

    def test_no_mirror_line(self):
        radius = SPEC.ball_radius
        self.assertIsNone(mirror_line(SPEC, (radius, 0.6), (1.0, 0.9), "head"))
        lonely = problem({"cue": (0.1, 0.6), "1": (0.01 + radius, 1.2)})
        self.assertIsNone(kick(lonely, Stroke(0.0, 2.0), "1", "left"))
        # The cue ball stands before the object ball's far side: no cut sends it to that cushion.
        behind = problem({"cue": (1.0, 0.6), "1": (1.3, 0.6)})
        self.assertIsNone(bank(behind, Stroke(0.0, 2.0), "1", "side_left", "head"))

    def test_a_bank_that_never_falls_is_shown_by_the_mirror(self):
        # A ball stands in the mouth: whatever is tried, this one does not fall there.
        layout = {
            "cue": (0.6, 0.4),
            "1": (1.6, 0.5),
            "2": (1.27, 1.25),
            "3": (1.22, 1.235),
            "4": (1.32, 1.235),
        }
        found = bank(problem(layout), Stroke(0.0, 2.5), "1", "side_left", "foot")
        self.assertIsNone(found.found)
        self.assertIsNone(found.turn_deg)
        self.assertEqual(found.stroke, found.by_mirror)
        self.assertIn("nothing near the mirror's line falls", cushion_words(found, "falls"))

    def test_words_of_a_shot_that_meets_no_cushion(self):
        line = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0))
        stroke = Stroke(0.1, 2.0)
        self.assertEqual(
            cushion_words(CushionShot("foot", line, stroke, stroke, None), "falls"),
            "Off the foot cushion: as the mirror says it falls.",
        )
        motion = simulate(HANGER, Stroke(0.0, 0.3), problem(HANGER).bed, problem(HANGER).physics)
        self.assertIsNone(angles_at(motion, "cue", "head"))

    def test_a_cue_ball_that_falls_stops_nowhere(self):
        usual = Stroke(math.atan2(0.25, 0.56), 1.0)
        layout = {"cue": (2.4, 1.13), "9": (0.4, 0.4)}
        into = Stroke(math.atan2(SPEC.width - 1.13, SPEC.length - 2.4), 1.5)
        found = differences(problem(layout, ("9",)), into, usual)
        self.assertIsNone(found.together_m)

    def test_a_player_of_few_pots_has_no_own_aim(self):
        facts, _ = columns_of([session(racks=[rack_of(played("a", "1"), played("a"))])])
        self.assertIsNone(own_spreads(facts, "ada quill", snooker=False))
        self.assertEqual(player_words("club", None), "club player")
        self.assertIn("own aim, 1.5 mrad", player_words("club", replace(CLUB, aim_mrad=1.5)))

    def test_what_is_counted_still(self):
        self.assertEqual([name for name, _ in promise_lines(None)], ["made", "foul", "in-off"])
        self.assertEqual(beside_lines(None, None)[0], ("made", "…", "…"))

    def test_nothing_legal_is_not_weighed_and_an_opponent_without_a_pot_counts(self):
        buried = problem({"cue": (0.6, 0.4), "9": (2.3, 1.0)}, ("1",))
        self.assertIsNone(weigh(buried, ("1", "foot_left"), None, CLUB))
        # The opponent is left a hanger, or nothing at all: next to nothing, or all that a safe miss is worth.
        for cue, ball, wanted in (((2.2, 1.0), (2.49, 1.22), 0.0), ((0.05, 0.6), (0.05, 0.06), 0.5)):
            left = {"cue": cue, "1": ball, "9": (1.0, 0.3), **WALL}
            reached = value_reached(problem(HANGER), left, fouled=False, goes_on=False, spreads=CLUB)
            self.assertAlmostEqual(reached, wanted, delta=0.05)


if __name__ == "__main__":
    unittest.main()
