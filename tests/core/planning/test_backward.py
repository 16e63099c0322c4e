"""Racks worked out backwards: each part against the simulator itself, known answers, racks played out."""

import json
import math
import unittest
from dataclasses import replace

import numpy as np

from ripasso.core.physics.impacts import collide
from ripasso.core.physics.motion import arrays, simulate
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.repeating import ON_TABLE, played, repeat
from ripasso.core.physics.strokes import Stroke, with_least_elevation
from ripasso.core.planning.backward import flights
from ripasso.core.planning.backward.deciding import decisions
from ripasso.core.planning.backward.levels import SHADES, areas, zone_about
from ripasso.core.planning.backward.opening import opened
from ripasso.core.planning.backward.orders import AHEAD, order_of
from ripasso.core.planning.backward.plans import (
    best_place,
    half_interval,
    plan_in_order,
    plan_of,
    zone_share,
)
from ripasso.core.planning.backward.playing_out import play_out
from ripasso.core.planning.backward.setting import setting_of
from ripasso.core.planning.backward.solving import Stopped, interpolated, rack_of, solve
from ripasso.core.planning.backward.ways import FEW, many
from ripasso.core.planning.backward.windows import SPEEDS, window_of
from ripasso.core.planning.backward.working_out import known, what_decides, work_out
from ripasso.core.planning.clearing import RackFollower
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.table import POCKETS, snooker_spots, table_spec
from tests.core.planning import slow_maps

CLUB = spreads_of_level("club", snooker=False)
POOL = table_spec(None)


def problem(layout, game="nine_ball", group=None, spec=POOL):
    return Problem(game, spec, layout, balls_on(game, layout, group))


def worked(layout, game="nine_ball", group=None, spec=POOL, spreads=CLUB, coarse=True):
    own = problem(layout, game, group, spec)
    rack = rack_of(own, setting_of(own, spreads, coarse=coarse))
    solve(rack)
    return rack


