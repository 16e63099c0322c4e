"""What can be played: layouts whose answer is known, and figures that hold when played again."""

import json
import math
import unittest
from dataclasses import replace

from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.expected import expected
from ripasso.core.planning.in_hand import find_places, places
from ripasso.core.planning.layout_file import BadLayout, problem_of
from ripasso.core.planning.options import SHOWN, find_options, kind_of, option_of, valued
from ripasso.planning_command import options_report
from ripasso.review.present.option_words import option_sentence, pace_word, tip_words

CLUB = spreads_of_level("club", snooker=False)
POOL = {"game": "nine_ball", "table": {"preset": "pool_9ft"}}


def options(layout, game="nine_ball", **more):
    data = {"game": game, "table": {"preset": "pool_9ft"}, "layout": layout, **more}
    return find_options(problem_of(data), CLUB)


class Known(unittest.TestCase):
    def test_a_hanger_with_natural_position(self):
        best = options({"cue": [1.8, 0.9], "1": [2.47, 1.2], "2": [1.27, 0.1], "9": [0.3, 1.0]})[0]
        self.assertEqual((best.kind, best.ball, best.pocket), ("pot", "1", "foot_left"))
        self.assertGreater(best.expected.pot.rate, 0.97)
        self.assertGreater(best.expected.leave.value, 0.8)

    def test_only_a_kick_exists(self):
        # The 1 behind a wall of balls: every way to it goes over a cushion.
        wall = {str(i): [1.6, 0.635 + 0.0572 * (i - 5)] for i in range(2, 9)}
        found = options({"cue": [0.6, 0.635], "1": [2.2, 0.635], **wall})
        self.assertTrue(found)
        self.assertEqual(found[0].kind, "kick")
        self.assertEqual({option.kind for option in found}, {"kick"})

    def test_a_plant_that_cannot_miss(self):
        # Two balls that touch, in line with the corner, the second near it; the cue ball cannot pot the 1.
        corner, radius = (2.54, 1.27), 0.028575
        way = (math.sqrt(0.5), math.sqrt(0.5))
        nine = (corner[0] - 0.16 * way[0], corner[1] - 0.16 * way[1])
        one = (nine[0] - 2 * radius * way[0], nine[1] - 2 * radius * way[1])
        best = options({"cue": [one[0] - 0.5, one[1] - 0.45], "1": list(one), "9": list(nine)})[0]
        self.assertEqual((best.kind, best.ball, best.pocket), ("combination", "9", "foot_left"))
        self.assertGreater(best.expected.pot.rate, 0.9)
        # The 9 wins the rack: nothing has to follow.
        self.assertEqual(best.expected.leave.value, 1.0)

    def test_a_safety_is_better_than_a_poor_pot(self):
        # The 1 in the middle of the far cushion, steep to both corners, two balls to hide behind.
        balls = {"1": [2.3, 0.635], "2": [1.9, 0.3], "3": [1.6, 0.95], "9": [0.5, 0.2]}
        found = options({"cue": [0.3, 0.635], **balls})
        self.assertEqual(found[0].kind, "safety")
        self.assertLess(found[0].expected.left.value, 0.3)
        pots = [option for option in found if option.pocket is not None]
        self.assertTrue(all((option.expected.pot.rate or 0) < 0.35 for option in pots))

    def test_a_soft_stun_is_better_than_three_cushions(self):
        # The next ball lies where the cue ball is left by hardly moving.
        best = options({"cue": [1.6, 0.5], "1": [2.2, 0.95], "2": [2.3, 0.35], "9": [0.4, 0.4]})[0]
        self.assertEqual((best.kind, best.ball), ("pot", "1"))
        self.assertLessEqual(len(best.cushions), 1)
        self.assertLess(best.stroke.speed, 2.8)

    def test_a_shot_that_is_safe_when_missed_counts_for_more(self):
        # The same pot and leave: what a miss leaves decides.
        problem = problem_of({**POOL, "layout": {"cue": [1.2, 0.4], "1": [1.9, 0.9], "9": [2.2, 0.3]}})
        found = find_options(problem, CLUB)
        promise = found[0].expected
        for left, other in ((0.1, 0.9),):
            low = replace(promise, left=replace(promise.left, value=left, low=left, high=left))
            high = replace(promise, left=replace(promise.left, value=other, low=other, high=other))
            self.assertGreater(valued(low, 0.5)[1].value, valued(high, 0.5)[1].value)
            self.assertEqual(valued(low, 0.0)[1].value, valued(high, 0.0)[1].value)


