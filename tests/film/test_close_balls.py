"""Balls that lie close to one another: which is which, where each lies, when the first was struck."""

import math
import unittest
from types import SimpleNamespace

import cv2
import numpy as np

from ripasso.core.table import table_spec
from ripasso.film.calibration.snap import outline_of
from ripasso.film.calibration.views import scaled
from ripasso.film.reading.book import Calm, ShotBook
from ripasso.film.reading.detection.colours import Look
from ripasso.film.reading.detection.discs import Discs, Seen
from ripasso.film.reading.detection.ground import Ground, area_of
from ripasso.film.reading.detection.nearby import pushed
from ripasso.film.reading.detection.picture import HALF
from ripasso.film.reading.detection.resting import find_resting
from ripasso.film.reading.detection.scene import Scene, State, Thing, View
from ripasso.film.reading.explaining import Found, crept_on
from ripasso.film.reading.identity.matching import matched
from ripasso.film.reading.motion.shots import Left, strike_of
from ripasso.film.reading.motion.tracks import Track
from ripasso.film.reading.motion.trajectories import Mover, ways, with_origins
from ripasso.film.reading.stirred import pushed_in_packs, stirred
from tests.film.test_meetings import GREEN, WHITE, run
from tests.film.test_view import camera

SPEC = table_spec({"preset": "pool_9ft"})
R = SPEC.ball_radius
SIZE = (720, 1280)
CLOTH, BALL, RED = (60, 105, 110), (245, 246, 240), (190, 30, 30)