class Parts(unittest.TestCase):
    """The compiled flights against the simulator that plays everything."""

    def setUp(self):
        self.setting = setting_of(problem({"1": (1.6, 0.8)}), CLUB)
        self.constants, self.bed = self.setting.constants, self.setting.bed

    def test_a_stroke_with_errors_starts_as_when_it_is_played(self):
        rng = np.random.default_rng(2)
        for _ in range(20):
            phi, speed = rng.uniform(-3, 3), rng.uniform(0.5, 4)
            a, b, up = rng.uniform(-0.4, 0.4), rng.uniform(-0.4, 0.4), rng.uniform(0, 0.2)
            stroke, normal = Stroke(phi, speed, a, b, up), rng.standard_normal((1, 4))
            wanted = played(stroke, CLUB, normal, self.setting.physics)[0]
            state = np.zeros(7)
            flights.start(state, phi, speed, a, b, up, normal[0] * self.setting.errors, self.constants)
            np.testing.assert_allclose(state[2:], wanted, atol=1e-12)

    def test_the_elevation_that_rails_and_balls_force(self):
        rng = np.random.default_rng(3)
        for _ in range(40):
            cue = (rng.uniform(0.03, 2.5), rng.uniform(0.03, 1.2))
            phi, b = rng.uniform(-3, 3), rng.uniform(-0.4, 0.4)
            ball = (cue[0] + rng.uniform(-0.4, 0.4), cue[1] + rng.uniform(-0.4, 0.4))
            if math.dist(cue, ball) < 0.06:
                continue
            wanted = with_least_elevation(Stroke(phi, 1.0, 0.0, b), POOL, {"cue": cue, "1": ball}).elevation
            own = max(
                flights.rail_elevation(*cue, phi, b, self.setting.shape, POOL.ball_radius),
                flights.ball_elevation(*cue, phi, b, np.array([ball]), self.setting.shape, POOL.ball_radius),
            )
            self.assertAlmostEqual(own, wanted, places=12)

    def test_a_lone_ball_runs_as_it_does_in_the_simulator(self):
        rng = np.random.default_rng(4)
        for _ in range(40):
            place = (rng.uniform(0.2, 2.3), rng.uniform(0.2, 1.0))
            stroke = Stroke(rng.uniform(-3, 3), rng.uniform(0.5, 4), rng.uniform(-0.3, 0.3), 0.1)
            motion = simulate({"cue": place}, stroke, self.bed, self.setting.physics)
            state = np.array([*place, *stroke.struck(self.setting.physics)])
            out, found = np.zeros(3), np.zeros(2, dtype=np.int64)
            none = np.zeros((0, 4))
            fate, _met = flights.lone(
                state, self.constants, arrays(self.bed), self.bed.contact_m, none, state, 0.0, out, found
            )
            self.assertEqual(fate, POCKETS.index(motion.pockets["cue"]) if motion.pockets else -1)
            if not motion.pockets:
                np.testing.assert_allclose(state[:2], motion.end[0, :2], atol=1e-9)

    def test_what_a_way_meets_and_who_is_met_again(self):
        out, found = np.zeros(3), np.zeros(2, dtype=np.int64)

        def run(y, rival, far):
            # A ball that runs along the middle of the table at a metre a second.
            state = np.array([0.5, 0.6, 1.0, 0.0, 0.0, 1.0 / POOL.ball_radius, 0.0])
            obstacles = np.array([[1.0, y, 2 * POOL.ball_radius, 4.0]])
            return flights.lone(
                state, self.constants, arrays(self.bed), self.bed.contact_m, obstacles, rival, far, out, found
            )

        still = np.zeros(7)
        self.assertEqual(run(0.65, still, 0.0), (-1, 4))
        self.assertEqual(run(0.70, still, 0.0), (-1, 0))
        # Another ball before it that is slower is met again, unless it is gone by then.
        slow = np.array([0.6, 0.6, 0.5, 0.0, 0.0, 0.5 / POOL.ball_radius, 0.0])
        self.assertEqual(run(0.70, slow.copy(), 2.0)[0], flights.KISSED)
        self.assertEqual(run(0.70, slow.copy(), 0.01)[0], -1)

    def test_the_contact_is_the_simulators(self):
        cue, ball = (0.7, 0.5), (1.6, 0.8)
        stroke = Stroke(math.atan2(0.32, 0.9), 2.0, 0.2, -0.2)
        motion = simulate({"cue": cue, "1": ball}, stroke, self.bed, self.setting.physics)
        impact = next(event for event in motion.events if event.kind == "ball_ball")
        one, two = np.array([*cue, *stroke.struck(self.setting.physics)]), np.array([*ball, *np.zeros(5)])
        self.assertTrue(flights.to_contact(one, np.array(ball), self.constants, np.zeros(3)))
        collide(one, two, self.constants)
        after = dict(zip(impact.balls, impact.after, strict=True))
        np.testing.assert_allclose(one, after["cue"], atol=1e-7)
        np.testing.assert_allclose(two, after["1"], atol=1e-7)

    def test_points_of_errors_have_mean_nought_and_variance_one(self):
        # The cubature of degree 3 holds these exactly.
        np.testing.assert_allclose(FEW.mean(axis=0), 0.0)
        np.testing.assert_allclose(FEW.T @ FEW / len(FEW), np.eye(4))
        np.testing.assert_allclose(many().mean(axis=0), 0.0, atol=1e-12)
        np.testing.assert_allclose(many().T @ many() / len(many()), np.eye(4), atol=1e-12)

    def test_a_window_holds_what_falls_and_narrows_with_pace(self):
        ball = (1.9, 0.9)
        window = window_of(self.setting, ball, POCKETS.index("foot_left"))
        widths = window.edges[:, 0, 1] - window.edges[:, 0, 0]
        self.assertLess(widths[-1], widths[3], "a hard ball needs more of the pocket")
        for speed, (low, high) in zip(SPEEDS[3:7], window.edges[3:7, 0], strict=True):
            for angle, falls in ((low + 0.002, True), (high - 0.002, True), (low - 0.01, False)):
                state = np.array([*ball, *np.zeros(5)])
                state[2:4] = speed * np.array([math.cos(window.base + angle), math.sin(window.base + angle)])
                starts = state[None, 2:]
                own = repeat({"cue": ball}, starts, self.bed, self.setting.physics, threads=1)
                self.assertEqual(own.potted("cue")[0] != ON_TABLE, falls, (speed, angle))
        self.assertLess(window.least, 0.6)
        # Along its own rail no ball goes into a side pocket.
        self.assertIsNone(window_of(self.setting, (0.5, 1.2413), POCKETS.index("side_left")))

    def test_along_a_rail_a_ball_falls_that_meets_it_far_before_the_pocket(self):
        """A ball 7 cm from the long rail, 1.5 m from its pocket."""
        place, pocket = (1.566, 1.197), "head_left"
        window = window_of(self.setting, place, POCKETS.index(pocket))
        low, high = window.edges[np.searchsorted(SPEEDS, 1.1), 0]
        for angle in (-0.09, -0.07, -0.03, 0.0, 0.04, 0.08):
            alone = simulate(
                {"cue": place}, Stroke(window.base + angle, 1.1, 0, 0), self.bed, self.setting.physics
            )
            with self.subTest(angle):
                self.assertEqual(alone.pockets.get("cue") == pocket, low < angle < high)


