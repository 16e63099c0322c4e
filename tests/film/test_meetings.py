"""Balls that meet, and balls that stand together: who went on which way, and which of them are none."""

import unittest

import numpy as np

from ripasso.core.table import table_spec
from ripasso.film.reading.detection.discs import Discs, Seen, drawn, likeness_of
from ripasso.film.reading.detection.pack import without_superfluous
from ripasso.film.reading.detection.resting import without_doubles
from ripasso.film.reading.detection.scene import Thing
from ripasso.film.reading.following import room_for
from ripasso.film.reading.identity.names import Named
from ripasso.film.reading.motion.meetings import set_right
from ripasso.film.reading.motion.tracks import Point, Track
from ripasso.film.reading.motion.trajectories import Mover, ways
from tests.film.test_rack_reading import SHAPE, camera

SPEC = table_spec({"preset": "pool_9ft"})
R = SPEC.ball_radius
WHITE, GREEN = (190.0, 256.0, 254.0), (110.0, 240.0, 236.0)
RATE = 30


def run(start_s, frames, place, step, colour):
    """Points of a ball that runs evenly."""
    return [
        Point(
            round((start_s + i / RATE) * RATE),
            start_s + i / RATE,
            (place[0] + i * step[0], place[1] + i * step[1]),
            1.0,
            colour,
        )
        for i in range(frames)
    ]


class Meetings(unittest.TestCase):
    """The white comes along x and meets a ball at rest at (1, 0.6); both run on from there."""

    def setUp(self):
        self.came = run(0.0, 15, (0.4, 0.6), (0.04, 0.0), WHITE)
        self.white = run(0.5, 20, (0.97, 0.58), (0.02, -0.02), WHITE)
        self.green = run(0.5, 20, (1.03, 0.61), (0.03, 0.01), GREEN)
        self.rests = {7: ((1.0, 0.6), GREEN)}

    def test_exchanged_ways_are_set_right(self):
        tracks = [Track([*self.came, *self.green], WHITE, 1), Track(self.white, WHITE, 7)]
        first, second = set_right(tracks, self.rests)
        self.assertEqual((first.origin, second.origin), (1, 7))
        self.assertEqual(first.points, [*self.came, *self.white])
        self.assertEqual(second.points, self.green)
        self.assertEqual(tracks[1].points, self.white, "what was given stays")

    def test_a_ball_that_nobody_saw_leave(self):
        tracks = [Track([*self.came, *self.green], WHITE, 1), Track(self.white, WHITE, None)]
        first, second = set_right(tracks, self.rests)
        self.assertEqual((first.last.place, second.last.place), (self.white[-1].place, self.green[-1].place))
        self.assertEqual(second.origin, 7)

    def test_right_ways_stay(self):
        tracks = [Track([*self.came, *self.white], WHITE, 1), Track(self.green, GREEN, 7)]
        self.assertEqual(set_right(tracks, self.rests), tracks)

    def test_two_balls_alike_say_nothing(self):
        for points in (self.white, self.green):
            alike = [Point(p.number, p.time_s, p.place, p.size, WHITE) for p in points]
            tracks = [Track([*self.came, *alike], WHITE, 1), Track(self.white, WHITE, 7)]
            self.assertEqual(set_right(tracks, {7: ((1.0, 0.6), WHITE)}), tracks)

    def test_far_from_one_another_nobody_meets(self):
        away = [
            Point(p.number, p.time_s, (p.place[0], p.place[1] + 0.5), p.size, p.colour) for p in self.white
        ]
        tracks = [Track([*self.came, *self.green], WHITE, 1), Track(away, WHITE, 7)]
        self.assertEqual(set_right(tracks, {7: ((1.0, 1.1), GREEN)}), tracks)

    def test_the_whole_ways_are_those_of_their_balls(self):
        tracks = [Track([*self.came, *self.green], WHITE, 1), Track(self.white, WHITE, 7)]
        movers = [
            Mover(1, WHITE, (0.37, 0.6), 0.0, self.white[-1].place, False),
            Mover(7, GREEN, (1.0, 0.6), 0.5, self.green[-1].place, False),
        ]
        found = ways(movers, tracks, SPEC)
        self.assertEqual(found[1].last.place, self.white[-1].place)
        self.assertEqual(found[7].last.place, self.green[-1].place)


class Packs(unittest.TestCase):
    def setUp(self):
        self.discs = Discs(camera(), R)
        x, y, step = 1.6, 0.6, 2.02 * R
        self.places = [
            (x, y),
            (x + step, y),
            (x + step / 2, y + 0.87 * step),
            (x - step / 2, y + 0.87 * step),
        ]

    def mask(self, places):
        """What would be seen of balls."""
        return drawn(SHAPE, self.discs, (0, 0), places)

    def test_what_is_seen_is_most_alike_where_it_is(self):
        mask = self.mask(self.places)
        here = likeness_of(mask, self.discs, (0, 0), self.places)
        self.assertAlmostEqual(here, 1.0)
        for dx, dy in ((0.3 * R, 0), (0, -0.3 * R)):
            moved = [(x + dx, y + dy) for x, y in self.places]
            self.assertLess(likeness_of(mask, self.discs, (0, 0), moved), 0.95)

    def test_a_ball_between_two_that_were_pushed_apart_is_none(self):
        pushed = [
            self.places[0],
            (self.places[1][0] + 0.4 * R, self.places[1][1] - 0.5 * R),
            *self.places[2:],
        ]
        between = (self.places[1][0] - 0.2 * R, self.places[1][1] + 0.9 * R)
        found = [*(Seen(p, 0.95) for p in pushed), Seen(between, 0.4)]
        kept = without_superfluous(self.mask(self.places), found, self.discs, (0, 0))
        self.assertEqual(len(kept), 4)
        off = [min(np.hypot(*np.subtract(seen.place, p)) for p in self.places) for seen in kept]
        self.assertLess(max(off), 0.5 * R)

    def test_faint_balls_that_are_there_stay(self):
        found = [Seen(p, 0.35) for p in self.places]
        kept = without_superfluous(self.mask(self.places), found, self.discs, (0, 0))
        self.assertEqual([seen.place for seen in kept], self.places)

    def test_one_ball_with_its_shadow_is_not_two(self):
        two = [Seen((1.0, 0.5), 0.9), Seen((1.0 + 1.9 * R, 0.5), 0.4), Seen((2.0, 0.5), 0.3)]
        self.assertEqual(without_doubles(two, 2, R), [two[0], two[2]])
        self.assertEqual(without_doubles(two, 3, R), two)
        apart = [two[0], Seen((1.0 + 5 * R, 0.5), 0.4)]
        self.assertEqual(without_doubles(apart, 1, R), apart, "nothing says which of them is none")

    def test_what_fell_makes_no_room_unless_it_comes_back(self):
        things = [Thing(key, place=(0.1 * key, 0.5) if key < 3 else None) for key in range(6)]
        called = {3: Named("4", 0.9), 4: Named("cue", 0.9), 5: Named("black", 0.9)}
        self.assertEqual(room_for(things, things[:2], 10, called), 10 - 2 - 1)
        self.assertEqual(room_for(things, [], 10, {}), 10)


if __name__ == "__main__":
    unittest.main()