class Figures(unittest.TestCase):
    LAYOUT = {"cue": [1.2, 0.4], "1": [1.9, 0.9], "2": [0.8, 1.0], "5": [0.4, 0.5], "9": [2.2, 0.3]}  # noqa: RUF012

    def test_at_most_six_that_differ_the_best_first(self):
        found = options(self.LAYOUT)
        self.assertLessEqual(len(found), SHOWN)
        values = [option.value.value for option in found]
        self.assertEqual(values, sorted(values, reverse=True))
        for option in found:
            self.assertTrue(option.value.low <= option.value.value <= option.value.high)
            self.assertEqual(option.tied, option is not found[0] and option.value.high >= found[0].value.low)
        sentences = {option_sentence(option, "nine_ball") for option in found}
        self.assertEqual(len(sentences), len(found))
        self.assertTrue(all(sentence.endswith(".") for sentence in sentences))

    def test_stated_figures_hold_when_played_again(self):
        problem = problem_of({**POOL, "layout": self.LAYOUT})
        held = asked = 0
        for option in find_options(problem, CLUB):
            meant = problem
            if option.pocket is not None:
                meant = problem.with_call(option.ball, option.pocket)
            again = expected(meant, option.stroke, CLUB, seed=77, repetitions=8_000)
            for name in ("pot", "foul", "scratch"):
                stated = getattr(option.expected, name)
                asked += 1
                held += stated.low - 1e-9 <= getattr(again, name).rate <= stated.high + 1e-9
            if option.expected.leave.of > 50:
                asked += 1
                held += (
                    option.expected.leave.low - 0.02 <= again.leave.value <= option.expected.leave.high + 0.02
                )
        self.assertGreaterEqual(held / asked, 0.85)

    def test_the_first_answer_comes_early_and_work_can_be_stopped(self):
        problem = problem_of({**POOL, "layout": self.LAYOUT})
        told = []

        def note(share, found):
            told.append((share, len(found)))
            return len(told) < 2

        stopped = find_options(problem, CLUB, progress=note)
        self.assertEqual(len(told), 2)
        self.assertGreaterEqual(len(stopped), 1)
        shares = []
        find_options(problem, CLUB, progress=lambda share, found: shares.append(share) or True)
        self.assertEqual(shares, sorted(shares))
        self.assertEqual(shares[-1], 1.0)

    def test_the_same_question_has_the_same_answer(self):
        data = {**POOL, "layout": self.LAYOUT}
        first, second = (options_report(data, 100, 1, None) for _ in range(2))
        self.assertEqual(json.dumps(first), json.dumps(second))
        other = options_report(data, 100, 2, None)["options"][0]
        best = first["options"][0]
        for name in ("kind", "ball", "pocket"):
            self.assertEqual(other[name], best[name])

    def test_a_stroke_of_one_s_own_is_an_option(self):
        problem = problem_of({**POOL, "layout": self.LAYOUT})
        best = find_options(problem, CLUB)[0]
        own = option_of(problem, best.stroke, CLUB)
        self.assertEqual((own.kind, own.ball, own.pocket), (best.kind, best.ball, best.pocket))
        self.assertEqual(own.expected.pot, best.expected.pot)
        self.assertEqual(kind_of(own.motion, own.ball)[0], "pot")

    def test_words(self):
        self.assertEqual(tip_words(0.0, 0.0), "centre ball")
        self.assertEqual(tip_words(-0.3, -0.4), "back spin, left side")
        self.assertEqual(pace_word(1.0), "soft")
        self.assertEqual(pace_word(9.0), "power")