class Orders(unittest.TestCase):
    def test_fixed_and_free_orders(self):
        chain = order_of(problem({"cue": (1, 1), "3": (1, 0.5), "9": (2, 0.5), "7": (0.5, 0.5)}), [])
        self.assertEqual([chain.choices[s][0].ball for s in reversed(chain.backwards())], ["3", "7", "9"])
        group = {ball: (0.2 * int(ball), 0.6) for ball in ("1", "2", "3", "8", "9", "10")}
        free = order_of(problem(group, "eight_ball", "solids"), [])
        # Three balls in any order, then the 8; the stripes stand all the time.
        self.assertEqual(len(free.choices), 8)
        last = free.backwards()[0]
        self.assertEqual([one.ball for one in free.choices[last]], ["8"])
        self.assertEqual(set(free.standing(last)), {"8", "9", "10"})
        self.assertIsNone(free.horizon)

    def test_straight_pool_ends_with_a_break_ball_or_looks_ahead(self):
        few = {str(n): (0.15 * n, 0.4) for n in range(1, 6)}
        order = order_of(problem(few, "straight_pool"), list(few))
        ends = [one for some in order.choices.values() for one in some if one.then is None]
        self.assertTrue(all(one.through == order.rack_bit and one.least_pace > 1 for one in ends))
        every = {str(n): (0.15 * n, 0.4) for n in range(1, 15)}
        self.assertEqual(order_of(problem(every, "straight_pool"), list(every)).horizon, AHEAD)

    def test_snooker_takes_turns_and_then_the_colours(self):
        spec = table_spec({"preset": "snooker_12ft"})
        spots = dict(snooker_spots(spec))
        chain = order_of(problem(spots, "snooker", spec=spec), [])
        self.assertEqual(chain.choices[chain.start][0].ball, "yellow")
        self.assertEqual(len(chain.choices), 6)
        one = order_of(problem({"red1": (2.5, 0.5), **spots}, "snooker", spec=spec), ["red1"])
        self.assertIsNone(one.horizon)
        self.assertEqual([c.ball for c in one.choices[one.start]], ["red1"])
        after = one.choices[one.start][0].then
        self.assertEqual({c.ball for c in one.choices[after]}, set(spots))
        self.assertEqual(one.choices[one.choices[after][0].then][0].ball, "yellow")
        reds = {f"red{n}": (2.4 + 0.06 * n, 0.3 + 0.08 * n) for n in range(1, 9)}
        many_reds = order_of(problem({**reds, **spots}, "snooker", spec=spec), list(reds))
        self.assertEqual(many_reds.horizon, 6)

    def test_nothing_on_is_no_plan(self):
        with self.assertRaisesRegex(ValueError, "ball that is on"):
            order_of(Problem("nine_ball", POOL, {"cue": (1, 1)}, ()), [])


class Against(unittest.TestCase):
    """Maps against a plain slow method whose answers are kept (`slow_maps`)."""

    def test_small_racks(self):
        kept = json.loads(slow_maps.KEPT.read_text())
        self.assertEqual(len(kept), slow_maps.LAYOUTS)
        xs, ys = slow_maps.axes()
        grid = np.array([(x, y) for x in xs for y in ys])
        off = []
        for number in (2, 7):
            layout = {ball: tuple(place) for ball, place in kept[number]["layout"].items()}
            rack = worked(layout, coarse=False)
            state = rack.order.backwards()[0]
            own = interpolated(rack.maps[state].value, rack.net.xs, rack.net.ys, grid)
            slow = np.ravel(kept[number]["last"])
            # The slow method has places twice as far apart: single ones differ, not the mean.
            self.assertLess(abs(np.mean(own - slow)), 0.02)
            whole = np.array(kept[number]["whole"])
            mine = [decisions(rack, rack.order.start, (x, y)) for x, y, _ in whole]
            stated = np.array([one[0].value if one else 0.0 for one in mine])
            self.assertLess(abs(np.mean(stated - whole[:, 2])), 0.03)
            read = np.array([rack.value_at(rack.order.start, (x, y)) for x, y, _ in whole])
            off += list(read - stated)
        # The map against the simulator at places between its own.
        self.assertLess(abs(np.mean(off)), 0.06)