class AtRest(unittest.TestCase):
    """A bare cloth on which balls are drawn, as a camera shows them."""

    def setUp(self):
        self.camera = camera()
        small = scaled(self.camera, HALF)
        self.discs = Discs(small, R, HALF)
        cloth = self.small(self.picture({}))
        self.ground = Ground([cloth] * 3, area_of(small, SPEC, cloth.shape[:2]), SPEC)

    def picture(self, balls):
        """A large picture (red, green, blue) with discs of colours at places, each before the last."""
        picture = np.full((*SIZE, 3), CLOTH, np.uint8)
        for place, colour in balls.items():
            outline = np.round(outline_of(self.camera, place, R, 90) * 16).astype(np.int32)
            cv2.fillPoly(picture, [outline], colour, cv2.LINE_AA, 4)
        return cv2.GaussianBlur(picture, (3, 3), 0.8)

    @staticmethod
    def small(picture):
        half = cv2.resize(picture, None, fx=HALF, fy=HALF, interpolation=cv2.INTER_AREA)
        light, red, blue = cv2.split(cv2.cvtColor(half, cv2.COLOR_RGB2YCrCb))
        return cv2.merge((light, blue, red))

    def found(self, picture, stirred=(), *, known=(), in_packs=()):
        other = self.ground.other(self.small(picture))
        return find_resting(picture, other, self.ground, self.discs, SPEC, known, stirred, in_packs)

    @staticmethod
    def pack():
        """Three rows of reds that touch nearly: the apex, then two, then three."""
        x, y, apart = 1.2, 0.6, 2.02 * R
        return [
            (x + row * 0.87 * apart, y + (i - row / 2) * apart) for row in range(3) for i in range(row + 1)
        ]

    def test_a_ball_pushed_a_little_within_its_pack_is_found(self):
        """Little of it is left beside the others: it is looked for where it lay, and nowhere else."""
        places = self.pack()
        was, rest = places[4], [*places[:4], places[5]]
        now = (was[0] + 0.6 * R, was[1])
        picture = self.picture(dict.fromkeys([*rest, now], RED))
        self.assertEqual(self.found(picture, known=rest), [])
        (found,) = self.found(picture, known=rest, in_packs=[was])
        self.assertLess(math.dist(found.place, now), 0.012)
        self.assertEqual(self.found(self.picture(dict.fromkeys(rest, RED)), known=rest, in_packs=[was]), [])

    def test_a_ball_pushed_by_less_than_is_seen_to_move_lies_where_its_outline_is(self):
        places = self.pack()
        was, rest = places[5], places[:5]
        now = (was[0], was[1] + 0.6 * R)
        picture = self.picture(dict.fromkeys([*rest, now], RED))
        found = pushed(picture, self.camera, {7: was}, rest, R)
        self.assertLess(math.dist(found[7], now), 0.005)
        close = (now[0], now[1] + 2.0 * R)  # with another ball as near nobody knows whose outline it is
        self.assertEqual(pushed(picture, self.camera, {7: was}, [*rest, close], R), {})

    def test_only_what_lies_beside_a_ball_of_its_pack_that_moved_is_looked_at(self):
        places = self.pack()
        now = (places[5][0], places[5][1] + 0.6 * R)
        picture = self.picture(dict.fromkeys([*places[:5], now], RED))
        things = [Thing(key, place=place) for key, place in enumerate(places)]
        viewpoint = SimpleNamespace(discs=self.discs)
        self.assertEqual(pushed_in_packs(things, things, picture, viewpoint), {})
        things[2].state = State.COVERED
        stay = [thing for thing in things if thing.state is State.SAME]
        self.assertEqual(stirred(things, stay, R), ([], [places[2]]))
        found = pushed_in_packs(things, stay, picture, viewpoint)
        self.assertEqual(set(found), {5})
        self.assertLess(math.dist(found[5], now), 0.005)

    def test_a_ball_with_a_deep_shadow_is_not_two(self):
        place = (1.2, 0.6)
        shadow = (place[0] + 1.2 * R, place[1])
        (one,) = self.found(self.picture({shadow: tuple(value // 5 for value in CLOTH), place: RED}))
        self.assertLess(math.dist(one.place, place), 0.005)
        beside = (place[0] + 2.02 * R, place[1])
        two = self.found(self.picture({place: RED, beside: RED}))
        self.assertEqual(len(two), 2)

    def test_another_ball_that_lies_near_is_not_the_one_that_was_stirred(self):
        """Where a ball lay another one lies 1.3 radii off now: it is found where it is, not between."""
        place = (1.2, 0.6)
        for turn in np.linspace(0, 2 * math.pi, 7):
            gone = (place[0] + 1.3 * R * math.cos(turn), place[1] + 1.3 * R * math.sin(turn))
            found = self.found(self.picture({place: BALL}), [gone])
            self.assertEqual(len(found), 1, turn)
            self.assertLess(math.dist(found[0].place, place), 0.004, turn)

    def test_two_balls_and_a_third_pushed_together_are_no_person(self):
        places = [(1.2, 0.6), (1.2 + 2.1 * R, 0.6)]
        scene, discs = Scene(self.ground, self.discs), self.discs
        before = self.small(self.picture(dict.fromkeys(places, (200, 40, 30))))
        for key, place in enumerate(places):
            scene.things.append(Thing(key))
            scene.things[-1].lies(discs, self.ground, before, place, 0.0)
        moved = {
            (1.2 + 0.5 * R, 0.6): BALL,
            (1.2 + 2.55 * R, 0.6): (30, 40, 200),
            (1.2 + 1.5 * R, 0.6 + 1.75 * R): (200, 40, 30),
        }
        view = scene.look(self.small(self.picture(moved)), 0.1)
        self.assertIsInstance(view, View)
        for thing in scene.things:
            self.assertIs(thing.state, State.COVERED)
            self.assertFalse(thing.behind_person)


class WhichBall(unittest.TestCase):
    def test_a_ball_pushed_a_little_is_it_rather_than_one_that_fell(self):
        """A striped ball shows another side: it looks a little more like the black that was potted."""
        seen, look = Seen((1.754, 0.052), 0.7), Look((19.0, 3.0, -21.0), 0.52)
        striped = Thing(3, place=(1.717, 0.099), looks=[Look((39.0, 42.0, -45.0), 0.55)])
        black = Thing(6, place=None, looks=[Look((14.0, 2.0, -12.0), 0.29)])
        self.assertEqual(matched([seen], [look], [striped, black], {}, SPEC), {0: striped})
        far = Thing(3, place=(0.6, 0.9), looks=striped.looks)
        self.assertEqual(matched([seen], [look], [far, black], {}, SPEC), {0: black})

    def test_what_runs_on_from_a_ball_s_place_in_another_colour_is_another_ball(self):
        """The white passes where the green lay; the green is seen only a little on."""
        came = Track(run(0.0, 8, (0.7, 0.6), (0.04, 0.0), WHITE), WHITE, None)
        white = Track(run(0.3, 20, (1.01, 0.61), (0.01, 0.03), WHITE), WHITE, 7)
        green = Track(run(0.27, 20, (1.06, 0.6), (0.05, 0.0), GREEN), GREEN, None)
        movers = [
            Mover(1, WHITE, (0.68, 0.6), 0.0, white.last.place, True),
            Mover(7, GREEN, (1.0, 0.6), 0.27, None, False),
        ]
        found = ways(movers, [came, white, green])
        self.assertEqual(found[1].last.place, white.last.place)
        self.assertEqual(found[7].last.place, green.last.place)

    def test_two_that_met_before_the_first_picture_of_their_ways(self):
        """The brown one lay 8 cm from the white, which was struck onto it; it was followed from the white's
        place. Where no other way is rather the white's, it stays the white's."""
        pale, brown = (108.0, 254.0, 254.0), (51.0, 252.0, 275.0)
        movers = [
            Mover(8, pale, (2.242, 1.051), 31.1, (0.4, 1.15), True),
            Mover(5, brown, (2.172, 1.004), 31.13, None, True),
        ]
        dark = Track(run(31.13, 40, (2.243, 1.065), (-0.025, -0.026), (40.0, 254.0, 284.0)), brown, 8)
        light = Track(run(31.23, 60, (2.117, 1.117), (-0.029, 0.0005), (131.0, 254.0, 248.0)), pale, None)
        found = ways(movers, [dark, light])
        self.assertEqual((found[5].last.place, found[8].last.place), (dark.last.place, light.last.place))
        self.assertEqual([one.origin for one in with_origins([dark], movers)], [8])
        # A stripe that turns its white to the camera is no white: the two as they were followed fit as well.
        stripe = [movers[0], Mover(5, (66.0, 255.0, 255.0), movers[1].place, 31.13, None, True)]
        turned = Track(run(31.13, 40, (2.172, 1.004), (-0.02, -0.02), (112.0, 262.0, 248.0)), pale, 5)
        self.assertEqual([one.origin for one in with_origins([turned, light], stripe)], [5, None])


class WhenStruck(unittest.TestCase):
    def test_a_strike_that_nobody_saw_was_shortly_before_the_first_contact(self):
        """The cue ball is hidden for 1.7 s, comes into sight slowly; a ball 12 cm off was seen to leave."""
        slow = run(11.97, 20, (2.5, 0.05), (0.0004, 0.0), WHITE)
        cue = Left(4, (2.21, 0.04), 9.8, 11.97, Track(slow, WHITE), (2.41, 0.06))
        met = Left(2, (2.32, 0.09), 11.47, 11.6, None, (2.35, 0.26))
        struck_s, sure = strike_of(cue, [met], 11.6)
        self.assertAlmostEqual(struck_s, 11.43, delta=0.1)
        self.assertGreater(sure, 0.8)
        # Without that contact it may have been at any time.
        _, unsure = strike_of(cue, [], 11.97)
        self.assertLess(unsure, 0.6)


class WhenAtRest(unittest.TestCase):
    def test_a_ball_that_creeps_on_lies_where_it_stops(self):
        book, place = ShotBook(SPEC), (2.236, 0.048)
        left = Left(7, (1.0, 0.5), 5.0, 5.03, None, place)
        calm = Calm(1, 7, 5.0, 6.3, {7: ((1.0, 0.5), 0.98)}, {7: (place, 0.98)}, frozenset())
        (shot,) = book.add(calm, [left], lambda _: False)
        thing = Thing(7, place=place)
        for seen, lies, rest_s in (
            ((2.237, 0.048), place, shot.t_rest),  # the same place, as near as it is seen
            ((2.6, 0.3), place, shot.t_rest),  # somebody put it elsewhere
            ((2.213, 0.035), (2.213, 0.035), 7.17),
        ):
            crept_on(book, [Found(Seen(seen, 0.9), None, thing)], R, 7.17)
            self.assertEqual((shot.after[7], shot.t_rest), (lies, rest_s))

    def test_a_ball_that_came_into_sight_in_the_shot_falls_behind_somebody(self):
        """Nobody knows where it lay before: its pocket is told from where it was seen."""
        book, place = ShotBook(SPEC), (2.4, 1.2)
        left = Left(7, (1.0, 0.5), 5.0, 5.03, None, (1.5, 0.5))
        after = {7: ((1.5, 0.5), 0.98), 3: (place, 0.6)}
        calm = Calm(1, 7, 5.0, 6.3, {7: ((1.0, 0.5), 0.98)}, after, frozenset({3}))
        (shot,) = book.add(calm, [left], lambda _: False)
        book.fell_behind(3, shot.t_rest - 0.1, place)
        self.assertEqual([(key, pocket) for key, pocket, _ in shot.potted], [(3, "foot_left")])


if __name__ == "__main__":
    unittest.main()