class Games(unittest.TestCase):
    EIGHT = {"cue": [1.0, 0.6], "1": [1.9, 0.9], "8": [2.3, 1.0], "12": [0.6, 0.9]}  # noqa: RUF012

    def test_eight_ball_has_groups_and_an_eight(self):
        data = {"game": "eight_ball", "layout": self.EIGHT, "state": {"group": "solids"}}
        problem = problem_of(data)
        self.assertEqual(problem.on, ("1",))
        self.assertEqual(problem.after(["1"]), ("8",))
        self.assertEqual(problem.opponents({"8": (0, 0), "12": (0, 0), "cue": (0, 0)}), ("12",))
        self.assertEqual(problem.opponents({"8": (0, 0), "cue": (0, 0)}), ("8",))
        self.assertFalse(problem.wins(["8"]))
        self.assertTrue(problem_of({**data, "state": {"on": ["8"]}}).wins(["8"]))
        found = find_options(problem, CLUB, repetitions=100)
        self.assertTrue(all(option.ball == "1" for option in found if option.pocket is not None))

    def test_the_eight_too_early_loses(self):
        # Straight through the 1 at a ball that hangs: where that is the 8 the rack is lost.
        fouls = {}
        for hanging in ("8", "12"):
            layout = {"cue": [2.0, 0.75], "1": [2.2, 0.9], hanging: [2.49, 1.22]}
            problem = problem_of({"game": "eight_ball", "layout": layout, "state": {"on": ["1"]}})
            hard = Stroke(math.atan2(0.15, 0.2), 4.0)
            fouls[hanging] = expected(problem, hard, CLUB, repetitions=100).foul.rate
        self.assertGreater(fouls["8"], fouls["12"] + 0.1)

    def test_snooker_goes_from_red_to_colour(self):
        layout = {"cue": [2.6, 0.6], "red1": [3.2, 0.5], "black": [3.24, 0.889], "blue": [1.78, 0.889]}
        data = {"game": "snooker", "table": {"preset": "snooker_12ft"}, "layout": layout}
        found = find_options(problem_of(data), spreads_of_level("club", snooker=True), repetitions=100)
        self.assertEqual({option.ball for option in found if option.pocket is not None}, {"red1"})
        self.assertEqual(found[0].kind, "pot")

    def test_what_cannot_be_asked_is_told(self):
        for layout, on in (({"1": [1, 0.5]}, ["1"]), ({"cue": [1, 0.5]}, [])):
            with self.assertRaises(ValueError):
                find_options(problem_of({**POOL, "layout": layout, "state": {"on": on}}), CLUB)
        for layout in ({}, {"cue": [1, 0.5]}):
            with self.assertRaises(BadLayout):
                options_report({**POOL, "layout": layout}, 400, 1, None)
        with self.assertRaises(BadLayout):
            options_report({**POOL, "layout": Figures.LAYOUT}, 1, 1, None)

    def test_without_a_cue_ball_it_is_in_hand(self):
        """Put down behind the 1 that hangs: made nearly always, and on the 2."""
        layout = {"1": [2.44, 1.17], "2": [2.1, 0.15], "9": [0.4, 0.6]}
        told = []
        problem = problem_of({**POOL, "layout": layout})
        found = find_places(
            problem, CLUB, repetitions=200, progress=lambda share, _: told.append(share) or True
        )
        self.assertEqual((found[0].kind, found[0].ball, found[0].pocket), ("pot", "1", "foot_left"))
        self.assertGreater(found[0].expected.pot.rate, 0.95)
        self.assertGreater(found[0].both, 0.6)
        self.assertEqual(told, sorted(told))
        lies = {ball: tuple(place) for ball, place in layout.items()}
        for option in found:
            self.assertEqual(
                option.motion.start[list(option.motion.balls).index("cue"), :2].tolist(),
                list(option.cue_place),
            )
            away = [math.dist(option.cue_place, place) for place in lies.values()]
            self.assertGreater(min(away), 2 * problem.spec.ball_radius)
        self.assertEqual(find_places(problem, CLUB, progress=lambda *_: False), [])

    def test_at_snooker_it_is_put_into_the_d(self):
        data = {"game": "snooker", "table": {"preset": "snooker_12ft"}, "layout": {"black": [3.2, 0.9]}}
        problem = problem_of(data)
        spots = list(places(problem))
        self.assertGreater(len(spots), 20)
        for x, y in spots:
            self.assertLessEqual(x, 0.737 + 1e-9)
            self.assertLessEqual(math.dist((x, y), (0.737, problem.spec.width / 2)), 0.292 + 1e-9)

    def test_a_player_of_one_s_own(self):
        own = {"aim_spread_mrad": 0.4, "speed_spread": 0.02}
        report = options_report({**POOL, "layout": Figures.LAYOUT, "player": own}, 50, 1, None)
        self.assertEqual((report["player"]["from"], report["player"]["aim_spread_mrad"]), ("own", 0.4))
        report = options_report({**POOL, "layout": Figures.LAYOUT, "player": own}, 50, 1, "beginner")
        self.assertEqual(report["player"]["from"], "level")

    def test_the_search_can_be_stopped_late(self):
        shares = []

        def until_late(share, _options):
            shares.append(share)
            return share < 0.8

        problem = problem_of({**POOL, "layout": Figures.LAYOUT})
        find_options(problem, CLUB, repetitions=50, progress=until_late)
        self.assertEqual(sum(share >= 0.8 for share in shares), 1)