class Known(unittest.TestCase):
    """Answers that players know (common practice, no source)."""

    def test_the_last_ball_hangs(self):
        rack = worked({"cue": (1.5, 0.6), "9": (2.47, 1.2)})
        plan = plan_of(rack, (1.5, 0.6))
        self.assertEqual((plan.steps[0].ball, plan.steps[0].pocket), ("9", "foot_left"))
        self.assertGreater(plan.clear, 0.95)
        self.assertIsNone(plan.hardest)

    def test_the_ball_that_passes_only_once_another_is_gone(self):
        # The 2 lies in the mouth of the pocket that the 3 needs; nothing else is as easy for it.
        layout = {"cue": (1.6, 0.9), "3": (2.30, 1.05), "2": (2.47, 1.205), "8": (0.4, 0.4)}
        plan = plan_of(worked(layout, "eight_ball", "solids"), layout["cue"])
        self.assertLess(plan.order.index("2"), plan.order.index("3"))
        self.assertEqual(plan.order[-1], "8")

    def test_one_hard_link_is_named(self):
        # The 2 and the 9 hang; the 1 is two metres away and far from its pocket.
        layout = {"cue": (0.2, 0.2), "1": (1.75, 0.75), "2": (0.09, 1.2), "9": (0.08, 0.07)}
        plan = plan_of(worked(layout), layout["cue"])
        self.assertEqual(plan.hardest.ball, "1")
        self.assertLess(plan.clear, 0.7)

    def test_a_cluster_is_opened_on_the_way_or_stays(self):
        pair = {"2": (1.9, 0.62), "3": (1.957, 0.62)}
        apart = opened(problem({"1": (2.3, 0.9), **pair}))
        self.assertGreater(math.dist(apart.layout["2"], apart.layout["3"]), 0.25)
        self.assertIsNone(opened(problem({"1": (2.3, 0.9), "2": (1.2, 0.3)})))
        # The cue ball follows the 1 a little and drops onto the two.
        layout = {"cue": (1.55, 0.62), "1": (2.2, 1.15), "8": (0.2, 0.2), **pair}
        rack = worked(layout, "eight_ball", "solids")
        opens = [one for one in decisions(rack, rack.order.start, layout["cue"]) if one.choice.opens]
        self.assertEqual([one.ball for one in opens], ["1"])
        # With the two apart more is cleared from the best place than with them together.
        start = rack.order.start
        self.assertGreater(best_place(rack.opened, start)[1], best_place(rack, start)[1] + 0.1)

    def test_the_group_with_fewer_balls_in_trouble_wins(self):
        solids = {"1": (2.45, 1.18), "2": (0.1, 1.18), "3": (1.27, 0.1)}
        stripes = {"9": (0.8, 0.64), "10": (0.857, 0.64), "11": (2.51, 0.6)}
        layout = {"cue": (1.3, 0.7), "8": (0.12, 0.12), **solids, **stripes}
        chances = {
            group: best_place(rack, rack.order.start)[1]
            for group in ("solids", "stripes")
            for rack in [worked(layout, "eight_ball", group)]
        }
        self.assertGreater(chances["solids"], chances["stripes"] + 0.1)

    def test_a_break_ball_opens_the_next_rack(self):
        # Beside the rack, the cue ball free to come off it into the rack; the other ball far away.
        layout = {"cue": (0.9, 1.0), "1": (1.72, 0.93), "2": (0.3, 0.3)}
        plan = plan_of(worked(layout, "straight_pool"), layout["cue"])
        self.assertEqual(plan.order, ("2", "1"))
        self.assertGreaterEqual(plan.steps[-1].stroke.speed, 2.0)


class Plans(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.layout = {"cue": (0.7, 0.45), "7": (1.75, 0.85), "8": (0.9, 1.0), "9": (2.2, 0.3)}
        cls.rack = worked(cls.layout)
        cls.plan = plan_of(cls.rack, cls.layout["cue"])

    def test_steps_follow_each_other(self):
        self.assertEqual(self.plan.order, ("7", "8", "9"))
        for one, then in zip(self.plan.steps, self.plan.steps[1:], strict=False):
            self.assertEqual(one.rest, then.cue)
            self.assertLessEqual(one.value, one.chance + 1e-9)
        self.assertIsNone(self.plan.steps[-1].zone)
        self.assertAlmostEqual(self.plan.spread, half_interval(self.plan.clear))
        self.assertLess(half_interval(0.95), half_interval(0.5))

    def test_the_zone_holds_the_rest_and_is_worth_it(self):
        state = self.rack.order.choices[self.rack.order.start][0].then
        zone = zone_about(self.rack, state, self.plan.steps[0].rest)
        self.assertGreater(len(zone.corners), 5)
        corners = np.array(zone.corners)
        held = zone_share(self.rack, state, corners, self.plan.steps[0].rest)
        self.assertGreater(held, 0.7)
        self.assertLess(zone_share(self.rack, state, np.array([[2.5, 0.03]]), self.plan.steps[0].rest), held)
        shades = areas(self.rack, state)
        self.assertEqual([share for share, _ in shades], list(SHADES))
        self.assertTrue(all(lines for _, lines in shades))

    def test_another_order_is_worth_no_more(self):
        layout = {"cue": (0.7, 0.45), "1": (1.75, 0.85), "2": (0.9, 1.0), "8": (2.2, 0.3)}
        rack = worked(layout, "eight_ball", "solids")
        plan = plan_of(rack, layout["cue"])
        own = plan_in_order(rack, layout["cue"], plan.order)
        other = (plan.order[1], plan.order[0], plan.order[2])
        theirs = plan_in_order(rack, layout["cue"], other)
        self.assertLessEqual(theirs.clear, own.clear + 0.02)
        self.assertEqual(theirs.order, other)
        self.assertEqual(theirs.steps[0].value, theirs.clear)
        self.assertIsNone(plan_in_order(rack, layout["cue"], ("8", "1", "2")))

    def test_played_out_it_comes_to_what_was_stated(self):
        played_out = play_out(self.rack, self.layout["cue"], racks=60, seed=3)
        again = play_out(self.rack, self.layout["cue"], racks=60, seed=3)
        self.assertEqual(played_out, again)
        low, high = played_out.cleared.low, played_out.cleared.high
        self.assertTrue(low - 0.12 < self.plan.clear < high + 0.12, (self.plan.clear, played_out.cleared))

    def test_a_second_look_is_at_once_and_stopping_raises(self):
        own = problem({"cue": (0.7, 0.5), "9": (1.9, 0.9)})
        heard = []
        found = work_out(own, CLUB, lambda share, first: heard.append((share, first)) or True)
        self.assertIs(known(own, CLUB), found)
        self.assertIs(work_out(own, CLUB), found)
        first = next(one for _, one in heard if one is not None)
        self.assertFalse(first.fine)
        self.assertTrue(found.fine)
        self.assertIsNone(known(own, replace(CLUB, aim_mrad=3.0)))
        with self.assertRaises(Stopped):
            work_out(problem({"cue": (0.7, 0.4), "9": (1.9, 0.9)}), CLUB, lambda _share, _first: False)

    def test_the_spread_that_decides(self):
        # A long straight pot of the last ball: where the cue ball stops does not matter, the aim does.
        self.assertEqual(
            what_decides(problem({"cue": (0.3, 0.3), "9": (1.9, 0.95)}), CLUB, lambda: True), "aim"
        )
        easy = problem({"cue": (2.2, 0.9), "9": (2.47, 1.2)})
        self.assertIsNone(what_decides(easy, CLUB, lambda: True))


class Following(unittest.TestCase):
    def test_maps_serve_the_rack_as_long_as_the_balls_lie(self):
        layout = {"cue": (0.7, 0.45), "8": (1.75, 0.85), "9": (2.2, 0.3)}
        follower = RackFollower(CLUB)
        first = follower.chances(problem(layout), ("8", "foot_left"))
        self.assertGreaterEqual(first.best, first.chosen)
        kept = follower._rack
        last = follower.chances(problem({"cue": (1.9, 0.7), "9": (2.2, 0.3)}), None)
        self.assertIs(follower._rack, kept)
        self.assertGreater(last.best, 0.8)
        self.assertIsNone(last.chosen)
        follower.chances(problem({"cue": (1.9, 0.7), "9": (2.2, 0.5)}), ("9", "head_left"))
        self.assertIsNot(follower._rack, kept)
